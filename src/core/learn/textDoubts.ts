import { isFreeText, isOfWords, isReference } from '../kinds/traits.ts';
import { count, list, quote } from '../plain/words.ts';
import type { FieldStatistics } from './fieldStatistics.ts';
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

/** What texts are treated as, with their alternatives. */
export function textOf(name: string, statistics: FieldStatistics, learning: Learning): Value {
  const texts = textsOf(name, statistics, learning);
  const value = takenFor(texts);
  const doubt = doubtOf(texts, value);
  if (!doubt) return value;
  return { ...value, doubt };
}

/** Of values that stand less often than this, on average, it is not sure that no others come. */
const surelyOften = 2 * often;

/** The other kinds that texts could be. */
function doubtOf(texts: Texts, value: Value): Doubt | undefined {
  const doubts = [writtenOtherwise, pointingElse, noChoices, noReferences, choicesElse, choicesBesideBlanks].flatMap(
    (doubting) => doubting(texts, value) ?? [],
  );
  const [first] = doubts;
  if (!first) return undefined;

  const otherValues = doubts.map((doubt) => doubt.other);
  const names = [value, ...otherValues].map(({ definition }) => String(definition.kind));
  return { asks: doubts.length === 1 ? first.asks : `Is it of the kind ${list(names, 'or')}?`, others: otherValues };
}

type Doubting = (texts: Texts, value: Value) => { readonly asks: string; readonly other: Value } | undefined;

const writtenOtherwise: Doubting = (texts, { definition }) => {
  const { statistics } = texts;
  const kind = writtenKinds.find(
    (writtenKind) => (statistics.text.written.get(writtenKind) ?? 0) >= half * statistics.texts,
  );
  if (!kind || !(isFreeText(definition) || isOfWords(definition))) return undefined;
  return { asks: 'Are those that are written otherwise mistakes?', other: writtenAs(kind, texts) };
};

const pointingElse: Doubting = (texts, { definition }) => {
  const isOwn = texts.statistics.ownIds * 2 > texts.statistics.texts;
  const other = isFreeText(definition) || isOfWords(definition) ? pointing(texts, half, isOwn) : undefined;
  return other && { asks: asksPointing(other), other };
};

const noReferences: Doubting = (texts, value) => {
  const isSure = !isReference(value.definition) || (value.against === 0 && texts.statistics.texts >= enough);
  if (isSure) return undefined;
  return { asks: asksPointing(value), other: proseOf(texts) };
};

const asksPointing = ({ definition }: Value): string =>
  `Do they name entries of ${list([definition.to].flat().map(String))}?`;

const noChoices: Doubting = (texts, { definition }) => {
  const isThin = texts.statistics.texts < surelyOften * texts.different;
  if (!isThin || !isOfWords(definition)) return undefined;

  // A vocabulary is open: authors add to it.
  const isOpen = definition.kind === 'term';
  const asks = isOpen
    ? `Do these ${texts.different} make a vocabulary?`
    : `Are these ${texts.different} all that there can be?`;

  return { asks, other: proseOf(texts) };
};

const choicesElse: Doubting = (texts, { definition }) => {
  const { statistics, different } = texts;
  const isFew =
    different > 1 && different <= mostChoices && statistics.texts >= fewest + 2 && statistics.texts >= 1.5 * different;
  if (!isFreeText(definition) || statistics.lists > 0 || !isFew || !isVocabulary(texts)) return undefined;
  return { asks: `Is it always one of these ${different}?`, other: choicesOf(texts) };
};

/** Words of which some have blanks around them: but for those they would be a list. */
const choicesBesideBlanks: Doubting = (texts, { definition }) => {
  const trimmed = isFreeText(definition) && texts.statistics.lists === 0 ? trimmedTexts(texts) : undefined;
  if (!trimmed || trimmed.untrimmed * 4 > texts.statistics.texts) return undefined;

  const { words, untrimmed, example } = trimmed;
  const isFew = words.different <= mostChoices && texts.statistics.texts >= often * words.different;
  const other = isFew ? wordsIn(texts, choicesOf) : undefined;
  const asks = `${quote(example, 20)} has blanks around it (${count(untrimmed, 'value')}): is it else always one of these ${words.different}?`;
  return other && { asks, other };
};
