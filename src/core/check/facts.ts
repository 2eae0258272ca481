import { isObject, type Json, type Path } from '../json.ts';
import type { EntryLink } from '../kinds/define.ts';
import type { Status } from '../model/document.ts';
import { leaves } from '../model/layers.ts';
import type { Field } from '../model/link.ts';
import type { StoredCount } from './derived.ts';
import { isEmpty } from './entry.ts';

/** What pass two needs to know of an entry, and nothing more: it is kept for every entry at once. */
export interface Facts {
  readonly entry: string;
  readonly status: Status;
  /** `field` is its name, with the language behind a slash where the value differs by language. */
  readonly unique: readonly { readonly field: string; readonly value: string }[];
  readonly links: readonly LinkFact[];
  readonly terms: readonly string[];
  /** The addresses of fields that may not point at it. */
  readonly ineligible: readonly string[];
  readonly counts: readonly StoredCount[];
  /** The files below `assets/` that it names. */
  readonly assets: readonly string[];
}

export interface LinkFact {
  readonly path: Path;
  readonly to: EntryLink;
  /** The address of the field that the reference stands in. */
  readonly field: string;
}

/** What is known of an entry whose type does not exist. */
export const nothing = { unique: [], links: [], terms: [], ineligible: [], counts: [], assets: [] } as const;

/** What is being gathered of one entry. */
interface Gathered {
  readonly unique: { field: string; value: string }[];
  readonly links: LinkFact[];
  readonly terms: string[];
  readonly assets: string[];
}

const hasParts = ({ kind: { links, term, assets, nests } }: Field): boolean =>
  links !== undefined || term !== undefined || assets !== undefined || nests;

/** Whether the values of a field say anything to other entries. */
export const speaksToOthers = (field: Field): boolean =>
  field.common.unique === true || field.kind.unique || hasParts(field);

/** Notes what a value says to other entries: what it must not share, what it points at, how it is classified. */
export function gather(field: Field, value: Json | undefined, facts: Gathered): void {
  const { kind, common, name } = field;
  if (isEmpty(value) || value === undefined) return;
  if (common.unique || kind.unique) facts.unique.push(...uniqueValues(field, value));
  if (!hasParts(field)) return;
  const isSingle = !common.many && !common.localized && !kind.nests;
  if (isSingle) gatherOne(field, value, [name], facts);
  else for (const leaf of leaves(field, value, [name], hasParts)) gatherOne(leaf.field, leaf.item, leaf.path, facts);
}

function gatherOne({ kind, options, address }: Field, item: Json, path: Path, facts: Gathered): void {
  if (kind.links)
    for (const { to, inside } of kind.links(item, options))
      facts.links.push({ path: inside.length > 0 ? [...path, ...inside] : path, to, field: address });
  const used = kind.term?.(item, options);
  if (used) facts.terms.push(`${used.taxonomy}:${used.term}`);
  if (kind.assets) for (const { file } of kind.assets(item)) facts.assets.push(file);
}

/** What must not be shared: the value as a whole, or in each language on its own. */
function uniqueValues({ name, common }: Field, value: Json): Gathered['unique'] {
  if (!common.localized || !isObject(value)) return [{ field: name, value: JSON.stringify(value) }];
  return Object.entries(value).flatMap(([language, one]) =>
    isEmpty(one) ? [] : [{ field: `${name}/${language}`, value: JSON.stringify(one) }],
  );
}
