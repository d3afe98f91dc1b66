// The crowd as a process: visits the demo's gateway over real HTTP for as long as it runs.
import { readFileSync } from 'node:fs'
import { Crowd, type Poster } from './crowd'
import { crowdAgent, sendRequest } from './send'

const port = Number(process.env.FIDES_GATEWAY_PORT ?? 8080)
const perMinute = Number(process.env.FIDES_CROWD_PER_MINUTE ?? 20)
const posters = JSON.parse(readFileSync(process.env.FIDES_CROWD_POSTERS!, 'utf8')) as Poster[]

const crowd = new Crowd(posters, Math.random)
const agent = crowdAgent()
let stopping = false
for (const signal of ['SIGTERM', 'SIGINT'] as const) {
  process.on(signal, () => {
    stopping = true
    agent.destroy()
    process.exit(0)
  })
}
process.stdout.write(`crowd: about ${perMinute} visits a minute\n`)
while (!stopping) {
  await sendRequest(agent, port, crowd.request(Date.now(), 0)).catch(() => undefined)
  await new Promise((resolve) => setTimeout(resolve, (60_000 / perMinute) * (0.5 + Math.random())))
}
