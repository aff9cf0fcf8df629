/** Things by what they have in common, in the order in which each of that comes first. */
export function grouped<T, K>(things: readonly T[], by: (thing: T) => K): [K, T[]][] {
  const found = new Map<K, T[]>();
  for (const thing of things) {
    const key = by(thing);
    const some = found.get(key);
    if (some) some.push(thing);
    else found.set(key, [thing]);
  }
  return [...found];
}
