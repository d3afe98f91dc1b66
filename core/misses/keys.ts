import { bones, soundOf, sortedWords } from './words'

export const MAX_DELETES = 20
const MAX_GRAMS = 16
export const GRAM_BUCKETS = 1 << 16

export const enum Kind {
  Bones = 0x811c9dc5,
  Words = 0x9747b28c,
  Tail = 0x1b873593,
  Sound = 0x27d4eb2f,
  SameSounds = 0x165667b1,
}

/** FNV-1a over a text's units but one; `skip` −1 takes all. */
export function hash(text: string, seed: number, skip = -1, from = 0, to = text.length): number {
  let value = seed
  for (let at = from; at < to; at++) if (at !== skip) value = Math.imul(value ^ text.charCodeAt(at), 0x01000193)
  value ^= value >>> 15
  return Math.imul(value, 0x2c1b3c6d) >>> 0
}

/** A path without its first part; empty where there is but one. */
export const tailOf = (plain: string): string => {
  const at = plain.indexOf('/')
  return at < 0 ? '' : plain.slice(at + 1)
}

/** Calls back with each key a link is found by. */
export function eachKey(plain: string, skeleton: string, take: (key: number) => void): void {
  take(hash(skeleton, Kind.Bones))
  if (skeleton.length > 1)
    for (let skip = 0; skip < skeleton.length && skip < MAX_DELETES; skip++)
      if (skip === 0 || skeleton[skip] !== skeleton[skip - 1]) take(hash(skeleton, Kind.Bones, skip))
  const words = sortedWords(plain)
  take(hash(words, Kind.Words))
  const tail = bones(tailOf(plain))
  if (tail.length > 1) take(hash(tail, Kind.Tail))
  eachSound(skeleton, take)
}

/** Calls back with each key a text is found by when it is misspelt by ear: its sounds, in order and sorted. */
export function eachSound(skeleton: string, take: (key: number) => void): void {
  const sound = soundOf(skeleton)
  if (sound.length < 2) return
  take(hash(sound, Kind.Sound))
  let letters = 0
  let digits = 0
  for (let at = 0; at < sound.length; at++) {
    const unit = sound.charCodeAt(at)
    if (unit >= 48 && unit <= 57) digits |= 1 << (unit - 48)
    else letters |= 1 << (unit & 31)
  }
  take((Math.imul(letters, 0x85ebca6b) ^ Math.imul(digits, 0xc2b2ae35) ^ Kind.SameSounds) >>> 0)
}

export function eachGram(skeleton: string, take: (bucket: number) => void): void {
  const most = Math.min(skeleton.length - 2, MAX_GRAMS)
  for (let at = 0; at < most; at++) take(hash(skeleton, 0x5bd1e995, -1, at, at + 3) & (GRAM_BUCKETS - 1))
}
