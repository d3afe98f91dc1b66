import { UniqueConstraintError } from 'sequelize'
import { describe, expect, it } from 'vitest'
import { faultForLog, faultInWords, makeLog } from '../../../environment/log'

function written(form: 'json' | 'readable', write: (log: ReturnType<typeof makeLog>) => void): string {
  let text = ''
  write(makeLog('worker', form, { write: (line: string) => void (text += line) }))
  return text
}

/** What the driver throws for a member's address that is there already, and Sequelize makes of it. */
function takenAddress(): Error {
  const original = Object.assign(new Error("Duplicate entry 'ines@portansel.example' for key 'email'"), {
    code: 'ER_DUP_ENTRY',
    errno: 1062,
    sqlState: '23000',
    sql: "INSERT INTO member (email) VALUES ('ines@portansel.example')",
    parameters: ['ines@portansel.example'],
  })
  return new UniqueConstraintError({ parent: original, fields: { email: 'ines@portansel.example' } })
}

describe('the log', () => {
  it('is one JSON object a line, with level, time, process and sentence', () => {
    const lines = written('json', (log) => {
      log.info('ready')
      log.warn('two\nlines')
    }).split('\n')
    expect(lines.pop()).toBe('')
    expect(lines.map((line) => JSON.parse(line) as object)).toEqual([
      { level: 'info', time: expect.stringMatching(/^\d{4}-.*Z$/), process: 'worker', msg: 'ready' },
      { level: 'warn', time: expect.any(String), process: 'worker', msg: 'two\nlines' },
    ])
  })

  it('is a sentence after the process’s name where people read it', () => {
    expect(written('readable', (log) => log.info('ready'))).toBe('worker: ready\n')
  })

  it.each(['json', 'readable'] as const)('holds no value of a statement and no address of a person (%s)', (form) => {
    const socket = Object.assign(new Error('connect ECONNREFUSED 192.0.2.7:3306'), {
      code: 'ECONNREFUSED',
      syscall: 'connect',
    })
    const text = written(form, (log) => {
      log.error(takenAddress(), 'Something failed')
      log.error(socket, 'no answer')
    })
    expect(text).toContain('ER_DUP_ENTRY')
    expect(text).toContain('ECONNREFUSED')
    expect(text).not.toMatch(/portansel|192\.0\.2|INSERT|parameters/)
  })

  it('keeps what an error of our own says, and where it came from', () => {
    const told = faultForLog(new TypeError('x is not a function'))
    expect(told).toMatchObject({ type: 'TypeError', message: 'x is not a function' })
    expect((told.where as string[])[0]).toContain('log.test.ts')
    expect(faultInWords(takenAddress())).toBe('ER_DUP_ENTRY')
    expect(faultInWords(new Error('first\nsecond'))).toBe('first')
    expect(faultInWords('thrown text')).toBe('something that is no error was thrown')
  })
})
