/** Adds an id to those of a key. */
export function addId<Key>(map: Map<Key, Set<number>>, key: Key, id: number): void {
  const set = map.get(key)
  if (set) set.add(id)
  else map.set(key, new Set([id]))
}

/** Removes an id from those of a key; a key without ids is forgotten. */
export function removeId<Key>(map: Map<Key, Set<number>>, key: Key, id: number): void {
  const set = map.get(key)
  set?.delete(id)
  if (set?.size === 0) map.delete(key)
}
