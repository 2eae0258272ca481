import { checkField } from '../check/field.ts';
import { builtInKeys, statuses } from '../definition/builtIn.ts';
import type { FindingName } from '../definition/findingNames.ts';
import { type Entry, entryAddressOf } from '../entry/entry.ts';
import type { Finding } from '../entry/findings.ts';
import type { Field, Model } from '../model/link.ts';
import { fieldNamed } from '../model/nestedFields.ts';
import { fieldsOf } from '../model/ownFields.ts';
import { at, isObject, type Json, type Path } from '../plain/json.ts';
import { isSlip } from '../plain/nearest.ts';
import { slugify } from '../plain/slugify.ts';
import type { Operation } from './operation.ts';

/** What a machine can do about a finding: one of some values in the place of another, or another name for a key. */
export interface Mend {
  readonly finding: Finding;
  /** Whether it is beyond doubt; if not, a person is asked. */
  readonly isSure: boolean;
  readonly before: Json | undefined;
  /** What may be put there, the most likely first; of a key that gets another name, that name. */
  readonly choices: readonly Json[];
  /** What is done to the entry where one of them is chosen. */
  readonly operations: (choice: Json) => readonly Operation[];
}

/** What mending looks at beside the entry. */
export interface MendContext {
  readonly model: Model;
  /** The identifiers of all entries of a type. */
  readonly idsOf: (type: string) => ReadonlyMap<string, unknown>;
}

/** What can be done about a finding in an entry; `undefined` where that is a person's business alone. */
export function mendOf(finding: Finding, entry: Entry, context: MendContext): Mend | undefined {
  const { path, fix } = finding;
  const type = context.model.types.get(entry.type);
  const fields = fieldsOf(entry, type);
  const before = at(fields, path) ?? at(entry.values, path);
  // What stands below the front matter, or inside a text, is written by people.
  const isProse = entry.prose !== undefined && type?.body !== undefined && path[0] === type.body.name;
  if (isProse) return undefined;
  if (fix) return replacing(finding, before, { isSure: true, choices: [fix.set] });
  const suggest = suggestions[finding.finding];
  const found = suggest?.(finding, { ...context, entry, before });
  if (!found || found.choices.length === 0) return undefined;
  return found.isKey ? renaming(finding, before, found) : replacing(finding, before, found);
}

interface Suggested {
  readonly isSure: boolean;
  readonly choices: readonly Json[];
  /** Whether it is the key that is wrong, and not the value under it. */
  readonly isKey?: true;
}

function replacing(finding: Finding, before: Json | undefined, { isSure, choices }: Suggested): Mend {
  return {
    finding,
    isSure,
    before,
    choices,
    operations: (value) => [{ do: 'set', path: finding.path, value, after: [] }],
  };
}

function renaming(finding: Finding, before: Json | undefined, { isSure, choices }: Suggested): Mend {
  const inside = finding.path.slice(0, -1);
  const key = String(finding.path.at(-1));
  return {
    finding,
    isSure,
    before,
    choices,
    operations: (name) => [{ do: 'rename', inside, key, to: String(name) }],
  };
}

interface At extends MendContext {
  readonly entry: Entry;
  readonly before: Json | undefined;
}

type Suggest = (finding: Finding, at: At) => Suggested | undefined;

/** A word for which another one is probably meant. */
function slip(
  meant: string,
  near: string | undefined,
  candidates: Iterable<string> | ReadonlyMap<string, unknown>,
): Suggested | undefined {
  return near === undefined ? undefined : { isSure: isSlip(meant, near, candidates), choices: [near] };
}

const builtInNames = (): readonly string[] => Object.values(builtInKeys()).filter((key) => key !== undefined);

/** What is suggested for findings, by their names, from the data that their words are made from. */
const suggestions: { readonly [F in FindingName]?: Suggest } = {
  'unknown-field': ({ path, data }, { entry, model }) => {
    const { near, fields } = data as { readonly near?: string; readonly fields?: readonly string[] };
    const beside = at(entry.values, path.slice(0, -1));
    const isTaken = near !== undefined && isObject(beside) && Object.hasOwn(beside, near);
    const key = String(path.at(-1));
    const candidates = path.length > 1 ? (fields ?? []) : [...(fields ?? []), ...builtInNames()];
    const found = isTaken ? undefined : slip(key, near, candidates);
    const isFit = fits(at(entry.values, path), [...path.slice(0, -1), near ?? ''], { entry, model });
    return found && { ...found, isSure: found.isSure && isFit, isKey: true };
  },
  'unknown-status': ({ data }, { before }) => slip(String(before), (data as { readonly near?: string }).near, statuses),
  'not-a-choice': ({ data }, { before }) => {
    const { near, choices } = data as { readonly near?: string; readonly choices?: readonly string[] };
    return slip(String(before), near, choices ?? []);
  },
  'unknown-term': ({ data, message }, { before, model }) => {
    const said = data as {
      readonly taxonomy?: string;
      readonly meant?: string;
      readonly near?: string;
      readonly better?: string;
    };
    if (said.meant !== undefined) return { isSure: true, choices: [said.meant] };
    if (message === 'unknown-term:form') return { isSure: false, choices: said.better ? [said.better] : [] };
    return slip(String(before), said.near, model.taxonomies.get(said.taxonomy ?? '')?.terms ?? []);
  },
  'malformed-slug': ({ data }) => {
    const { better } = data as { readonly better: string };
    return { isSure: false, choices: better === '' ? [] : [better] };
  },
  'not-a-duration': ({ data }) => {
    const { meant } = data as { readonly meant: readonly string[] };
    return { isSure: meant.length === 1, choices: meant };
  },
  'dangling-reference': ({ data }, { before, idsOf }) => {
    const { to, near } = data as { readonly to: string; readonly near?: string };
    if (typeof before !== 'string' || near === undefined) return undefined;
    const [wanted, found] = [entryAddressOf(to), entryAddressOf(near)];
    const isWhole = before === to;
    if (!isWhole && before !== wanted.id) return undefined;
    return {
      isSure: isSlip(wanted.id, found.id, idsOf(wanted.type)),
      choices: [isWhole ? near : found.id],
    };
  },
  'malformed-reference': ({ data }, { before, idsOf, model }) => {
    const { types } = data as { readonly types: readonly string[] };
    const known = types
      .flatMap((type) => model.context.acceptedAs(type))
      .filter((type) => typeof before === 'string' && idsOf(type).has(before));
    return { isSure: known.length === 1, choices: known.map((type) => `${type}/${String(before)}`) };
  },
  'required-missing': ({ path }, { entry, model }) => {
    const type = model.types.get(entry.type);
    const field = type && fieldNamed(type, path.join('.'));
    const text = field && slugFor(field, path, entry);
    return text === undefined ? undefined : { isSure: true, choices: [text] };
  },
};

/** Whether a value could stand in another field of its entry: what is called otherwise may be something else. */
function fits(value: Json | undefined, path: Path, { entry, model }: Pick<At, 'entry' | 'model'>): boolean {
  const type = model.types.get(entry.type);
  const field = type && fieldNamed(type, path.filter((part) => typeof part === 'string').join('.'));
  if (!field) return builtInNames().includes(String(path.at(-1)));
  let isFine = true;
  checkField(field, model.context)(value, 'draft', () => {
    isFine = false;
  });
  return isFine;
}

/** The slug that an entry has none of yet, made from the field that it is to be made from. */
function slugFor({ kind, options, common }: Field, path: Path, entry: Entry): string | undefined {
  if (kind.name !== 'slug' || common.localized) return undefined;
  const text = at(entry.values, [...path.slice(0, -1), String(options.from)]);
  const [said] = isObject(text) ? Object.values(text) : [text];
  const made = typeof said === 'string' ? slugify(said) : '';
  return made === '' ? undefined : made;
}
