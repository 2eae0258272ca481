/** The states of an entry. */
export const statuses = ['draft', 'published', 'archived'] as const;

/** The state of an entry. */
export type Status = (typeof statuses)[number];

/** What every entry has of itself. */
export const builtInFacts = ['id', 'type', 'status', 'created', 'changed', 'publicFrom', 'publicUntil'] as const;

/** The name of a fact that every entry has. */
export type BuiltIn = (typeof builtInFacts)[number];

/** Under which key each of these is where it is another one than its name; `false` where entries have none. */
export type BuiltInKeys = { readonly [K in BuiltIn]?: string | false | undefined };

type Keys = Readonly<Record<BuiltIn, string | undefined>>;

const usual = Object.fromEntries(builtInFacts.map((name) => [name, name])) as Keys;

let keys: Keys = usual;
let byKey: ReadonlyMap<string, BuiltIn> = namesByKey(usual);

function namesByKey(keys: Keys): ReadonlyMap<string, BuiltIn> {
  return new Map(
    builtInFacts.flatMap((name) => {
      const key = keys[name];
      if (key === undefined) return [];
      return [[key, name] as const];
    }),
  );
}

/** What the workspace available says of them: a process works on one. */
export const builtInKeys = (): Keys => keys;

/** What the workspace available says of those that are elsewhere than usual. */
export const saidOtherwise = (): BuiltInKeys =>
  Object.fromEntries(builtInFacts.flatMap((name) => (keys[name] === name ? [] : [[name, keys[name] ?? false]])));

/** What a store calls what every entry has, where it calls it otherwise than the workspace does. */
export type BuiltInNames = { readonly [K in BuiltIn]?: string | undefined };

/** The keys under which the entries of a workspace have something of themselves; each once. */
export function keysOfFacts(stores: readonly BuiltInNames[]): readonly (readonly [BuiltIn, string])[] {
  const facts = new Map<string, BuiltIn>();
  for (const names of [keys, ...stores])
    for (const fact of builtInFacts) {
      const key = names[fact];
      if (key !== undefined && !facts.has(key)) facts.set(key, fact);
    }

  return [...facts].map(([key, fact]) => [fact, key] as const);
}

/** What the workspace available says of them, by their keys. */
export const builtInByKey = (): ReadonlyMap<string, BuiltIn> => byKey;

/** The value under a key of an entry, if that is no field. */
export const builtInUnder = (key: string): BuiltIn | undefined => byKey.get(key);

/** Puts back what another workspace had changed. */
export function restoreBuiltInKeys(factKeys: Keys): void {
  keys = factKeys;
  byKey = namesByKey(factKeys);
}

/** Sets what the workspace available says; the usual keys for the rest. */
export function setBuiltInKeys(keys: BuiltInKeys): void {
  restoreBuiltInKeys(
    Object.fromEntries(
      builtInFacts.map((name) => [name, keys[name] === false ? undefined : (keys[name] ?? name)]),
    ) as Keys,
  );
}
