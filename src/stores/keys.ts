import { type BuiltIn, builtInFacts, builtInKeys } from '../core/definition/builtIn.ts';
import type { Operation } from '../core/migration/operation.ts';
import { type JsonObject, type Path, renameKey } from '../core/plain/json.ts';
import { refuse } from '../workspace/trouble.ts';

/** The keys that hold in one store what every entry has, where they are called otherwise there than in the workspace. */
export type StoreKeys = { readonly [K in BuiltIn]?: string | undefined };

/** Translates between the keys of a store and those of the workspace, by which entries are known everywhere else. */
export class KeyNames {
  readonly #keys: ReadonlyMap<BuiltIn, string>;
  /** The keys of the workspace that are called otherwise here, with what they are called. */
  readonly #differing: readonly (readonly [usual: string, here: string])[];

  constructor(said: StoreKeys = {}) {
    const usual = builtInKeys();
    const all = builtInFacts.flatMap((fact) => {
      const key = said[fact] ?? usual[fact];
      return key === undefined ? [] : [[fact, key] as const];
    });
    this.#keys = new Map(all);
    this.#differing = all.flatMap(([fact, key]) => {
      const name = usual[fact];
      return name === undefined || name === key ? [] : [[name, key] as const];
    });
  }

  /** The key that holds something here; nothing where entries have none. */
  of(fact: BuiltIn): string | undefined {
    return this.#keys.get(fact);
  }

  /**
   * The key that says of which type an entry is; none where the workspace says that there is none, and all entries here are
   * of one type.
   */
  typeKey(usual: string | undefined): string | undefined {
    return this.of('type') ?? (usual === undefined ? 'type' : undefined);
  }

  /** The same to write it. @throws {Trouble} where an entry of another type than the usual one cannot say so. */
  typeKeyToWrite(usual: string | undefined): string {
    const key = this.typeKey(usual);
    if (key !== undefined) return key;
    throw refuse('no-type-key', `all entries there are of the type ${usual}, and none can say otherwise`, {
      mend: 'Say in lumbrik.yaml which key tells the type: `keys: { type: … }`, or keep that entry elsewhere.',
    });
  }

  /** A key that has the name of something which another key holds here. */
  clashIn(data: JsonObject): string | undefined {
    if (this.#differing.length === 0) return undefined;
    const held = new Set(this.#keys.values());
    return this.#differing.find(([usual]) => Object.hasOwn(data, usual) && !held.has(usual))?.[0];
  }

  /** What is stored, under the keys of the workspace. */
  usual(stored: JsonObject): JsonObject {
    if (this.#differing.length === 0) return stored;
    const names = new Map(this.#differing.map(([usual, here]) => [here, usual]));
    return Object.fromEntries(Object.entries(stored).map(([key, value]) => [names.get(key) ?? key, value]));
  }

  /** Values under the keys that they have here. */
  stored(values: JsonObject): JsonObject {
    return this.#differing.reduce((all, [usual, here]) => renameKey(all, usual, here), values);
  }

  /** A path into an entry as it is stored. */
  path([first, ...rest]: Path): Path {
    if (first === undefined) return [];
    return [this.#differing.find(([usual]) => usual === first)?.[1] ?? first, ...rest];
  }

  /** What is done to an entry, said of what is stored. */
  operation<O extends Operation>(operation: O): O {
    if ('path' in operation) return { ...operation, path: this.path(operation.path) };
    if ('from' in operation) return operation; // What every entry has is no field, and is never carried.
    return 'inside' in operation ? { ...operation, inside: this.path(operation.inside) } : operation;
  }
}

/** That an entry has a key with the name of something which its store keeps under another. */
export const clashing = (key: string) => ({
  says: `has the key \`${key}\` beside the one that lumbrik.yaml names for it`,
  mend: 'Keep one of the two, or give the other key another name.',
});
