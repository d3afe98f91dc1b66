import { z } from 'zod'
import * as schema from '../../../core/schemas'
import { operation } from '../operation'
import { list } from './shapes'

/** Operations of slug rules and rules, by name. */
export const rules = {
  readSlugRules: operation({
    method: 'GET',
    path: '/domains/{id}/slug-rules',
    summary: 'A domain’s slug rules, and how much room they leave.',
    role: 'viewer',
    answer: schema.slugRulesView,
    status: 200,
  }),
  changeSlugRules: operation({
    method: 'PUT',
    path: '/domains/{id}/slug-rules',
    summary:
      'Change slug rules together with what becomes of links they do not fit; with dryRun=1, tell what ' +
      'they would break and merge.',
    role: 'administrator',
    query: schema.slugRulesQuery,
    body: schema.slugRulesPut,
    answer: z.union([schema.slugRulesView, schema.slugRulesReview]),
    status: 200,
    ifMatch: 'applied',
  }),
  readForgiveness: operation({
    method: 'GET',
    path: '/domains/{id}/forgiveness',
    summary: 'What each part of forgiveness mended, and would have, in the last 28 days.',
    role: 'viewer',
    answer: schema.forgivenessReport,
    status: 200,
  }),
  listRules: operation({
    method: 'GET',
    path: '/rules',
    summary: 'Rules in the order they are asked.',
    role: 'viewer',
    query: schema.ruleListQuery,
    answer: list(schema.rule),
    status: 200,
  }),
  createRule: operation({
    method: 'POST',
    path: '/rules',
    summary: 'Make a rule for a family of addresses.',
    role: 'administrator',
    body: schema.ruleCreate,
    answer: schema.rule,
    status: 201,
  }),
  readRule: operation({
    method: 'GET',
    path: '/rules/{id}',
    summary: 'One rule.',
    role: 'viewer',
    answer: schema.rule,
    status: 200,
  }),
  changeRule: operation({
    method: 'PATCH',
    path: '/rules/{id}',
    summary: 'Change a rule, or switch it on or off.',
    role: 'administrator',
    body: schema.rulePatch,
    answer: schema.rule,
    status: 200,
    ifMatch: true,
  }),
  removeRule: operation({
    method: 'DELETE',
    path: '/rules/{id}',
    summary: 'Take a rule away.',
    role: 'administrator',
    status: 204,
    ifMatch: true,
  }),
  reorderRules: operation({
    method: 'POST',
    path: '/rules/reorder',
    summary: 'Put a domain’s rules in another order.',
    role: 'administrator',
    body: schema.rulesReorder,
    answer: list(schema.rule),
    status: 200,
  }),
  comparePatterns: operation({
    method: 'POST',
    path: '/patterns/compare',
    summary: 'How two patterns stand to each other, proven, with witnesses.',
    role: 'viewer',
    body: schema.patternCompare,
    answer: schema.patternComparison,
    status: 200,
  }),
  testPatterns: operation({
    method: 'POST',
    path: '/patterns/test',
    summary: 'Which rule takes each address and what comes out.',
    role: 'viewer',
    body: schema.patternTest,
    answer: schema.patternTested,
    status: 200,
  }),
}
