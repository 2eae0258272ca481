import { type BuiltIn, builtInFacts, type FactKeys, usualFactKeys } from '../core/definition/builtIn.ts';
import type { EntrySettings } from '../core/entry/entry.ts';
import type { Operation } from '../core/migration/operation.ts';
import { compact, type JsonObject, type Path } from '../core/plain/json.ts';
import { usualLimits } from '../core/plain/limits.ts';
import { refuse } from '../workspace/trouble.ts';

/** The keys that hold in one store what every entry has, where they are called otherwise there than in the workspace. */
export type StoreKeys = { readonly [K in BuiltIn]?: string | undefined };

/** The keys that hold fields in one store, by the names of these, where they are called otherwise there. */
export type StoreFields = Readonly<Record<string, string>>;

/** Translates between the keys of a store and those of the workspace, by which entries are known everywhere else. */
export class KeyNames {
  /** What entries say of the keys of the workspace: nothing where these are the usual ones. */
  readonly stated: EntrySettings;
  readonly #keys: ReadonlyMap<BuiltIn, string>;
  /** The keys of the workspace that are called otherwise here, with their names; and the other way round. */
  readonly #here: ReadonlyMap<string, string>;
  readonly #usual: ReadonlyMap<string, string>;

  /** @param usual the keys of the workspace. @param steps how many steps its expressions may take, where it says so. */
  constructor(
    {
      keys = {},
      fields = {},
    }: { readonly keys?: StoreKeys | undefined; readonly fields?: StoreFields | undefined } = {},
    usual: FactKeys = usualFactKeys,
    steps: number = usualLimits.expressionSteps,
  ) {
    this.stated = compact({
      factKeys: builtInFacts.some((fact) => usual[fact] !== fact) ? usual : undefined,
      expressionSteps: steps === usualLimits.expressionSteps ? undefined : steps,
    });
    const pairs = builtInFacts.flatMap((fact) => {
      const key = keys[fact] ?? usual[fact];
      if (key === undefined) return [];
      return [[fact, key] as const];
    });
    this.#keys = new Map(pairs);
    const facts = pairs.flatMap(([fact, key]) => {
      const name = usual[fact];
      if (name === undefined) return [];
      return [[name, key] as const];
    });
    this.#here = new Map([...facts, ...Object.entries(fields)].filter(([name, key]) => name !== key));
    this.#usual = new Map([...this.#here].map(([name, key]) => [key, name]));
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
    if (this.#here.size === 0) return undefined;
    const held = new Set([...this.#keys.values(), ...this.#usual.keys()]);
    return [...this.#here.keys()].find((usual) => Object.hasOwn(data, usual) && !held.has(usual));
  }

  /** Stored values, under the keys of the workspace. */
  usual(stored: JsonObject): JsonObject {
    if (this.#here.size === 0) return stored;
    return Object.fromEntries(Object.entries(stored).map(([key, value]) => [this.usualKey(key), value]));
  }

  /** The key of the workspace for one that is stored. */
  usualKey(stored: string): string {
    return this.#usual.get(stored) ?? stored;
  }

  /** Values under the keys that they have here. */
  stored(values: JsonObject): JsonObject {
    if (this.#here.size === 0) return values;
    return Object.fromEntries(Object.entries(values).map(([key, value]) => [this.storedKey(key), value]));
  }

  /** The key that is stored for one of the workspace. */
  storedKey(usual: string): string {
    return this.#here.get(usual) ?? usual;
  }

  /** A path into an entry as it is stored. */
  path<P extends Path | readonly string[]>(path: P): P {
    const [first, ...rest] = path;
    return (typeof first === 'string' ? [this.storedKey(first), ...rest] : path) as P;
  }

  /** The operations on an entry, said of stored values. */
  operation<O extends Operation>(operation: O): O {
    if (this.#here.size === 0) return operation;
    return this.#translated(operation) as O;
  }

  #translated(operation: Operation): Operation {
    const siblings = (keys: readonly string[]): readonly string[] => keys.map((key) => this.storedKey(key));
    switch (operation.do) {
      case 'set': {
        const { path, after } = operation;
        return { ...operation, path: this.path(path), after: path.length === 1 ? siblings(after) : after };
      }
      case 'rename':
      case 'remove':
      case 'carry':
        if (operation.inside.length > 0) return { ...operation, inside: this.path(operation.inside) };
        return this.#atTop(operation, siblings);
      default:
        return operation;
    }
  }

  /** The same of the operations on the keys of an entry itself. */
  #atTop(
    operation: Extract<Operation, { readonly do: 'rename' | 'remove' | 'carry' }>,
    siblings: (keys: readonly string[]) => readonly string[],
  ): Operation {
    if (operation.do === 'remove') return { ...operation, key: this.storedKey(operation.key) };
    if (operation.do === 'rename')
      return { ...operation, key: this.storedKey(operation.key), to: this.storedKey(operation.to) };
    const { from, to, after } = operation;
    return { ...operation, from: this.path(from), to: this.path(to), after: to.length === 1 ? siblings(after) : after };
  }
}

/** That an entry has a key with the name of something which its store keeps under another. */
export const clashing = (key: string) => ({
  says: `has the key \`${key}\` beside the one that lumbrik.yaml names for it`,
  mend: 'Keep one of the two, or give the other key another name.',
});
