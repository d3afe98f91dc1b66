import { readFileSync } from 'node:fs'
import { parser } from '@prometheus-io/lezer-promql'
import { describe, expect, it } from 'vitest'
import { parse } from 'yaml'

interface Rule {
  alert: string
  expr: string
  for?: string
  labels: { severity: string }
  annotations: { summary: string }
}
// The form of a rules file: Prometheus, "Defining alerting rules" (prometheus.io/docs), from memory. The expressions
// are read by Prometheus's own grammar of PromQL (@prometheus-io/lezer-promql).
const { groups } = parse(readFileSync('deploy/prometheus/alerts.yml', 'utf8')) as {
  groups: { name: string; rules: Rule[] }[]
}
const rules = groups.flatMap((group) => group.rules)
const documented = new Set(readFileSync('docs/metrics.md', 'utf8').match(/\bfides_[a-z_]+/g))

/** The metrics an expression names, and where it is not PromQL. */
function read(expression: string): { metrics: string[]; errors: string[] } {
  const metrics: string[] = []
  const errors: string[] = []
  parser.parse(expression).iterate({
    enter(node) {
      if (node.type.isError) errors.push(`${node.from}: ${expression.slice(node.from, node.to + 10)}`)
      if (node.name === 'Identifier' && expression.slice(node.from, node.to).startsWith('fides_'))
        metrics.push(expression.slice(node.from, node.to))
    },
  })
  return { metrics, errors }
}

describe('the alert rules', () => {
  it.each(rules.map((rule) => [rule.alert, rule] as const))('%s is a rule about metrics there are', (_, rule) => {
    expect(read(rule.expr).errors).toEqual([])
    expect(read(rule.expr).metrics.length).toBeGreaterThan(0)
    for (const metric of read(rule.expr).metrics)
      expect(documented.has(metric) || documented.has(metric.replace(/_bucket$/, '')), metric).toBe(true)
    expect(rule.for ?? '1m').toMatch(/^\d+[smhd]$/)
    expect(['page', 'ticket']).toContain(rule.labels.severity)
    expect(rule.annotations.summary).toMatch(/\.$/)
  })
  it('have names of their own', () => expect(new Set(rules.map(({ alert }) => alert)).size).toBe(rules.length))
  it('would be refused where they are not PromQL', () => {
    expect(read('sum(rate(fides_desk_requests_total[10m])').errors).not.toEqual([])
    expect(read('fides_cases_open >').errors).not.toEqual([])
  })
})
