import type { Component } from 'vue'
import { CONDITION_KINDS, type ConditionPart } from '~~/core/conditions'
import LanguagePart from './LanguagePart.vue'
import QueryPart from './QueryPart.vue'

type Kind = ConditionPart['kind']

/** How each kind of condition is asked for: what adding it is called, what it begins with, and its part of the form. */
const PARTS: { [K in Kind]: { title: string; blank: Extract<ConditionPart, { kind: K }>; form: Component } } = {
  query: { title: 'On the query', blank: { kind: 'query', mode: 'contains', text: '' }, form: QueryPart },
  language: { title: 'On the language', blank: { kind: 'language', languages: [] }, form: LanguagePart },
}

/** The parts of a condition form, in their order. */
export const CONDITION_PARTS = CONDITION_KINDS.map((kind) => ({ kind, ...PARTS[kind] }))
