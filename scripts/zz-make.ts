import { gzipSync } from 'node:zlib'
import type { Database } from '../server/database/open'
const ofOneShape = (stop: number) => `/brought/stop/${stop},https://live.portansel.example/s/${stop},302,`
const pageOf = (page: number) =>
  `/brought/page-${page.toString(36)}-${page % 89},https://www.portansel.example/p/${(page * 7919) % 99_991},301,` + `Page ${page}`
function tableOf(rows: number): Buffer {
  const lines = ['address,destination,status,title']
  for (let index = 0; index < rows; index++) lines.push(index % 3 === 0 ? ofOneShape(10_000 + index) : pageOf(index))
  return Buffer.from(lines.join('\n'))
}
export { tableOf }
void gzipSync
import { keepSource } from '../server/usecases/exchange/sources'
export async function createIntakeForTest(db: Database, { name, domain, format, context, base }: any) {
  const now = new Date()
  const intake = await db.Intake.create({ state: 'reading', memberId: null, actor: 'B', role: 'administrator', name, options: { domain, format, context, base, everyHost: false, tags: [] }, madeAt: now, seenAt: now })
  await keepSource(db, intake.id, tableOf(100_000))
  return intake
}
