// npm run test:fresh: makes a fresh Debian 12 with Node and git and nothing else, does in it exactly what
// docs/operating.md says, and ends with a domain that answers over HTTPS. The outside world is played by our stand-ins
// and an authority of Debian's package pebble.
import { chromium, type Page } from '@playwright/test'
import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { connect } from 'node:net'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { startPebble } from '../../scripts/pebble'
import { freePort } from '../../scripts/ports'
import { NAME_SERVERS, Outside } from '../system/outside'
import { FreshMachine } from './machine'
import { namedIn, readWalkThrough } from './page'

const print = (line: string) => process.stdout.write(line + '\n')
const HOST = 'rider.example'
const DESTINATION = 'https://www.portanseltransit.example/riders/survey'
/** This machine's own address, for which the page's stands. */
const OWN_ADDRESS = '127.0.0.1'
const BUILD_MS = 1_200_000

const zone = (more: string) => `$ORIGIN ${HOST}.
$TTL 1
@ IN SOA ns1 hostmaster ( 2026111801 7200 900 1209600 1 )
@ IN NS ns1
@ IN NS ns2
ns1 IN A ${NAME_SERVERS[0]}
ns2 IN A ${NAME_SERVERS[1]}
${more}`

const isTaken = (port: number) =>
  new Promise<boolean>((resolve) => {
    const socket = connect({ port, host: OWN_ADDRESS })
    socket.once('connect', () => (socket.destroy(), resolve(true)))
    socket.once('error', () => resolve(false))
  })

/** Carries the browser's steps out, with the names of fields and buttons as the page gives them. */
async function inBrowser(page: Page, steps: string[], address: string, place: (records: string) => void) {
  const [setUp, add, records, open, link] = steps.map(namedIn)
  const field = (name: string) => page.getByRole('textbox', { name, exact: true })
  const press = (name: string) => page.getByRole('button', { name, exact: true }).click()

  await page.goto(address)
  const given = ['Port Ansel Transit', 'Ada Admin', 'ada@portansel.example', 'tram lantern mussel quay']
  for (const [index, value] of given.entries()) await page.getByLabel(setUp![index]!, { exact: true }).fill(value)
  await press(setUp![4]!)
  print(`step 1: set up`)

  await page.getByRole('link', { name: add![0]! }).click()
  await press(add![1]!)
  await field(add![2]!).fill(HOST)
  await press(add![3]!)
  await press(add![4]!)
  await page.waitForURL(/\/domains\/\d+/)
  await page.getByRole('heading', { name: HOST }).waitFor()
  print('step 2: domain added')

  if (records![0] !== 'Records') throw new Error('step 3 names no page')
  const id = /\/domains\/(\d+)/.exec(page.url())![1]!
  const plan = (await (await page.request.get(new URL(`/api/v1/domains/${id}/plan`, page.url()).href)).json()) as {
    records: { name: string; type: string; data: string }[]
  }
  for (const { data } of plan.records) await page.getByText(data.slice(0, 24)).first().waitFor()
  place(plan.records.map(({ name, type, data }) => `${name}. IN ${type} ${data}`).join('\n') + '\n')
  print(`step 3: placed ${plan.records.map(({ type }) => type).join(' and ')}`)

  await page.getByRole('button', { name: open![0]!, exact: true }).click({ timeout: 120_000 })
  await page.getByText(`${HOST} is open`).first().waitFor()
  print('step 4: open')

  await page.getByRole('button', { name: link![0]! }).first().click()
  await field(link![1]!).fill(DESTINATION)
  await field(link![2]!).fill('survey')
  await press(link![3]!)
  await page.getByText(`${HOST}/survey`).first().waitFor()
  print('step 5: link created')
}

for (const port of [80, 443, 3000, 8080])
  if (await isTaken(port)) throw new Error(`Port ${port} is in use on this machine; the walk-through needs it.`)
const began = Date.now()
const { shell, browser: steps } = readWalkThrough()
const folder = mkdtempSync(join(tmpdir(), 'fides-walk-'))
const outside = await Outside.start()
outside.world.put(`${HOST}.`, zone(''))
const pebble = await startPebble({
  folder,
  port: await freePort(),
  managementPort: await freePort(),
  httpPort: 80,
  httpsPort: 443,
  resolver: `127.0.0.1:${outside.world.resolvers[0]!.port}`,
})
const machine = new FreshMachine()
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--no-first-run', '--disable-background-networking', '--disable-sync'],
})
let failed = false
try {
  machine.make(print)
  // The rehearsal's world, as the page's last paragraph has it: an authority, resolvers, and this machine's address.
  const world = outside.environment({ FIDES_GATEWAY_PORT: 8080 } as never)
  const authority = await pebble.issuer()
  machine.put('/etc/fides/authority.pem', readFileSync(pebble.rootFile, 'utf8'))
  machine.put('/usr/local/share/ca-certificates/rehearsal.crt', authority)
  machine.put('/etc/hosts', `${readFileSync('/etc/hosts', 'utf8')}\n${OWN_ADDRESS} ${HOST}\n`)
  const rehearsal = {
    FIDES_ACME_DIRECTORY: pebble.directory,
    FIDES_ACME_ROOT: '/etc/fides/authority.pem',
    FIDES_RESOLVERS: world.FIDES_RESOLVERS!,
    FIDES_DETOURS: world.FIDES_DETOURS!,
    FIDES_PRIVATE_NETWORKS: '127.0.0.0/8',
    FIDES_WATCH_SECONDS: '2',
    NODE_EXTRA_CA_CERTS: '/usr/local/share/ca-certificates/rehearsal.crt',
  }
  const release = '/release'
  print(`with ${(await machine.run('git --version; node --version')).trim().replace('\n', ' and node ')}`)
  const cloned = spawnSync('git', ['clone', '--quiet', '--no-hardlinks', resolve('.'), join(machine.root, release)])
  if (cloned.status !== 0) throw new Error('this repository could not be cloned')

  await machine.run(`set -e; git config --global --add safe.directory '*'; ${shell[0]!}`, { RELEASE: release })
  const environment = readFileSync(join(machine.root, 'etc/fides/environment'), 'utf8')
  machine.put(
    '/etc/fides/environment',
    environment.replace('198.51.100.80', OWN_ADDRESS) +
      Object.entries(rehearsal)
        .map(([name, value]) => `${name}='${value}'\n`)
        .join(''),
  )
  print('cloned; starting')
  const server = machine.shell(shell[1]!)
  let told = ''
  const address = await new Promise<string>((resolve, reject) => {
    const give = setTimeout(() => reject(new Error(`no set-up address was printed:\n${told.slice(-2000)}`)), BUILD_MS)
    const hear = (piece: Buffer) => {
      told += piece.toString()
      const found = /https?:\/\/[^\s"]+\/set-up\?ticket=[^\s"]+/.exec(told)
      if (!found) return
      clearTimeout(give)
      resolve(found[0])
    }
    server.stdout!.on('data', hear)
    server.stderr!.on('data', hear)
    server.once('exit', () => reject(new Error(`it ended by itself:\n${told.slice(-2000)}`)))
  })
  print(`started after ${Math.round((Date.now() - began) / 1000)} s`)
  const page = await browser.newPage()
  page.setDefaultTimeout(30_000)
  await inBrowser(page, steps, address, (records) => outside.world.put(`${HOST}.`, zone(records)))
  // The page's last block, by a shell of the same machine; curl and trust in the authority are the rehearsal's.
  await machine.run('apt-get install -y -qq --no-install-recommends curl && update-ca-certificates', {
    DEBIAN_FRONTEND: 'noninteractive',
  })
  const answer = await machine.run(shell[2]!)
  print(answer.trim())
  if (!answer.includes(`location: ${DESTINATION}`)) throw new Error('the domain does not answer over HTTPS')
} catch (error) {
  failed = true
  print(`failed: ${(error as Error).message}`)
} finally {
  await browser.close()
  await machine.stop()
  await pebble.stop()
  await outside.stop()
  rmSync(folder, { recursive: true, force: true })
}
print(`took ${Math.round((Date.now() - began) / 1000)} s`)
print(failed ? '0 passed, 1 failed' : '1 passed, 0 failed')
process.exit(failed ? 1 : 0)
