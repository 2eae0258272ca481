import { Document, isMap, isNode, isScalar, isSeq } from 'yaml';
import type { StoreOptions } from '../definition/workspace.ts';
import { compact, type JsonObject, mapValues } from '../plain/json.ts';
import { count } from '../plain/words.ts';
import type { LearntKit } from './kits.ts';
import { valueDoc } from './learnField.ts';
import type { LearntModel, LearntTaxonomy, LearntType } from './learntModel.ts';
import type { LearntField, OpenQuestion } from './value.ts';

/** What a workspace says beside its model. */
export interface LearntWorkspace {
  readonly name: string;
  readonly content: readonly StoreOptions[];
  /** How large its files may be, where that is more than usual. */
  readonly fileMegabytes: number | undefined;
}

/** A learnt model as the files of a workspace, with what speaks for each guess in comments. */
export function modelFiles(model: LearntModel, workspace: LearntWorkspace): ReadonlyMap<string, string> {
  return new Map([
    ...model.types.map((type) => [`model/types/${type.name}.yaml`, typeFile(type, model.kits)] as const),
    ...model.kits.map((kit) => [`model/kits/${kit.name}.yaml`, kitFile(kit)] as const),
    ...model.taxonomies.map((taxonomy) => [`model/taxonomies/${taxonomy.name}.yaml`, taxonomyFile(taxonomy)] as const),
    ['lumbrik.yaml', settings(model, workspace)] as const,
  ]);
}

const written = (document: Document): string => document.toString({ lineWidth: 0, flowCollectionPadding: true });

function settings(
  { languages, languagesBecause, builtIn }: LearntModel,
  { name, content, fileMegabytes }: LearntWorkspace,
): string {
  const document = new Document(
    compact({
      workspace: name,
      languages: [...languages],
      builtIn: Object.keys(builtIn).length > 0 ? { ...builtIn } : undefined,
      limits: fileMegabytes === undefined ? undefined : { fileMegabytes },
      content: content.map((store) => shortest(store)),
    }),
  );
  for (const key of ['languages', 'builtIn', 'limits']) flow(document.get(key));
  const stated = document.get('languages', true);
  if (isNode(stated)) stated.comment = ` ${languagesBecause}`;
  const stores = document.get('content') as { readonly items?: readonly unknown[] } | undefined;
  for (const store of stores?.items ?? []) flow(store);

  return written(document);
}

/** A store that names one file names it alone. */
const shortest = (store: StoreOptions): JsonObject =>
  mapValues(store as JsonObject, (value) => (Array.isArray(value) && value.length === 1 ? value[0] : value));

/** The file of a learnt type, with what speaks for each guess in comments. @param learntKits kits, of which it may use some. */
export function typeFile({ name, entries, titled, fields }: LearntType, learntKits: readonly LearntKit[] = []): string {
  const kits = learntKits.filter(({ types }) => types.includes(name));
  const inKits = new Map(kits.flatMap((kit) => kit.fields.map((field) => [field.name, field] as const)));
  const ownFields = fields.flatMap((field): readonly (readonly [string, JsonObject])[] => {
    const shared = inKits.get(field.name);
    if (!shared) return [[field.name, valueDoc(field)]];
    // What the kit does not ask for, since another type lacks it.
    if (field.definition.required === true && shared.definition.required !== true)
      return [[field.name, { required: true }]];
    return [];
  });
  const document = new Document(
    compact({
      type: name,
      titled,
      kits: kits.length > 0 ? kits.map((kit) => kit.name) : undefined,
      fields: ownFields.length > 0 ? Object.fromEntries(ownFields) : undefined,
    }),
  );
  flow(document.get('kits'));
  document.commentBefore = ` Learnt from ${count(entries, 'entry', 'entries')}. What speaks for each guess stands above it${kits.length > 0 ? ', for the fields of kits in model/kits/' : ''}.`;
  comment(document.get('fields'), fields);

  return written(document);
}

/** The file of a group of fields that recur. */
function kitFile(kit: LearntKit): string {
  const { name, fields, types } = kit;
  const document = new Document({
    kit: name,
    fields: Object.fromEntries(fields.map((field) => [field.name, valueDoc(field)])),
  });
  document.commentBefore = ` Learnt: ${count(types.length, 'type')} (${types.join(', ')}) have these fields. Above each stands what speaks for it in ${types[0]}.`;
  comment(document.get('fields'), fields);
  return written(document);
}

/** Writes above each field what speaks for it, and each that has none inside it on one line. */
function comment(node: unknown, fields: readonly LearntField[]): void {
  if (!isMap(node)) return;

  const byName = new Map(fields.map((field) => [field.name, field]));
  for (const { key, value } of node.items) {
    const field = byName.get(String(isScalar(key) ? key.value : key));
    if (!field || !isScalar(key)) continue;

    key.commentBefore = [`${field.evidence}.`, ...field.questions.map(openText)]
      .map((line) => ` ${line.replace(/\s+/gu, ' ')}`)
      .join('\n');
    if (field.fields.length === 0) flow(value);
    else if (isMap(value)) comment(value.get('fields'), field.fields);
  }
}

/** Uncertain parts, with the text to write instead. */
function openText({ asks, answers: [openAnswer, ...rest] }: OpenQuestion): string {
  const words = rest.map(({ as, says: definition }) => {
    if (!definition) return as === 'required' ? '`required: true`' : `without \`${openAnswer.as}\``;
    const document = new Document(definition);
    flow(document.contents);
    if (isMap(document.contents)) for (const { value } of document.contents.items) flow(value);
    return `\`${written(document).trim()}\``;
  });
  return `Open: ${asks} Taken is ${openAnswer.as}; else write ${words.join(' or ')}.`;
}

/** Sets what a node holds on one line. */
function flow(node: unknown): void {
  if (isMap(node) || isSeq(node)) node.flow = true;
}

function taxonomyFile({ name, terms, fields }: LearntTaxonomy): string {
  const document = new Document({ taxonomy: name, open: true });
  if (fields.length === 0) document.commentBefore = ' Its terms stand with the content. Open: authors add others.';
  else
    document.commentBefore = ` Learnt from ${fields.join(', ')}: ${count(terms.length, 'term')}, which stand with the content. Open: authors add others.`;
  return written(document);
}

/** The terms of a learnt taxonomy, as they stand with the content. */
export function termsFile({ name, terms }: LearntTaxonomy): string {
  return new Document({ taxonomy: name, terms: [...terms] }).toString({ lineWidth: 0 });
}
