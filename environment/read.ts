import type { z } from 'zod'

/**
 * Reads a process's environment against a schema. A bad or missing value stops the process with one clear line
 * that names each variable; nothing has been started by then.
 */
export function readEnvironment<Schema extends z.ZodObject>(
  schema: Schema,
  environment = process.env,
): z.infer<Schema> {
  const result = schema.safeParse(environment)
  if (result.success) return result.data
  const faults = result.error.issues.map((issue) => `${issue.path.join('.')}: ${issue.message}`)
  process.stderr.write(`Fides cannot start. ${faults.join('; ')}\n`)
  process.exit(78) // EX_CONFIG of sysexits.h
}
