import { z } from 'zod';
import { parseAddress } from '../../definition/address.ts';
import { keyOfField } from '../../definition/fieldName.ts';
import { LanguageOptionsForm } from '../../definition/language.ts';
import { asJson, type ModelDoc } from '../../definition/model.ts';
import type { Shared } from '../../definition/shared.ts';
import { SharedForm } from '../../definition/shared.ts';
import { asks } from '../../model/convertValue.ts';
import type { Model } from '../../model/link.ts';
import type { Mistake } from '../../model/mistakes.ts';
import { fieldsWithin } from '../../model/nestedFields.ts';
import { readField } from '../../model/readField.ts';
import { readTaxonomyParts } from '../../model/readTaxonomy.ts';
import { readTypeParts } from '../../model/readType.ts';
import { rewriter } from '../../model/rewriter.ts';
import {
  compact,
  isList,
  isObject,
  type Json,
  type JsonObject,
  mapValues,
  ownValue,
  withKey,
  withoutKey,
} from '../../plain/json.ts';
import type { Outcome } from '../../plain/outcome.ts';
import { list, quote } from '../../plain/words.ts';
import type { EntryDraft } from '../entryDraft.ts';
import { compileFill, fillShape, likeShape, obeys, sayFill } from '../fill.ts';
import type { Holder } from '../holder.ts';
import { defineStep, StepRefused } from '../step.ts';
import { addressed, fieldOf, linkedField, typeOf, withFieldsBeside } from '../stepFields.ts';

/** Sets options of a type, a field, a taxonomy or a term; `null` takes an option away. */
export const change = defineStep({
  verb: 'change',
  about:
    'Sets options of a type, a field, a taxonomy or a term; null takes an option away. `value` or `cel` mends values that no longer fit.',
  shape: {
    change: z
      .string()
      .describe(
        'The address of a type, a field, a taxonomy or a term; or `languages`; or `shared`, for kits and the like.',
      ),
    to: z.json().describe('The options that are set; null takes one away.'),
    ...fillShape,
    ...likeShape,
  },
  say: ({ change: address, to, ...fill }) => {
    const options = isObject(to) ? Object.entries(to) : [];
    const changes = options.map(([option, value]) => {
      if (isList(value) && value.some(isObject)) return `${option} are others`;
      if (value === null) return `${option} goes`;
      return `${option} is ${quote(value, 60)}`;
    });
    const filled =
      fill.value === undefined && fill.cel === undefined ? '' : ` Values that no longer fit get ${sayFill(fill)}.`;

    if (address === 'shared')
      return `What is kept once and used in many types is as the model says now: ${list(options.flatMap(([, part]) => (isObject(part) ? Object.keys(part) : [])))}.`;
    return `Of \`${address}\`, ${list(changes)}.${filled}`;
  },
  answers: ({ change: address }) => (isOfField(address) ? ['yes', 'value', 'cel'] : ['yes']),
  yes: () => 'leave',
  model: (step, model) => {
    if (!isObject(step.to))
      throw new StepRefused('`to` holds no options', 'Write them as keys: `to: { max: 200 }`.', 'to');
    if (step.change === 'languages') return withLanguages(model, step.to);
    if (step.change === 'shared') return withShared(model, step.to);

    const address = addressed(step.change, 'change', ['type', 'field', 'taxonomy', 'term']);
    switch (address.what) {
      case 'type': {
        const { fields, ...old } = typeOf(model, address.type, 'change');
        const read = parts(readTypeParts(mergedOver(old, step.to)));
        return { ...model, types: withKey(model.types, address.type, { ...read, fields }) };
      }
      case 'field':
        return withField(model, address, step.to);
      case 'taxonomy':
      case 'term':
        return withTaxonomy(model, address, step.to);
    }
  },
  inverse: ({ change: text, to }, { before }) => [{ change: text, to: optionsBefore(text, Object(to), before) }],
  entries: (step, { before, after, knownNames }) => {
    if (step.change === 'languages') return dropLanguages(before, after);
    if (step.change === 'shared') return () => undefined;

    const hasFill = step.value !== undefined || step.cel !== undefined;
    const address = addressed(step.change, 'change', hasFill ? ['field'] : ['type', 'field', 'taxonomy', 'term']);
    if (address.what !== 'field') return () => undefined;

    const oldPlace = linkedField(before, address.type, address.field);
    const { field } = linkedField(after, address.type, address.field);
    const fill = compileFill(step, field, oldPlace.type, { after, knownNames });
    const rewritten = rewriter(oldPlace.field, field);
    if (!fill && !rewritten) return () => undefined;

    return (draft) => {
      if (draft.type !== address.type) return;

      const key = keyOfField(address.field);
      for (const holder of draft.holders(oldPlace.type, address.field)) {
        const item = holder.valueOf(oldPlace.field);
        if (item !== undefined && rewritten) holder.set(key, rewritten(item));
        if (!fill) continue;

        const value = holder.valueOf(field);
        const isUnchanged =
          value === undefined
            ? !asks(field, draft.status) || asks(oldPlace.field, draft.status)
            : obeys(value, field, after);
        if (!isUnchanged) holder.replace(key, fill(draft, holder), 'it does not fit the changed field');
      }
    };
  },
});

const isOfField = (address: string): boolean => ['field', 'inner'].includes(parseAddress(address)?.what ?? '');

/** What options that a step sets were before it; null for those that were not there. */
function optionsBefore(text: string, to: JsonObject, model: ModelDoc): JsonObject {
  const oldOptions = (options: Json, keys: JsonObject): JsonObject =>
    mapValues(keys, (_, key) => (isObject(options) ? (ownValue(options, key) ?? null) : null));
  const { languages, languageOptions } = model;
  if (text === 'languages') return asJson(compact({ languages, languageOptions }));
  if (text === 'shared')
    return mapValues(to, (part, name) => oldOptions(ownValue(asJson(model.shared ?? {}), name) ?? {}, Object(part)));
  return oldOptions(definitionAt(text, model), to);
}

/** What a type, a field, a taxonomy or a term says of itself. */
function definitionAt(text: string, model: ModelDoc): Json {
  const address = addressed(text, 'change', ['type', 'field', 'taxonomy', 'term']);
  switch (address.what) {
    case 'type':
      return asJson(typeOf(model, address.type, 'change'));
    case 'field':
      return asJson(fieldOf(model, address.type, address.field, 'change'));
    case 'taxonomy':
      return asJson(ownValue(model.taxonomies, address.taxonomy) ?? {});
    case 'term':
      return asJson(ownValue(ownValue(model.taxonomies, address.taxonomy)?.terms ?? {}, address.term) ?? {});
  }
}

/** Takes out the values in languages that are gone. */
function dropLanguages(before: Model, after: Model): (draft: EntryDraft) => void {
  const removedLanguages = before.definition.languages.filter(
    (language) => !after.definition.languages.includes(language),
  );
  return (draft) => {
    const type = before.types.get(draft.type);
    for (const field of type ? fieldsWithin(type.fields) : [])
      if (type && field.common.localized)
        for (const holder of draft.holders(type, field.name))
          dropFrom(holder, keyOfField(field.name), removedLanguages);
  };
}

function dropFrom(holder: Holder, key: string, languages: readonly string[]): void {
  const value = holder.get(key);
  if (!isObject(value)) return;

  const lost = languages.filter((language) => Object.hasOwn(value, language));
  for (const language of lost)
    holder.note([key, language], value[language] ?? null, `the language ${language} is gone`);
  if (lost.length > 0)
    holder.set(key, Object.fromEntries(Object.entries(value).filter(([language]) => !lost.includes(language))));
}

/** Options with others put over them; `null` takes one away. */
const mergedOver = (old: object, to: JsonObject): JsonObject =>
  Object.entries(to).reduce<JsonObject>(
    (result, [key, value]) => (value === null ? withoutKey(result, key) : withKey(result, key, value)),
    asJson(old),
  );

function parts<T>(read: Outcome<T, readonly Mistake[]>): T {
  if ('value' in read) return read.value;
  throw new StepRefused(
    read.problem[0]?.says ?? 'the options cannot be read',
    read.problem[0]?.mend ?? 'Correct them.',
    'to',
  );
}

function withField(
  model: ModelDoc,
  { type: typeName, field: name }: { readonly type: string; readonly field: string },
  to: JsonObject,
): ModelDoc {
  if (Object.hasOwn(to, 'kind'))
    throw new StepRefused('the kind of a field is not changed but converted', 'Use a step `convert`.', 'to');

  const { field, mistakes } = readField(mergedOver(fieldOf(model, typeName, name, 'change'), to));
  if (!field) return parts({ problem: mistakes });
  return withFieldsBeside(model, { type: typeName, field: name }, 'change', (siblings, key) =>
    withKey(siblings, key, field),
  );
}

function withTaxonomy(
  model: ModelDoc,
  address:
    | { readonly what: 'taxonomy'; readonly taxonomy: string }
    | { readonly what: 'term'; readonly taxonomy: string; readonly term: string },
  to: JsonObject,
): ModelDoc {
  const taxonomy = ownValue(model.taxonomies, address.taxonomy);
  if (!taxonomy)
    throw new StepRefused(
      `there is no taxonomy \`${address.taxonomy}\` at this step`,
      'Look at the steps before.',
      'change',
    );

  const { terms, tree, ...old } = taxonomy;
  if (address.what === 'taxonomy') {
    const { terms: _, tree: __, ...options } = parts(readTaxonomyParts(mergedOver(old, to)));
    return { ...model, taxonomies: withKey(model.taxonomies, address.taxonomy, { ...options, terms, tree }) };
  }

  const term = ownValue(terms, address.term);
  if (!term)
    throw new StepRefused(`there is no term \`${address.term}\` at this step`, 'Look at the steps before.', 'change');

  const read = parts(readTaxonomyParts({ terms: [{ ...mergedOver(term, to), term: address.term }] }));

  return {
    ...model,
    taxonomies: withKey(model.taxonomies, address.taxonomy, {
      ...taxonomy,
      terms: withKey(terms, address.term, ownValue(read.terms, address.term) ?? {}),
    }),
  };
}

function withLanguages({ languageOptions: _, ...model }: ModelDoc, to: JsonObject): ModelDoc {
  const read = z
    .strictObject({ languages: z.array(z.string()).min(1), languageOptions: LanguageOptionsForm.optional() })
    .safeParse(to);
  if (!read.success)
    throw new StepRefused('`to` holds no list of languages', 'Write `to: { languages: [en, fr] }`.', 'to');

  const { languages, languageOptions } = read.data;
  return { ...model, languages, ...(languageOptions ? { languageOptions: compacted(languageOptions) } : {}) };
}

const compacted = (options: z.output<typeof LanguageOptionsForm>): NonNullable<ModelDoc['languageOptions']> =>
  mapValues(options, (options) => compact(options)) as NonNullable<ModelDoc['languageOptions']>;

/** Replaces shared parts, each by its name, `null` takes one away. The types stay as they are. */
function withShared({ shared, ...model }: ModelDoc, to: JsonObject): ModelDoc {
  const merged = Object.entries(to).reduce<JsonObject>(
    (result, [part, over]) => {
      const old = ownValue(result, part);
      return withKey(result, part, mergedOver(isObject(old) ? old : {}, isObject(over) ? over : {}));
    },
    asJson(shared ?? {}),
  );
  const filled = Object.fromEntries(
    Object.entries(merged).filter(([, part]) => isObject(part) && Object.keys(part).length > 0),
  );
  const read = SharedForm.safeParse(filled);
  if (!read.success)
    throw new StepRefused('`to` holds something that cannot be shared', 'Draft the migration again.', 'to');
  if (Object.keys(filled).length > 0) return { ...model, shared: filled as Shared };
  return model;
}
