import { readFileSync } from 'node:fs'
import { join } from 'node:path'

/** What docs/operating.md has somebody do on a fresh machine. */
export interface WalkThrough {
  /** What is typed into a shell, block by block. */
  shell: string[]
  /** What is done in a browser, step by step, as the page says it. */
  browser: string[]
}

/** Reads the walk-through from the page. */
export function readWalkThrough(): WalkThrough {
  const page = readFileSync(join(import.meta.dirname, '../../docs/operating.md'), 'utf8')
  const section = /^## Installation: first domain over HTTPS\n([\s\S]*?)^## /m.exec(page)?.[1]
  if (section === undefined) throw new Error('docs/operating.md has no walk-through')
  return {
    shell: [...section.matchAll(/^```sh\n([\s\S]*?)^```$/gm)].map(([, block]) => block!),
    browser: [...section.matchAll(/^\d\. (.*)$/gm)].map(([, step]) => step!),
  }
}

/** The names of fields and buttons a step names, in their order. */
export const namedIn = (step: string): string[] => [...step.matchAll(/\*([^*]+)\*/g)].map(([, name]) => name!)
