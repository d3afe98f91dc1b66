import { endSlowHeads } from '../http/slow-heads'

const HEAD_MS = 15_000

/** The desk gives every connection a quarter of a minute for the head of its next request. */
export default defineNitroPlugin(() => void endSlowHeads(HEAD_MS))
