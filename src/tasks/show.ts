import { z } from 'zod';
import { compile } from '../core/check/compile.ts';
import { fieldsOf, isEmpty, keyOf, statusOf } from '../core/check/entry.ts';
import { compare } from '../core/diff/compare.ts';
import { addressOf } from '../core/diff/difference.ts';
import { sayDifference } from '../core/diff/rating.ts';
import { isList, isObject, type Json, own, pointer } from '../core/json.ts';
import { type Address, addressForms, parseAddress } from '../core/model/address.ts';
import { titleOf } from '../core/model/layers.ts';
import type { Field, Taxonomy, Term, Type } from '../core/model/link.ts';
import { didYouMean } from '../core/nearest.ts';
import { list, range } from '../core/words.ts';
import { folderStore } from '../store/folder.ts';
import type { EntryStore, Stored } from '../store/store.ts';
import { refuseInterrupted } from '../workspace/journal.ts';
import { openSoundWorkspace, type Workspace } from '../workspace/open.ts';
import { readRevisions } from '../workspace/revisions.ts';
import { Trouble } from '../workspace/trouble.ts';
import type { Call } from './call.ts';
import { checkEntries } from './checkEntries.ts';
import { head, JsonValue, RevisionGist, resultVersion, Standing } from './result.ts';
import { standingOf } from './standing.ts';

const Link = z.strictObject({ type: z.string(), count: z.int() });

const Overview = z.strictObject({
  ...head('show'),
  what: z.literal('workspace'),
  workspace: z.string(),
  languages: z.array(z.string()),
  revision: RevisionGist.optional(),
  /** What the working files say that the newest revision does not. */
  changed: z.array(z.strictObject({ address: z.string(), says: z.string() })),
  standing: Standing,
  types: z.array(
    z.strictObject({
      name: z.string(),
      label: z.string(),
      about: z.string().optional(),
      entries: z.int(),
      fields: z.int(),
      pointsAt: z.array(Link),
      pointedAtBy: z.array(Link),
    }),
  ),
  taxonomies: z.array(
    z.strictObject({
      name: z.string(),
      label: z.string(),
      about: z.string().optional(),
      terms: z.int(),
      uses: z.int(),
    }),
  ),
  errors: z.int(),
  warnings: z.int(),
});

const FieldShown = z.strictObject({
  name: z.string(),
  label: z.string(),
  kind: z.string(),
  many: z.boolean(),
  required: z.enum(['always', 'published']).optional(),
  unique: z.boolean(),
  group: z.string().optional(),
  help: z.string().optional(),
  default: JsonValue.optional(),
  /** What the options say, in short. */
  gist: z.string(),
  options: z.record(z.string(), JsonValue),
});

const TypeShown = z.strictObject({
  ...head('show'),
  what: z.literal('type'),
  name: z.string(),
  label: z.strictObject({ one: z.string(), many: z.string() }),
  about: z.string().optional(),
  guide: z.string().optional(),
  titled: z.string().optional(),
  groups: z.array(z.string()),
  entries: z.int(),
  fields: z.array(FieldShown),
  /** Fields of other types that may point here, with the name they give to this side. */
  inverses: z.array(z.strictObject({ field: z.string(), name: z.string().optional() })),
});

const FieldOnly = z.strictObject({
  ...head('show'),
  what: z.literal('field'),
  type: z.string(),
  field: FieldShown,
  entries: z.int(),
  filled: z.int(),
});

const TermShown: z.ZodType<TermShown> = z.lazy(() =>
  z.strictObject({
    term: z.string(),
    label: z.string(),
    about: z.string().optional(),
    entries: z.int(),
    withBelow: z.int(),
    terms: z.array(TermShown),
  }),
);
interface TermShown {
  readonly term: string;
  readonly label: string;
  readonly about?: string | undefined;
  /** How many entries use the term itself. */
  readonly entries: number;
  /** How many uses it has together with the terms below it. */
  readonly withBelow: number;
  readonly terms: readonly TermShown[];
}

const TaxonomyShown = z.strictObject({
  ...head('show'),
  what: z.literal('taxonomy'),
  name: z.string(),
  label: z.string(),
  about: z.string().optional(),
  /** The fields that take its terms. */
  fields: z.array(z.string()),
  terms: z.array(TermShown),
});

const EntryShown = z.strictObject({
  ...head('show'),
  what: z.literal('entry'),
  address: z.string(),
  title: z.string().optional(),
  file: z.string(),
  status: z.enum(['draft', 'published', 'archived']),
  values: z.array(
    z.strictObject({ field: z.string(), kind: z.string().optional(), value: JsonValue, says: z.string().optional() }),
  ),
  empty: z.array(z.string()),
  pointedAtBy: z.array(z.strictObject({ entry: z.string(), pointer: z.string() })),
});

export const ShowResult = z.discriminatedUnion('what', [Overview, TypeShown, FieldOnly, TaxonomyShown, EntryShown]);
export type ShowResult = z.output<typeof ShowResult>;

const command = { lumbrik: resultVersion, command: 'show' } as const;

/** Shows the workspace at a glance, or the one thing in it that an address names. */
export async function show(call: Call, text: string | undefined): Promise<ShowResult> {
  const workspace = openSoundWorkspace(call.workspace);
  refuseInterrupted(workspace.root);
  const store = folderStore(workspace.root, call.watch);
  if (text === undefined) return overview(workspace, store);
  const address = parseAddress(text);
  if (!address) throw new Trouble('malformed-address', `“${text}” is no address`, { mend: addressForms });
  return showAddress(workspace, store, address);
}

async function showAddress(workspace: Workspace, store: EntryStore, address: Address): Promise<ShowResult> {
  const { model } = workspace;
  switch (address.what) {
    case 'type':
      // A bare name may also mean a taxonomy: names are shared between the two, so there is no doubt.
      if (model.taxonomies.has(address.type)) return showTaxonomy(workspace, store, address.type);
      return showType(workspace, store, typeNamed(workspace, address.type));
    case 'field':
    case 'choice':
      return showField(workspace, store, address);
    case 'taxonomy':
      return showTaxonomy(workspace, store, address.taxonomy);
    case 'term':
      return showTaxonomy(workspace, store, address.taxonomy, address.term);
    case 'entry':
      return showEntry(workspace, store, address);
  }
}

/* ── the workspace ───────────────────────────────────────────────────────────────────────────────────────────── */

async function overview(workspace: Workspace, store: EntryStore): Promise<ShowResult> {
  const { model, name, languages } = workspace;
  const { entries, references, terms, findings } = await checkEntries(store, model);
  const last = readRevisions(workspace.root).at(-1);
  const links = (pick: (from: string, to: string) => string | undefined) =>
    [...references]
      .flatMap(([pair, count]) => {
        const [from = '', to = ''] = pair.split(' → ');
        const type = pick(from, to);
        return type === undefined ? [] : [{ type, count }];
      })
      .sort((a, b) => b.count - a.count || a.type.localeCompare(b.type));
  const usesOf = (taxonomy: Taxonomy): number =>
    [...taxonomy.terms.keys()].reduce((sum, term) => sum + (terms.get(`${taxonomy.name}:${term}`) ?? 0), 0);
  return {
    ...command,
    what: 'workspace',
    workspace: name,
    languages: [...languages],
    ...(last
      ? { revision: { revision: last.revision, version: last.version, date: last.date, message: last.message } }
      : {}),
    changed: last
      ? compare(last.model, model.form).differences.map((difference) => ({
          address: addressOf(difference),
          says: sayDifference(difference),
        }))
      : [],
    standing: await standingOf(workspace),
    types: [...model.types.values()].map((type) => ({
      name: type.name,
      label: type.label.many,
      about: type.form.about,
      entries: entries.get(type.name) ?? 0,
      fields: type.fields.size,
      pointsAt: links((from, to) => (from === type.name ? to : undefined)),
      pointedAtBy: links((from, to) => (to === type.name ? from : undefined)),
    })),
    taxonomies: [...model.taxonomies.values()].map((taxonomy) => ({
      name: taxonomy.name,
      label: taxonomy.label,
      about: taxonomy.form.about,
      terms: taxonomy.terms.size,
      uses: usesOf(taxonomy),
    })),
    errors: findings.filter(({ severity }) => severity === 'error').length,
    warnings: findings.filter(({ severity }) => severity === 'warning').length,
  };
}

/* ── types and fields ────────────────────────────────────────────────────────────────────────────────────────── */

function typeNamed({ model }: Workspace, name: string): Type {
  const type = model.types.get(name);
  if (type) return type;
  const names = [...model.types.keys(), ...model.taxonomies.keys()];
  throw new Trouble('not-found', `there is no type and no taxonomy \`${name}\``, {
    mend:
      didYouMean(name, names).trim() ||
      (names.length > 0 ? `There are ${list(names)}.` : 'Define one in model/types/.'),
  });
}

async function showType({ model }: Workspace, store: EntryStore, type: Type): Promise<ShowResult> {
  const { form } = type;
  const pointing = [...model.types.values()]
    .flatMap(({ fields }) => [...fields.values()])
    .filter((field) => field.kind.name === 'reference' && targetsOf(field).includes(type.name));
  return {
    ...command,
    what: 'type',
    name: type.name,
    label: type.label,
    about: form.about,
    guide: form.guide,
    titled: form.titled,
    groups: [...(form.groups ?? [])],
    entries: await countEntries(store, ({ entry }) => entry.type === type.name),
    fields: [...type.fields.values()].map(fieldShown),
    inverses: pointing.map((field) => {
      const name = own(field.options, 'inverse');
      return { field: field.address, ...(typeof name === 'string' ? { name } : {}) };
    }),
  };
}

const targetsOf = ({ options }: Field): readonly string[] => {
  const to = own(options, 'to');
  return Array.isArray(to) ? to.map(String) : [];
};

async function countEntries(store: EntryStore, counts: (stored: Stored) => boolean): Promise<number> {
  let number = 0;
  for await (const stored of store.entries()) if ('entry' in stored && counts(stored)) number += 1;
  return number;
}

function fieldShown({ name, label, kind, options, common }: Field): z.output<typeof FieldShown> {
  const { required } = common;
  return {
    name,
    label,
    kind: kind.name,
    many: common.many !== undefined,
    ...(required === undefined ? {} : { required: required === true ? ('always' as const) : required }),
    unique: common.unique === true || kind.unique,
    ...(common.group === undefined ? {} : { group: common.group }),
    ...(common.help === undefined ? {} : { help: common.help }),
    ...(common.default === undefined ? {} : { default: common.default }),
    gist: [kind.gist(options), itemsGist(common.many), common.localized ? 'in each language' : '']
      .filter(Boolean)
      .join(', '),
    options: { ...options, ...(common.many ? { many: common.many } : {}) },
  };
}

/** `1–8 items` */
function itemsGist(many: Field['common']['many']): string {
  const bounds = range(many?.min, many?.max);
  return bounds === '' ? '' : `${bounds} items`;
}

async function showField(
  workspace: Workspace,
  store: EntryStore,
  { type: typeName, field: name }: { readonly type: string; readonly field: string },
): Promise<ShowResult> {
  const type = typeNamed(workspace, typeName);
  const field = type.fields.get(name);
  if (!field)
    throw new Trouble('not-found', `there is no field \`${typeName}.${name}\``, {
      mend: didYouMean(name, type.fields.keys()).trim() || `There are ${list([...type.fields.keys()])}.`,
    });
  const isOfType = ({ entry }: Stored): boolean => entry.type === typeName;
  return {
    ...command,
    what: 'field',
    type: typeName,
    field: fieldShown(field),
    entries: await countEntries(store, isOfType),
    filled: await countEntries(
      store,
      (stored) => isOfType(stored) && !isEmpty(own(fieldsOf(stored.entry, type), name)),
    ),
  };
}

/* ── taxonomies ──────────────────────────────────────────────────────────────────────────────────────────────── */

async function showTaxonomy({ model }: Workspace, store: EntryStore, name: string, from?: string): Promise<ShowResult> {
  const taxonomy = model.taxonomies.get(name);
  if (!taxonomy)
    throw new Trouble('not-found', `there is no taxonomy \`${name}\``, {
      mend:
        didYouMean(name, model.taxonomies.keys()).trim() ||
        `There ${model.taxonomies.size === 1 ? 'is' : 'are'} ${list([...model.taxonomies.keys()])}.`,
    });
  const start = from === undefined ? undefined : taxonomy.terms.get(from);
  if (from !== undefined && !start)
    throw new Trouble('not-found', `there is no term \`${from}\` in ${name}`, {
      mend: didYouMean(from, taxonomy.terms.keys()).trim() || `See all of them: lumbrik show ${name}:`,
    });
  const { terms } = await checkEntries(store, model);
  const shown = (term: Term): TermShown => {
    const below = term.below.map(shown);
    const entries = terms.get(`${name}:${term.name}`) ?? 0;
    return {
      term: term.name,
      label: term.label,
      about: own(taxonomy.form.terms, term.name)?.about,
      entries,
      withBelow: below.reduce((sum, one) => sum + one.withBelow, entries),
      terms: below,
    };
  };
  const fields = [...model.types.values()]
    .flatMap((type) => [...type.fields.values()])
    .filter(({ options, kind }) => kind.term && own(options, 'taxonomy') === name);
  return {
    ...command,
    what: 'taxonomy',
    name,
    label: taxonomy.label,
    about: taxonomy.form.about,
    fields: fields.map(({ address }) => address),
    terms: (start ? [start] : taxonomy.roots).map(shown),
  };
}

/* ── entries ─────────────────────────────────────────────────────────────────────────────────────────────────── */

async function showEntry(
  workspace: Workspace,
  store: EntryStore,
  { type: typeName, id }: { readonly type: string; readonly id: string },
): Promise<ShowResult> {
  const stored = await store.find(typeName, id);
  if (!stored) throw await noEntry(workspace, store, typeName, id);
  const { entry } = stored;
  const type = workspace.model.types.get(entry.type);
  const fields = fieldsOf(entry, type);
  const values = [
    ...(type?.fields.keys() ?? []),
    ...Object.keys(fields).filter((key) => !type?.fields.has(key)),
  ].flatMap((field) => {
    const value = own(fields, field);
    const linked = type?.fields.get(field);
    const kind = linked?.kind;
    if (value === undefined || isEmpty(value)) return [];
    const says = linked && sayValue(linked, value, workspace.languages[0] ?? 'en');
    return [{ field, ...(kind ? { kind: kind.name } : {}), value, ...(says === undefined ? {} : { says }) }];
  });
  const title = titleOf(entry, type, workspace.languages[0] ?? 'en');
  return {
    ...command,
    what: 'entry',
    address: keyOf(entry),
    ...(title === undefined ? {} : { title }),
    file: stored.file,
    status: statusOf(entry),
    values,
    empty: [...(type?.fields.keys() ?? [])].filter((field) => isEmpty(own(fields, field))),
    pointedAtBy: await pointersTo(workspace, store, keyOf(entry)),
  };
}

/** A value in words, where its stored form is not what a person would say; by language where it differs. */
function sayValue(field: Field, value: Json, main: string): string | undefined {
  const { say } = field.kind;
  const inWords = (one: Json, language: string): string => {
    const items = isList(one) ? one : [one];
    return items
      .map((item) => (say ? say(item, language) : typeof item === 'string' ? item : JSON.stringify(item)))
      .join(', ');
  };
  if (field.common.localized && isObject(value))
    return Object.entries(value)
      .map(([language, one]) => `${language}: ${inWords(one, language)}`)
      .join(' · ');
  return say && inWords(value, main);
}

async function pointersTo(
  { model }: Workspace,
  store: EntryStore,
  address: string,
): Promise<{ entry: string; pointer: string }[]> {
  const checker = compile(model);
  const found: { entry: string; pointer: string }[] = [];
  for await (const stored of store.entries()) {
    if (!('entry' in stored)) continue;
    const { links, entry } = checker.check(stored.entry).facts;
    for (const { to, path } of links) if (keyOf(to) === address) found.push({ entry, pointer: pointer(path) });
  }
  return found;
}

async function noEntry(workspace: Workspace, store: EntryStore, type: string, id: string): Promise<Trouble> {
  typeNamed(workspace, type);
  const ids: string[] = [];
  for await (const stored of store.entries())
    if ('entry' in stored && stored.entry.type === type) ids.push(stored.entry.id);
  const near = didYouMean(id, ids).trim();
  return new Trouble('not-found', `there is no entry \`${type}/${id}\``, {
    mend: near || `There are ${ids.slice(0, 6).join(', ')}${ids.length > 6 ? ' …' : ''}.`,
  });
}
