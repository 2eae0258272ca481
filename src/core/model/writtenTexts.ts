import type { Kind } from '../kinds/define.ts';
import type { Converted, ModelContext } from '../kinds/kindParts.ts';
import type { Json, JsonObject } from '../plain/json.ts';
import { styleNamed } from '../writing/index.ts';
import { hasStyles, type ReadBeside, readerBy, readingsFor } from '../writing/readings.ts';
import type { ReadText, Target } from '../writing/style.ts';
import { usualFirst, Weighing } from '../writing/weighing.ts';
import type { Field } from './link.ts';

/** How the kind of one field takes over single values of another; `undefined` where it does not, or is the same kind. */
export function kindConverter(
  oldField: Field,
  newField: Field,
  context: ModelContext,
): ((value: Json) => Converted) | undefined {
  if (oldField.kind.name === newField.kind.name) return undefined;
  const convert = newField.kind.from[oldField.kind.name];
  if (convert) return (value) => convert(value, newField.options, context);
  return fromFree(oldField, newField, context);
}

/** The kinds whose texts people write freely, so that a style of writing may be looked for in them. */
const freelyWritten: ReadonlySet<string> = new Set(['text', 'longText', 'slug', 'choice', 'json']);

/** Whether texts of one field may be written in some style as values of another. A length is often kept as a time of day. */
export const mayBeWritten = (from: string, to: string): boolean =>
  from !== to && (freelyWritten.has(from) || (from === 'time' && to === 'duration'));

const readValue = (converted: Converted | undefined): ReturnType<ReadText> => {
  if (converted && 'value' in converted) return converted.value as ReturnType<ReadText>;
  return undefined;
};

/** Prepares the question whether a kind takes a value, with all limits of its options. */
function passesCheck(kind: Kind, options: JsonObject, context: ModelContext): (value: Json) => boolean {
  const check = kind.check(options, context);
  return (value) => {
    let isFine = true;
    check(value, () => {
      isFine = false;
    });
    return isFine;
  };
}

/** What the reading of texts of one field as values of another has to know of both; `undefined` where no style is looked for. */
function readBeside(
  oldField: Field,
  newField: Field,
  context: ModelContext,
): readonly [Target, ReadBeside] | undefined {
  if (!mayBeWritten(oldField.kind.name, newField.kind.name)) return undefined;

  const { name: kind } = newField.kind;
  const target: Target = { kind, options: newField.options, languages: context.languages };
  if (!hasStyles(target)) return undefined;

  const convert = kindConverter(oldField, newField, context);
  const readOwn: ReadText = (text) => readValue(convert?.(text));
  const passes = passesCheck(newField.kind, newField.options, context);
  return [target, { ownReading: readOwn, passes }];
}

/** The values that a text may mean in a field, and whether there is one alone that nobody has to confirm. */
interface Meaning {
  readonly values: readonly Json[];
  readonly isSure: boolean;
}

/** The kinds whose own conversion of texts drops what a code has, such as zeros in front, or guesses a unit. */
const ownReadingGuesses: ReadonlySet<string> = new Set(['integer', 'decimal', 'duration']);

/** What a text that no value of a field is written as may mean there: only values that the field takes. */
export function meaningOf(text: string, { kind, options }: Field, context: ModelContext): Meaning {
  const passes = passesCheck(kind, options, context);
  const ownConversion = ownReadingGuesses.has(kind.name) ? undefined : kind.from.text;
  const readOwn: ReadText = (text) => readValue(ownConversion?.(text, options, context));
  const target: Target = { kind: kind.name, options, languages: context.languages };
  if (!hasStyles(target)) return { values: [], isSure: false };

  const readings = readingsFor(target, { ownReading: readOwn, passes })(text).filter(({ value }) => passes(value));
  const [only, ...rest] = readings;
  const isAsked = only?.ways.every((way) => way.some((name) => styleNamed(name)?.asks !== undefined)) ?? true;
  const ordered = usualFirst(readings, target);

  return { values: ordered.map(({ value }) => value), isSure: rest.length === 0 && !isAsked };
}

/** Prepares the reading of one field's texts for another by some styles; `undefined` where no style reads them. */
export function textReader(
  oldField: Field,
  newField: Field,
  context: ModelContext,
  written: readonly string[],
): ReadText | undefined {
  const beside = readBeside(oldField, newField, context);
  return beside && readerBy(written, ...beside);
}

/** Prepares the weighing of all texts of one field, as values of another; `undefined` where no style reads them. */
export function textWeighing(oldField: Field, newField: Field, context: ModelContext): Weighing | undefined {
  const beside = readBeside(oldField, newField, context);
  return beside && new Weighing(...beside);
}

/** Free text stays as it is if it is a value of the other field. */
function fromFree(oldField: Field, newField: Field, context: ModelContext): ((value: Json) => Converted) | undefined {
  if (oldField.kind.name !== 'json') return undefined;
  const passes = passesCheck(newField.kind, newField.options, context);
  return (value) => (passes(value) ? { value } : { problem: `it is no ${newField.kind.name}` });
}
