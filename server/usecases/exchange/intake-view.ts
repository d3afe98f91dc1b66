import { QueryTypes } from 'sequelize'
import { findFormat } from '../../../core/formats'
import { showHost } from '../../../core/address'
import type {
  Intake,
  IntakeCounts,
  IntakeDecision,
  IntakeKind,
  IntakeRow,
  IntakeRowsPatch,
  IntakeRowsQuery,
} from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { IntakeModel } from '../../database/models/intake'
import { NO_CHECKS, tallyChecks, type Checked } from '../changes/proposal-view'
import { notFound, Problem } from '../problem'
import { listClashCauses } from './clash-causes'
import { expectedOf, importJobs } from './import-jobs'
import { choicesOf, IS_RULE } from './intake-choices'

const NO_COUNTS: IntakeCounts = {
  new: 0,
  rule: 0,
  same: 0,
  clash: 0,
  refused: 0,
  bring: 0,
  rules: 0,
  replace: 0,
  undecided: 0,
  inRules: 0,
  checkFailed: 0,
}

/** An intake as a list tells it: without its rows counted. */
export const toListedIntake = (row: IntakeModel): Intake => ({
  id: row.id,
  state: row.state,
  name: row.name,
  format: row.format!,
  formatName: findFormat(row.format!)?.name ?? '',
  readAs: row.readAs!,
  lines: row.lineCount!,
  options: row.options,
  sample: row.about?.sample ?? [],
  columns: row.about?.columns ?? {},
  reason: row.reason!,
  actor: row.actor,
  step: row.state === 'reading' ? row.step! : '',
  total: row.total!,
  done: row.done!,
  counts: NO_COUNTS,
  families: [],
  causes: [],
  remarks: row.about?.remarks ?? [],
  checks: NO_CHECKS,
  problem: row.problem!,
  entry: row.entryId ?? null,
  permanent: row.about?.permanent ?? 0,
  follows: row.about?.follows ?? null,
  madeAt: row.madeAt.toISOString(),
  endedAt: row.endedAt?.toISOString() ?? null,
  version: row.version!,
})

/** The numbers of families that are taken in place of their links. */
export const takenFamilies = ({ about }: IntakeModel): number[] =>
  (about?.families ?? []).flatMap(({ taken }, number) => (taken ? [number] : []))

/** An intake as the API tells it: with its rows counted, and how far its checks are. */
export async function toIntakeView(db: Database, id: number): Promise<Intake> {
  const row = await db.Intake.findByPk(id)
  if (!row) throw notFound('file')
  const listed = toListedIntake(row)
  const hosts = new Map(
    (await db.Domain.findAll({ attributes: ['id', 'host'] })).map((domain) => [domain.id, domain.host]),
  )
  const families = (row.about?.families ?? []).map((family, number) => ({
    number,
    domain: showHost(hosts.get(family.domainId) ?? ''),
    pattern: family.pattern,
    destination: family.destination,
    status: family.status,
    links: family.links,
    exceptions: family.exceptions,
    takes: family.takes,
    beyond: family.beyond,
    taken: family.taken,
  }))
  if (row.state === 'reading' || row.state === 'withdrawn') return { ...listed, families }
  const [counts, checks, causes] = await Promise.all([
    countIntake(db, row),
    readChecks(db, id),
    row.state === 'ready' ? listClashCauses(db, id) : [],
  ])
  return { ...listed, families, counts, checks, causes }
}

/** How many rows of each kind an intake has, and what would be done. */
export async function countIntake(db: Database, intake: IntakeModel): Promise<IntakeCounts> {
  const taken = takenFamilies(intake)
  const rows = await db.sequelize.query<{
    kind: IntakeKind
    decision: IntakeDecision | null
    is_rule: number
    fixed: number
    in_rule: number
    failed: number
    how_many: number
  }>(
    `SELECT r.kind, r.decision, r.state IS NULL AS fixed,
       ${IS_RULE} AS is_rule, COALESCE(r.family IN (:taken), FALSE) AS in_rule,
       COALESCE(t.confidence IN ('doubtful', 'broken'), FALSE) AS failed, COUNT(*) AS how_many
     FROM intake_row r LEFT JOIN target t ON t.hash = r.hash WHERE r.intake_id = :id
     GROUP BY r.kind, r.decision, fixed, is_rule, in_rule, failed`,
    { replacements: { id: intake.id, taken: [...taken, -1] }, type: QueryTypes.SELECT },
  )
  const sum = (fits: (row: (typeof rows)[number]) => boolean) =>
    rows.filter(fits).reduce((total, { how_many }) => total + Number(how_many), 0)
  const of = (kind: IntakeKind) => sum((row) => row.kind === kind)
  const brings = ({ decision }: { decision: IntakeDecision | null }) => decision === 'bring' || decision === 'paused'
  return {
    new: of('new'),
    rule: of('rule'),
    same: of('same'),
    clash: of('clash'),
    refused: of('refused'),
    bring: sum((row) => brings(row) && !Number(row.is_rule) && !Number(row.in_rule) && !Number(row.fixed)),
    rules: sum((row) => brings(row) && Number(row.is_rule) === 1) + taken.length,
    replace: sum(({ decision }) => decision === 'replace'),
    undecided: sum(({ kind, decision, fixed }) => kind === 'clash' && decision === null && !Number(fixed)),
    inRules: sum(({ decision, in_rule }) => decision === 'bring' && Number(in_rule) === 1),
    checkFailed: sum((row) => Number(row.failed) === 1 && (brings(row) || row.decision === 'replace')),
  }
}

const readChecks = async (db: Database, id: number): Promise<Intake['checks']> =>
  tallyChecks(
    await db.sequelize.query<Checked>(
      `SELECT t.confidence, COUNT(DISTINCT t.id) AS targets FROM intake_row r JOIN target t ON t.hash = r.hash
       WHERE r.intake_id = ? GROUP BY t.confidence`,
      { replacements: [id], type: QueryTypes.SELECT },
    ),
  )

const FAILED = "t.confidence IN ('doubtful', 'broken')"
const UNDECIDED = "r.kind = 'clash' AND r.decision IS NULL AND r.state IS NOT NULL"

const filterSql = (kind: NonNullable<IntakeRowsQuery['kind']>): string =>
  kind === 'undecided'
    ? UNDECIDED
    : kind === 'in-rules'
      ? 'r.family IN (:taken)'
      : kind === 'differs'
        ? "r.kind <> 'same'"
        : kind === 'check-failed'
          ? FAILED
          : 'r.kind = :kind'

interface RawRow {
  position: number
  file: string
  line: number
  column_at: number
  kind: IntakeKind
  code: string
  cause: string
  decision: IntakeDecision | null
  address: string
  destination: string | null
  status: number | null
  has_state: number
  is_rule: number
  link_id: number | null
  link_version: number | null
  family: number | null
  source: string
  why: string
  would: string
  confidence: 'sound' | 'doubtful' | 'broken' | null
  sentence: string | null
}

const ROW_COLUMNS = `r.position, r.file, r.line, r.column_at, r.kind, r.code, r.cause, r.decision, r.address,
  r.destination, r.status, r.state IS NOT NULL AS has_state, ${IS_RULE} AS is_rule, r.link_id, r.link_version,
  r.family, r.source, r.why, r.would`

/** One page of an intake’s rows, in their order. */
export async function listIntakeRows(
  db: Database,
  id: number,
  query: IntakeRowsQuery,
): Promise<{ items: IntakeRow[]; next: string | null }> {
  const intake = await db.Intake.findByPk(id)
  if (!intake) throw notFound('file')
  const rows = await db.sequelize.query<RawRow>(
    `SELECT ${ROW_COLUMNS}, t.confidence, t.sentence FROM intake_row r LEFT JOIN target t ON t.hash = r.hash
     WHERE r.intake_id = :id AND r.position > :after ${query.kind ? `AND ${filterSql(query.kind)}` : ''}
     ORDER BY r.position LIMIT :limit`,
    {
      replacements: {
        id,
        after: Number(query.cursor ?? 0),
        limit: query.limit + 1,
        kind: query.kind ?? '',
        taken: [...takenFamilies(intake), -1],
      },
      type: QueryTypes.SELECT,
    },
  )
  const page = rows.slice(0, query.limit)
  return {
    items: page.map((row) => ({
      position: Number(row.position),
      file: row.file,
      line: Number(row.line),
      column: Number(row.column_at),
      kind: row.kind,
      code: row.code,
      cause: row.cause,
      decision: row.decision,
      choices: choicesOf(row),
      address: row.address,
      destination: row.destination,
      status: row.status,
      source: row.source,
      why: row.why,
      would: row.would,
      link: row.link_id === null ? null : Number(row.link_id),
      family: row.family === null ? null : Number(row.family),
      check: row.confidence === null ? null : { confidence: row.confidence, sentence: row.sentence ?? '' },
    })),
    next: rows.length > query.limit ? String(page.at(-1)!.position) : null,
  }
}

/** Decides of rows, as far as that may be decided of each. */
export async function decideIntakeRows(db: Database, id: number, patch: IntakeRowsPatch): Promise<Intake> {
  const intake = await db.Intake.findByPk(id)
  if (!intake) throw notFound('file')
  if (intake.state !== 'ready') throw new Problem(409, 'Not open', 'Rows can be decided only while the file is open.')
  const which = patch.positions
    ? 'position IN (:positions)'
    : patch.kind
      ? 'kind = :kind'
      : `code = :code${patch.cause === undefined ? '' : " AND cause = :cause AND kind = 'clash'"}`
  const fits =
    patch.decision === 'replace'
      ? 'link_version IS NOT NULL'
      : patch.decision === 'bring'
        ? 'link_version IS NULL'
        : patch.decision === 'paused'
          ? "link_version IS NULL AND NOT JSON_EXISTS(state, '$.pattern')"
          : patch.decision === null
            ? "kind = 'clash'"
            : 'TRUE'
  await db.sequelize.transaction(async (transaction) => {
    // First the job's row: whoever applies or reads it again sees the rows before or after, never in between.
    if (!(await importJobs(db).move(expectedOf(intake), { to: 'ready' }, transaction)))
      throw new Problem(409, 'Changed since', 'The file was changed since it was read; load it again.')
    await db.sequelize.query(
      `UPDATE intake_row SET decision = :decision
     WHERE intake_id = :id AND kind IN ('new', 'rule', 'clash') AND state IS NOT NULL AND ${which} AND ${fits}`,
      {
        replacements: {
          id,
          decision: patch.decision,
          positions: [...(patch.positions ?? []), 0],
          code: patch.code ?? '',
          cause: patch.cause ?? '',
          kind: patch.kind ?? '',
        },
        transaction,
      },
    )
  })
  return toIntakeView(db, id)
}
