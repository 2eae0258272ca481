import type { Converted, Kind, ModelContext } from '../kinds/define.ts';
import type { Json, JsonObject } from '../plain/json.ts';
import { styleNamed } from '../writing/index.ts';
import { hasStyles, type ReadBeside, readerBy, readingsFor } from '../writing/readings.ts';
import type { ReadText, Target } from '../writing/style.ts';
import { usualFirst, Weighing } from '../writing/weighing.ts';
import type { Field } from './link.ts';

/** How the kind of one field takes over single values of another; `undefined` where it does not, or is the same kind. */
export function kindConverter(was: Field, is: Field, context: ModelContext): ((value: Json) => Converted) | undefined {
  if (was.kind.name === is.kind.name) return undefined;
  const convert = is.kind.from[was.kind.name];
  return convert ? (value) => convert(value, is.options, context) : fromFree(was, is, context);
}

/** The kinds whose texts people write freely, so that a style of writing may be looked for in them. */
const freelyWritten: ReadonlySet<string> = new Set(['text', 'longText', 'slug', 'choice', 'json']);

/** Whether texts of one field may be written in some style as values of another. A length is often kept as a time of day. */
export const mayBeWritten = (from: string, to: string): boolean =>
  from !== to && (freelyWritten.has(from) || (from === 'time' && to === 'duration'));

const readValue = (converted: Converted | undefined): ReturnType<ReadText> =>
  converted && 'value' in converted ? (converted.value as ReturnType<ReadText>) : undefined;

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
function readBeside(was: Field, is: Field, context: ModelContext): readonly [Target, ReadBeside] | undefined {
  if (!mayBeWritten(was.kind.name, is.kind.name)) return undefined;
  const { name: kind } = is.kind;
  const target: Target = { kind, options: is.options, languages: context.languages };
  if (!hasStyles(target)) return undefined;
  const convert = kindConverter(was, is, context);
  const own: ReadText = (text) => readValue(convert?.(text));
  const passes = passesCheck(is.kind, is.options, context);
  return [target, { own, passes }];
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
  const own: ReadText = (one) => readValue(ownConversion?.(one, options, context));
  const target: Target = { kind: kind.name, options, languages: context.languages };
  if (!hasStyles(target)) return { values: [], isSure: false };
  const readings = readingsFor(target, { own, passes })(text).filter(({ value }) => passes(value));
  const [only, ...others] = readings;
  const isAsked = only?.ways.every((way) => way.some((name) => styleNamed(name)?.asks !== undefined)) ?? true;
  const ordered = usualFirst(readings, target);
  return { values: ordered.map(({ value }) => value), isSure: others.length === 0 && !isAsked };
}

/** Prepares the reading of one field's texts for another by some styles; `undefined` where no style reads them. */
export function textReader(
  was: Field,
  is: Field,
  context: ModelContext,
  written: readonly string[],
): ReadText | undefined {
  const beside = readBeside(was, is, context);
  return beside && readerBy(written, ...beside);
}

/** Prepares the weighing of all texts of one field, as values of another; `undefined` where no style reads them. */
export function textWeighing(was: Field, is: Field, context: ModelContext): Weighing | undefined {
  const beside = readBeside(was, is, context);
  return beside && new Weighing(...beside);
}

/** What was free stays as it is, where that is a value of the other field by itself. */
function fromFree(was: Field, is: Field, context: ModelContext): ((value: Json) => Converted) | undefined {
  if (was.kind.name !== 'json') return undefined;
  const passes = passesCheck(is.kind, is.options, context);
  return (value) => (passes(value) ? { value } : { problem: `it is no ${is.kind.name}` });
}
