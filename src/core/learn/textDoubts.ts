import type { JsonObject } from '../plain/json.ts';
import { count, list, quote } from '../plain/words.ts';
import type { Seen } from './fieldStatistics.ts';
import {
  choicesOf,
  enough,
  fewest,
  half,
  isVocabulary,
  mostChoices,
  often,
  pointing,
  proseOf,
  type Texts,
  takenFor,
  textsOf,
  trimmedTexts,
  wordsIn,
  writtenAs,
} from './readTexts.ts';
import { writtenKinds } from './textStatistics.ts';
import type { Doubt, Learning, Value } from './value.ts';

/** What texts are taken for, with what they may be as well. */
export function textOf(name: string, seen: Seen, learning: Learning): Value {
  const texts = textsOf(name, seen, learning);
  const taken = takenFor(texts);
  const doubt = doubtOf(texts, taken);
  return doubt ? { ...taken, doubt } : taken;
}

/** Of values that stand less often than this, on average, it is not sure that no others come. */
const surelyOften = 2 * often;

/** What texts may be as well as what they are taken for. */
function doubtOf(texts: Texts, taken: Value): Doubt | undefined {
  const all = [writtenOtherwise, pointingElse, noChoices, noReferences, choicesElse, choicesBesideBlanks].flatMap(
    (one) => one(texts, taken) ?? [],
  );
  const [first] = all;
  if (!first) return undefined;
  const others = all.map((one) => one.other);
  const names = [taken, ...others].map(({ says }) => String(says.kind));
  return { asks: all.length === 1 ? first.asks : `Is it of the kind ${list(names, 'or')}?`, others };
}

type Doubting = (texts: Texts, taken: Value) => { readonly asks: string; readonly other: Value } | undefined;

const isPlain = ({ kind }: JsonObject): boolean => kind === 'text' || kind === 'longText' || kind === 'markdown';
const isOfWords = ({ kind }: JsonObject): boolean => kind === 'choice' || kind === 'term';

const writtenOtherwise: Doubting = (texts, { says }) => {
  const { seen } = texts;
  const kind = writtenKinds.find((one) => (seen.text.written.get(one) ?? 0) >= half * seen.texts);
  if (!kind || !(isPlain(says) || isOfWords(says))) return undefined;
  return { asks: 'Are those that are written otherwise mistakes?', other: writtenAs(kind, texts) };
};

const pointingElse: Doubting = (texts, { says }) => {
  const isOwn = texts.seen.ownIds * 2 > texts.seen.texts;
  const other = isPlain(says) || isOfWords(says) ? pointing(texts, half, isOwn) : undefined;
  return other && { asks: asksPointing(other), other };
};

const noReferences: Doubting = (texts, taken) => {
  const isSure = taken.says.kind !== 'reference' || (taken.against === 0 && texts.seen.texts >= enough);
  return isSure ? undefined : { asks: asksPointing(taken), other: proseOf(texts) };
};

const asksPointing = ({ says }: Value): string => `Do they name entries of ${list([says.to].flat().map(String))}?`;

const noChoices: Doubting = (texts, { says }) => {
  const isThin = texts.seen.texts < surelyOften * texts.different;
  if (!isThin || !isOfWords(says)) return undefined;
  // A vocabulary is open: authors add to it.
  const isOpen = says.kind === 'term';
  const asks = isOpen
    ? `Do these ${texts.different} make a vocabulary?`
    : `Are these ${texts.different} all that there can be?`;
  return { asks, other: proseOf(texts) };
};

const choicesElse: Doubting = (texts, { says }) => {
  const { seen, different } = texts;
  const isFew = different > 1 && different <= mostChoices && seen.texts >= fewest + 2 && seen.texts >= 1.5 * different;
  if (!isPlain(says) || seen.lists > 0 || !isFew || !isVocabulary(texts)) return undefined;
  return { asks: `Is it always one of these ${different}?`, other: choicesOf(texts) };
};

/** Words of which some have blanks around them: but for those they would be a list. */
const choicesBesideBlanks: Doubting = (texts, { says }) => {
  const trimmed = isPlain(says) && texts.seen.lists === 0 ? trimmedTexts(texts) : undefined;
  if (!trimmed || trimmed.odd * 4 > texts.seen.texts) return undefined;
  const { words, odd, example } = trimmed;
  const isFew = words.different <= mostChoices && texts.seen.texts >= often * words.different;
  const other = isFew ? wordsIn(texts, choicesOf) : undefined;
  const asks = `${quote(example, 20)} has blanks around it (${count(odd, 'value')}): is it else always one of these ${words.different}?`;
  return other && { asks, other };
};
