/** What making something whole comes to: it is made, nothing of that name is there, or making it leads back to itself. */
export type Made<T> = T | 'circle' | undefined;

/** Definitions that may be made of each other: each is made when it is first asked for, and once. */
export class Kept<D, T> {
  readonly #definitions: ReadonlyMap<string, D>;
  readonly #make: (definition: D, name: string) => T | undefined;
  readonly #done = new Map<string, T | undefined>();
  readonly #open = new Set<string>();

  constructor(definitions: ReadonlyMap<string, D>, make: (definition: D, name: string) => T | undefined) {
    this.#definitions = definitions;
    this.#make = make;
  }

  get names(): readonly string[] {
    return [...this.#definitions.keys()];
  }

  get(name: string): Made<T> {
    const definition = this.#definitions.get(name);
    if (definition === undefined || this.#done.has(name)) return this.#done.get(name);
    if (this.#open.has(name)) return 'circle';

    this.#open.add(name);
    const created = this.#make(definition, name);
    this.#open.delete(name);
    this.#done.set(name, created);
    return created;
  }

  /** Everything that could be made, by its name, in the order of the definitions. */
  all(): readonly (readonly [string, T])[] {
    return this.names.flatMap((name) => {
      const created = this.get(name);
      if (created === undefined || created === 'circle') return [];
      return [[name, created as T] as const];
    });
  }
}
