import type { Status } from '../definition/builtIn.ts';
import { type Entry, keyOf, statusOf } from '../entry/entry.ts';
import type { EntryLink, ModelContext } from '../kinds/kindParts.ts';
import { isNone } from '../model/emptiness.ts';
import type { Field } from '../model/link.ts';
import { placeholder } from '../model/placeholder.ts';
import { eachLeaf, isMade, type Leaf } from '../model/traversal.ts';
import { isObject, type Json, type JsonObject, type Path } from '../plain/json.ts';
import type { EntryView } from '../rules/expression.ts';
import type { StoredCount, Unmet } from './eligibility.ts';
import { isUnique } from './uniqueness.ts';
import { type Window, windowOf } from './visibility.ts';

/** What pass two needs to know of an entry, and nothing more: it is kept for every entry at once. */
export interface Facts {
  readonly entry: string;
  readonly status: Status;
  /** When it is public, where it says so. */
  readonly window: Window | undefined;
  readonly unique: readonly UniqueFact[];
  readonly links: readonly LinkFact[];
  readonly terms: readonly string[];
  /** The conditions on what may be pointed at that it does not meet. */
  readonly ineligible: readonly Unmet[];
  readonly counts: readonly StoredCount[];
  /** The files below `assets/` that it names. */
  readonly assets: readonly string[];
  /** Its values in fields that others look up. */
  readonly lookedUp?: JsonObject;
  /** The entry itself, where something can be stated of it only once all others are known. */
  readonly postponed?: EntryView;
}

/** A value that no other entry of the type may have. */
interface UniqueFact {
  /** The name of its field, with the language behind a slash where the value differs by language. */
  readonly field: string;
  readonly value: Json;
  /** Where it stands, where the name does not say it. */
  readonly path?: Path;
}

interface LinkFact {
  readonly path: Path;
  readonly to: EntryLink;
  /** The address of the field that the reference is in. */
  readonly field: string;
  /** Whether the reference is part of a value and not all of it. */
  readonly isWithin: boolean;
}

/** The facts of one entry while they are being gathered. */
export interface GatheredFacts extends Facts {
  readonly unique: UniqueFact[];
  readonly links: LinkFact[];
  readonly terms: string[];
  readonly assets: string[];
  ineligible: Facts['ineligible'];
  counts: Facts['counts'];
  lookedUp?: JsonObject;
  postponed?: EntryView;
}

/** The facts of an entry of which nothing was looked at yet. */
export const noFacts = (entry: Entry): GatheredFacts => ({
  entry: keyOf(entry),
  status: statusOf(entry),
  window: windowOf(entry),
  unique: [],
  links: [],
  terms: [],
  assets: [],
  ineligible: none,
  counts: none,
});
const none: readonly never[] = [];

/** Notes what the value of a field says to other entries. */
export type Gather = (value: Json | undefined, facts: GatheredFacts) => void;

/** Whether a field stands inside an object, which may be there several times: there, each value counts for itself. */
const isInside = ({ name }: Field): boolean => name.includes('.');

const hasParts = (field: Field): boolean => {
  const { links, term, assets } = field.kind;
  if (isInside(field) && isUnique(field)) return true;
  return links !== undefined || term !== undefined || assets !== undefined || isMade(field);
};

/**
 * Compiles a field into what notes what its value says to other entries: its unique values, its targets, how
 * it is classified. `undefined` for a field that says nothing to others.
 */
export function gatherer(field: Field, context: ModelContext): Gather | undefined {
  const { name } = field;
  const differs = isUnique(field);
  const speaks = hasParts(field);
  if (!differs && !speaks) return undefined;

  const above = [name];

  return (value, facts) => {
    if (value === undefined || isNone(field, value)) return;
    if (differs) gatherUnique(field, value, facts);
    if (speaks) eachLeaf(field, value, above, { visit: (leaf) => gatherOne(leaf, facts, context), isWanted: hasParts });
  };
}

function gatherOne({ field, item, path }: Leaf, facts: GatheredFacts, context: ModelContext): void {
  const { kind, options, address } = field;
  // A placeholder has no facts.
  if (typeof item === 'string' && item.startsWith(placeholder.start)) return;

  if (isUnique(field) && isInside(field)) facts.unique.push({ field: field.name, value: item, path });
  if (kind.links)
    for (const { to, inside, isWithin = inside.length > 0 } of kind.links(item, options, context))
      facts.links.push({ path: inside.length > 0 ? [...path, ...inside] : path, to, field: address, isWithin });

  const used = kind.term?.(item, options);
  if (used) facts.terms.push(`${used.taxonomy}:${used.term}`);
  if (kind.assets) for (const { file } of kind.assets(item, context)) facts.assets.push(file);
}

/** What must not be shared: the value as a whole, or in each language on its own. */
function gatherUnique(field: Field, value: Json, { unique }: GatheredFacts): void {
  const { name, common } = field;
  if (!common.localized || !isObject(value)) unique.push({ field: name, value });
  else
    for (const [language, version] of Object.entries(value))
      if (!isNone(field, version)) unique.push({ field: `${name}/${language}`, value: version });
}
