import { onceFor } from '../plain/once.ts';

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

/** Under which key the entries of a workspace have each of these; `undefined` where they have none. */
export type FactKeys = Readonly<Record<BuiltIn, string | undefined>>;

/** The keys of a workspace that states nothing of them: their names. */
export const usualFactKeys = Object.fromEntries(builtInFacts.map((name) => [name, name])) as FactKeys;

/** The keys of entries that have none of them. */
export const noFactKeys = Object.fromEntries(builtInFacts.map((name) => [name, undefined])) as FactKeys;

/** The keys of a workspace that states some of them; the usual ones for the rest. */
export function factKeysOf(stated: BuiltInKeys): FactKeys {
  return Object.fromEntries(
    builtInFacts.map((name) => [name, stated[name] === false ? undefined : (stated[name] ?? name)]),
  ) as FactKeys;
}

/** What a workspace with these keys has to state of them. */
export const statedKeys = (keys: FactKeys): BuiltInKeys =>
  Object.fromEntries(builtInFacts.flatMap((name) => (keys[name] === name ? [] : [[name, keys[name] ?? false]])));

/** What entries have of themselves, by the keys under which they have it. */
export const factsByKey = onceFor((keys: FactKeys): ReadonlyMap<string, BuiltIn> => {
  const named = builtInFacts.flatMap((name) => {
    const key = keys[name];
    if (key === undefined) return [];
    return [[key, name] as const];
  });
  return new Map(named);
});

/** What a store calls what every entry has, where it calls it otherwise than the workspace does. */
export type BuiltInNames = { readonly [K in BuiltIn]?: string | undefined };

/** The keys under which the entries of a workspace have something of themselves; each once. @param sources the workspace, then its stores. */
export function keysOfFacts(sources: readonly BuiltInNames[]): readonly (readonly [BuiltIn, string])[] {
  const facts = new Map<string, BuiltIn>();
  for (const names of sources)
    for (const fact of builtInFacts) {
      const key = names[fact];
      if (key !== undefined && !facts.has(key)) facts.set(key, fact);
    }

  return [...facts].map(([key, fact]) => [fact, key] as const);
}
