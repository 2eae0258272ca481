import { z } from 'zod';
import { isSlug } from '../definition/address.ts';
import { beside, keyOfField } from '../definition/fieldName.ts';
import { isObject, type Json, type JsonObject, ownValue } from '../plain/json.ts';
import { didYouMean } from '../plain/nearest.ts';
import { slugify } from '../plain/slugify.ts';
import { sentences } from '../plain/words.ts';
import { presentation } from './compatibility.ts';
import { defineKind } from './define.ts';
import type { ModelContext } from './kindParts.ts';
import { slugShape } from './shape.ts';

/** The last part of an entry's address on the web: made from another field, well-formed, one of its kind in the type. */
export const slug = defineKind({
  name: 'slug',
  about: 'The last part of a web address, made from another field; unique in its type.',
  guide: {
    en: 'The last part of a web address, which no other entry has',
    de: 'Der letzte Teil einer Webadresse, den kein anderer Eintrag hat',
    fr: 'La fin d’une adresse web, qu’aucune autre fiche ne porte',
    es: 'El final de una dirección web, que ninguna otra ficha tiene',
    it: 'La fine di un indirizzo web, che nessun’altra scheda ha',
    nl: 'Het laatste deel van een webadres, dat geen ander item heeft',
  },
  options: { from: z.string().describe('The text field that it is made from.') },
  example: { options: { from: 'name' }, value: 'skerry-point' },
  mistakes: function* ({ from }, context, home) {
    const kinds = context.kindsOf(home.type) ?? new Map<string, string>();
    const kind = kinds.get(beside(home.field, from));
    if (kind === undefined)
      yield {
        option: 'from',
        misses: from,
        says: `there is no field \`${from}\` in \`${home.type}\``,
        mend: sentences('Name one of its fields.', didYouMean(from, [...kinds.keys()].map(keyOfField))),
      };
    else if (kind !== 'text')
      yield {
        option: 'from',
        says: `\`${from}\` is of kind ${kind}, and a slug is made from a text`,
        mend: 'Name a field of kind text.',
      };
  },
  check:
    (_, { languages: [language] }) =>
    (value, report) => {
      if (typeof value === 'string' && isSlug(value)) return;
      const better = slugify(String(value), language);
      report('malformed-slug', { better });
    },
  changed: { from: presentation },
  from: { text: slugOf, longText: slugOf, choice: (value) => ({ value }), term: (value) => ({ value }) },
  renamed: {
    options: (options, rename, home) =>
      rename.what === 'field' && rename.type === home.type && rename.from === beside(home.field, options.from)
        ? { ...options, from: rename.to }
        : options,
  },
  stores: () => slugShape,
  cel: 'string',
  glance: 0,
  unique: true,
  made: ({ from }, values, { languages: [main = ''] }) => {
    const text = ownValue(values, from);
    const [language = '', source] = (isObject(text) ? Object.entries(text)[0] : [main, text]) ?? [];
    if (typeof source !== 'string') return undefined;
    return slugify(source, language) || undefined;
  },
  gist: ({ from }) => `from ${from}`,
});

function slugOf(value: Json, _: JsonObject, { languages: [language] }: ModelContext) {
  const text = slugify(String(value), language);
  if (text === '') return { problem: 'no letter or digit is left of it' };
  return { value: text };
}
