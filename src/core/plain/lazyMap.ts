/** A map whose keys are known; each value is made when it is first asked for, and once. */
export class LazyMap<V> implements ReadonlyMap<string, V> {
  readonly #keys: ReadonlySet<string>;
  readonly #make: (key: string) => V;
  readonly #made = new Map<string, V>();

  constructor(keys: Iterable<string>, make: (key: string) => V) {
    this.#keys = new Set(keys);
    this.#make = make;
  }

  get size(): number {
    return this.#keys.size;
  }

  has(key: string): boolean {
    return this.#keys.has(key);
  }

  get(key: string): V | undefined {
    const existing = this.#made.get(key);
    if (existing === undefined && this.#keys.has(key)) return this.#makeOne(key);
    return existing;
  }

  #makeOne(key: string): V {
    const value = this.#make(key);
    this.#made.set(key, value);
    return value;
  }

  #value(key: string): V {
    return this.#made.get(key) ?? this.#makeOne(key);
  }

  keys(): SetIterator<string> {
    return this.#keys.keys();
  }

  *values(): MapIterator<V> {
    for (const key of this.#keys) yield this.#value(key);
  }

  *entries(): MapIterator<[string, V]> {
    for (const key of this.#keys) yield [key, this.#value(key)];
  }

  [Symbol.iterator](): MapIterator<[string, V]> {
    return this.entries();
  }

  forEach(visit: (value: V, key: string, map: ReadonlyMap<string, V>) => void): void {
    for (const [key, value] of this.entries()) visit(value, key, this);
  }
}
