import { z } from 'zod';
import { idRule, isId } from '../definition/address.ts';
import { Wording, wordingMistake, wordsIn } from '../definition/wording.ts';
import { isObject, type Json } from '../plain/json.ts';
import { nearest } from '../plain/nearest.ts';
import { humanize } from '../plain/words.ts';
import { allowed } from './compatibility.ts';
import { membersMeant } from './conversions.ts';
import { defineKind } from './define.ts';

type Listed = { readonly choice: string; readonly label?: Wording | undefined };

const Id = z.string().refine(isId, { error: idRule });
const Choice = z.union([
  Id.transform((choice): Listed => ({ choice })),
  z.strictObject({ choice: Id, label: Wording.optional() }),
]);

/** One value of a closed list that belongs to this field alone, in an order given by hand. */
export const choice = defineKind({
  name: 'choice',
  about: 'One of a short closed list that belongs to this field alone.',
  options: {
    choices: z
      .array(Choice)
      .min(1)
      .describe('What may be chosen, in this order; with a label as { choice: …, label: … }.'),
  },
  example: { options: { choices: ['easy', { choice: 'very-hard', label: 'Very hard' }] }, value: 'easy' },
  mistakes: function* ({ choices }, { languages }) {
    const usedLabels = new Set<string>();
    for (const { choice, label } of choices) {
      const mistake = wordingMistake(label, languages);
      if (mistake) yield { option: 'choices', ...mistake };
      if (usedLabels.has(choice))
        yield { option: 'choices', says: `the choice \`${choice}\` stands twice`, mend: 'Remove one.' };
      usedLabels.add(choice);
    }
  },
  check: ({ choices }) => {
    const names = choices.map(({ choice }) => choice);
    const knownNames = new Set(names);
    return (value, report) => {
      if (typeof value === 'string' && knownNames.has(value)) return;
      report('not-a-choice', { choices: names, near: nearest(String(value), names) }, { limit: names });
    };
  },
  changed: { choices: allowed((item) => (isObject(item) ? String(item.choice) : String(item))) },
  from: { text: meant, longText: meant, slug: meant, term: meant, boolean: meant, integer: meant },
  members: ({ choices }, readingOrder = []) =>
    choices.map(({ choice, label }) => ({ name: choice, label: wordsIn(label, readingOrder) ?? humanize(choice) })),
  renamed: {
    options: (options, rename, home) =>
      rename.what === 'choice' && rename.type === home.type && rename.field === home.field
        ? {
            ...options,
            choices: options.choices.map((item) =>
              item.choice === rename.from ? { ...item, choice: rename.to } : item,
            ),
          }
        : options,
    value: (value, _options, rename, home) =>
      rename.what === 'choice' && rename.type === home.type && rename.field === home.field && value === rename.from
        ? rename.to
        : value,
  },

  stores: ({ choices }) => ({ is: 'one of', values: choices.map(({ choice }) => choice) }),
  say: (value, language, { choices }) => {
    const label = wordsIn(choices.find(({ choice: name }) => name === value)?.label, [language]);
    if (label === undefined) return undefined;
    return `${label} (${String(value)})`;
  },
  cel: 'string',
  glance: 0.8,
  gist: ({ choices }) => choices.map(({ choice }) => choice).join(' · '),
});

function meant(value: Json, { choices }: { readonly choices: readonly Listed[] }) {
  const words = choices.flatMap(({ choice, label = choice }) =>
    (typeof label === 'string' ? [label] : Object.values(label)).map((text) => [choice, text] as const),
  );
  const [name] = membersMeant(words)(String(value));
  if (name === undefined) return { problem: 'it is none of the choices' };
  return { value: name };
}
