import { COSTS, fillSubstitutions } from '../core/misses/costs'
import { FIT } from '../core/misses/calibration'
import { NONE } from '../core/misses/none'
import { LinkIndex, rank } from '../core/misses'
import { seeded } from '../server/database/seed/chance'
import { demoRegister, mistypings } from '../tests/reference/misses/demo-register'
import { spellingList } from '../tests/reference/misses/spelling-list'
import { strangePaths } from '../tests/reference/misses/strange-paths'

const print = (line: string) => process.stdout.write(line + '\n')

// Fits the ranking's figures by coordinate descent on the mean logarithmic loss, then the curve that calibrates them.
// Its slips and strange paths come from another seed than those of any test. Prints what it found.

const TUNING_SEED = 20261
const register = demoRegister()
const slips = mistypings(register, 1500, TUNING_SEED)
const strange = strangePaths(seeded(TUNING_SEED), 500, 'tuning')
const [apex] = register.hostIds.values()
const MIN_CHANCE = 1e-4

// Real misspellings beside the invented slips, of words no test has.
const random = seeded(TUNING_SEED)
const list = spellingList('tuning').sort(() => random() - 0.5)
const words = [...new Set(list.map(({ meant }) => meant))].slice(0, 6000)
const wordIds = new Map(words.map((word, at) => [word, at + 1]))
const spelt = list.filter(({ typed, meant }) => wordIds.has(meant) && !wordIds.has(typed)).slice(0, 2500)
const wordIndex = LinkIndex.of(
  words.map((canonical, at) => ({
    id: at + 1,
    leader: at + 1,
    domainId: 1,
    canonical,
    visits: 10,
    live: true,
    shown: true,
  })),
)

/** The mean logarithmic loss of all probabilities given. */
function loss(): number {
  fillSubstitutions()
  let sum = 0
  for (const miss of slips) {
    const { candidates } = rank(register.index, { domainId: register.hostIds.get(miss.host)!, path: miss.path })
    sum -= Math.log(Math.max(MIN_CHANCE, candidates.find(({ link }) => link === miss.meant)?.probability ?? 0))
  }
  for (const path of strange)
    sum -= Math.log(Math.max(MIN_CHANCE, rank(register.index, { domainId: apex!, path }).none))
  for (const { typed, meant } of spelt) {
    const { candidates } = rank(wordIndex, { domainId: 1, path: typed })
    sum -= Math.log(Math.max(MIN_CHANCE, candidates.find(({ link }) => link === wordIds.get(meant))?.probability ?? 0))
  }
  return sum / (slips.length + strange.length + spelt.length)
}

const groups: Record<string, number>[] = [COSTS, NONE, FIT]
let best = loss()
print(`start ${best.toFixed(4)}`)
for (let round = 0, step = Number(process.argv[3] ?? 0.2); round < Number(process.argv[2] ?? 3); round++, step /= 2) {
  for (const group of groups) {
    for (const name of Object.keys(group)) {
      if (name === 'intercept' || name === 'slope') continue
      const was = group[name]!
      for (const factor of [1 + step, 1 - step]) {
        group[name] = was * factor
        const now = loss()
        if (now < best - 1e-5) {
          best = now
          break
        }
        group[name] = was
      }
    }
  }
  print(`round ${round + 1}: ${best.toFixed(4)}`)
}

// The curve: logistic regression of whether the first was meant on the logit of its share (Platt 1999).
FIT.slope = 1
FIT.intercept = 0
const points = slips.map((miss) => {
  const [first] = rank(register.index, { domainId: register.hostIds.get(miss.host)!, path: miss.path }).candidates
  const share = Math.min(1 - 1e-9, Math.max(1e-9, first?.probability ?? 0))
  return { x: Math.log(share / (1 - share)), y: Number(first?.link === miss.meant) }
})
for (const path of strange) {
  const [first] = rank(register.index, { domainId: apex!, path }).candidates
  const share = Math.min(1 - 1e-9, Math.max(1e-9, first?.probability ?? 0))
  points.push({ x: Math.log(share / (1 - share)), y: 0 })
}
for (let turn = 0; turn < 20_000; turn++) {
  let [slope, intercept] = [0, 0]
  for (const { x, y } of points) {
    const error = y - 1 / (1 + Math.exp(-(FIT.slope * x + FIT.intercept)))
    slope += error * x
    intercept += error
  }
  FIT.slope += (0.02 * slope) / points.length
  FIT.intercept += (0.02 * intercept) / points.length
}
const rounded = (group: object) =>
  Object.fromEntries(Object.entries(group).map(([name, value]) => [name, Math.round(value * 1000) / 1000]))
print(JSON.stringify({ COSTS: rounded(COSTS), NONE: rounded(NONE), FIT: rounded(FIT) }, null, 2))
