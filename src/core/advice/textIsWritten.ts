import type { FieldDoc } from '../definition/field.ts';
import { linkField, type Model } from '../model/link.ts';
import { meaningOf } from '../model/writtenTexts.ts';
import { count, quote } from '../plain/words.ts';
import { unitOfWord, wordBeside } from '../writing/unit.ts';
import { type Advice, enough, ownFields, type UsedField } from './define.ts';

/** So large a share of the most frequent values has to be written as values of another kind. */
const share = 0.9;

/** So many different values, at least, say of what kind they are. */
const fewestValues = 5;

/** Words in the names of fields that hold a length of time. */
const lengthNames =
  /duration|length|runtime|dauer|länge|laenge|spielzeit|laufzeit|durée|duree|durata|duración|duracion|duur/iu;

/** A kind that the texts of a field are written as, with a text and its value. */
interface WrittenAs {
  readonly field: FieldDoc;
  readonly example: string;
}

/** The definitions that texts may be written as, the surest first. */
function candidates(texts: readonly string[], languages: readonly string[]): readonly FieldDoc[] {
  const words = texts.flatMap((text) => wordBeside(text.trim()) ?? []);
  const [word] = words.toSorted((a, b) => occurrences(words, b) - occurrences(words, a));
  const unit = word === undefined ? undefined : unitOfWord(word, languages);
  const numbers: readonly FieldDoc[] = unit === undefined ? [] : [{ kind: 'decimal', unit }];
  return [{ kind: 'boolean' }, { kind: 'date' }, { kind: 'duration' }, { kind: 'time' }, ...numbers];
}

const occurrences = (words: readonly string[], word: string): number => words.filter((other) => other === word).length;

/** The kind that most of a field's frequent texts are written as; `undefined` where they are texts. */
export function writtenAs({ type, field, profile }: UsedField, context: Model['context']): WrittenAs | undefined {
  if (field.kind.freeText !== 'line' || field.common.unique) return undefined;

  const texts = profile.frequent.flatMap(({ value }) => (typeof value === 'string' ? [value] : []));

  const writingOf = (definition: FieldDoc): WrittenAs | undefined => {
    const target = linkField({ type: type.name }, field.name, definition);
    const read = target ? texts.filter((text) => meaningOf(text, target, context).values.length > 0) : [];
    const [example] = read;
    const needed = definition.kind === 'boolean' ? 2 : fewestValues;
    const isEnough = read.length >= needed && read.length >= share * texts.length;
    if (example !== undefined && isEnough) return { field: definition, example };
    return undefined;
  };

  for (const definition of candidates(texts, context.languages)) {
    // A clock may show a time of day or a length; only a name says that it is a length.
    const isClock = definition.kind === 'duration' && texts.some((text) => /^\d+:\d/u.test(text.trim()));
    const isBare = definition.kind === 'duration' && texts.every((text) => /^\d+$/u.test(text.trim()));
    if (isBare || (isClock && !lengthNames.test(field.name))) continue;
    const written = writingOf(definition);
    if (written) return written;
  }

  return undefined;
}

/** Whether a field of times holds lengths: by its name, or since most of them start with an hour of nought. */
function holdsLengths({ field, profile }: UsedField): boolean {
  const times = profile.frequent.map(({ value }) => String(value));
  const short = times.filter((time) => time.startsWith('00:')).length;
  return (
    times.length > 0 && (lengthNames.test(field.name) || lengthNames.test(field.label) || short * 2 > times.length)
  );
}

const sayDefinition = ({ kind, unit }: FieldDoc): string => {
  if (unit === undefined) return `\`kind: ${kind}\``;
  return `\`kind: ${kind}, unit: ${inYaml(String(unit))}\``;
};

/** A text as YAML takes it for one: in quotes where it has other signs than letters. */
const inYaml = (text: string): string => {
  if (/^\p{L}+$/u.test(text)) return text;
  return JSON.stringify(text);
};

/** A text whose values are numbers, days, times or addresses. */
export const textIsWritten: Advice = {
  name: 'text-is-written',
  why: 'A value of the right kind can be sorted, compared and checked.',
  *find(reviewed) {
    const { context } = reviewed.model;
    for (const used of ownFields(reviewed)) {
      const { field, profile } = used;
      const { address, values } = profile;
      if (values < enough) continue;

      if (field.kind.name === 'time' && holdsLengths(used))
        yield {
          at: address,
          says: `${count(values, 'time of day', 'times of day')} seem to be lengths of time, such as ${quote(profile.frequent[0]?.value)}`,
          mend: 'Give it `kind: duration`: a migration converts them.',
          command: `lumbrik profile ${address}`,
        };

      const written = writtenAs(used, context);
      if (!written) continue;
      yield {
        at: address,
        says: `${count(values, 'text')} are written as values of ${written.field.kind}, such as ${quote(written.example, 24)}`,
        mend: `Give it ${sayDefinition(written.field)}: a migration converts them.`,
        command: `lumbrik profile ${address}`,
      };
    }
  },
};
