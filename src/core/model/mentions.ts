import { celName, keyOfField } from '../definition/fieldName.ts';
import { asJson, type ModelDoc } from '../definition/model.ts';
import type { Rename } from '../definition/rename.ts';
import type { TypeDoc } from '../definition/type.ts';
import { isList, isObject, type Json, type JsonObject } from '../plain/json.ts';
import { onceFor } from '../plain/once.ts';

/** Whether only the key of a field gets another name: no expression, option or title mentions it. */
export const isKeyAlone = (model: ModelDoc, rename: Rename): boolean =>
  rename.what === 'field' && !rename.from.includes('.') && !isMentioned(model, rename);

function isMentioned(model: ModelDoc, rename: Rename): boolean {
  const name = keyOfField(rename.from);
  if (isWord(name)) return wordsOfModel(model).has(name);
  const mention = mentionsOf(rename);
  const { types, shared } = model;
  return Object.values(types).some((type) => mention.inType(type)) || (shared !== undefined && mention.in(shared));
}

/** All that a definition says, as one text. */
const textOf = onceFor((definition: object): string => JSON.stringify(definition));

/** All but what a type calls its own fields: many types have a field of the same name. */
const withoutNames = onceFor((type: TypeDoc): JsonObject => asJson({ ...type, fields: Object.values(type.fields) }));

/** The words in all texts and keys of that. */
const wordsOfType = onceFor((type: TypeDoc): ReadonlySet<string> => {
  const words = new Set<string>();
  addWords(withoutNames(type), words);
  return words;
});

/** The same of all types, and of shared parts. */
const wordsOfModel = onceFor(({ types, shared }: ModelDoc): ReadonlySet<string> => {
  const words = new Set<string>();
  for (const type of Object.values(types)) addWords(withoutNames(type), words);
  if (shared) addWords(asJson(shared), words);
  return words;
});

function addWords(value: Json, words: Set<string>): void {
  if (typeof value === 'string') addWordsOfText(value, words);
  else if (isList(value)) for (const item of value) addWords(item, words);
  else if (isObject(value))
    for (const key of Object.keys(value)) {
      addWordsOfText(key, words);
      addWords(value[key] ?? null, words);
    }
}

function addWordsOfText(text: string, words: Set<string>): void {
  // Most were met before. That the text itself is among the words does no harm: none is looked for that is more than one.
  if (words.has(text)) return;
  words.add(text);
  for (const word of text.match(/\w+/gu) ?? []) words.add(word);
}

/** What can mention something that gets another name: where the name stands nowhere, nothing does. */
export interface Mention {
  readonly in: (definition: object) => boolean;
  readonly inType: (type: TypeDoc) => boolean;
}

const isWord = (name: string): boolean => /^\w+$/u.test(name);

/** Finds the parts of a model that mention a name. */
export function mentionsOf({ from }: Rename): Mention {
  const name = keyOfField(from);
  const spellings = [JSON.stringify(name).slice(1, -1), celName(name)];
  const isIn = (definition: object): boolean => spellings.some((spelling) => textOf(definition).includes(spelling));
  return { in: isIn, inType: (type) => (isWord(name) ? wordsOfType(type).has(name) : isIn(withoutNames(type))) };
}
