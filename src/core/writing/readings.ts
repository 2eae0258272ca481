import { once } from '../plain/once.ts';
import { styleNamed, writingStyles } from './index.ts';
import { numberReaders, readPlainNumber } from './numbers.ts';
import { type ReadNumber, type ReadText, readerOf, type Target } from './style.ts';

type Value = NonNullable<ReturnType<ReadText>>;

/** A value that a text may mean, and the sets of styles by each of which it means that. */
export interface Reading {
  readonly value: Value;
  readonly ways: readonly (readonly string[])[];
}

/** What the field itself has to do with the reading of its texts. */
export interface ReadBeside {
  /** Reads a text as the kind alone does, without any style; `undefined` where it does not. */
  readonly ownReading: ReadText;
  /** Whether the field takes a value, limits and all. */
  readonly passes: (value: Value) => boolean;
}

interface Reader {
  readonly by: readonly string[];
  readonly read: ReadText;
}

/** The kinds whose values have numbers in them. */
const numericKinds: ReadonlySet<string> = new Set(['integer', 'decimal', 'duration']);

/** Every reader for a field: each style alone, and with each decimal mark. */
function readersFor(target: Target): readonly Reader[] {
  const marks: readonly (readonly [names: readonly string[], read: ReadNumber])[] = [
    [[], readPlainNumber],
    ...(numericKinds.has(target.kind) ? [...numberReaders].map(([name, read]) => [[name], read] as const) : []),
  ];
  return writingStyles.flatMap((style) =>
    marks.flatMap(([names, readNumber]): readonly Reader[] => {
      const read = names.includes(style.name) ? undefined : readerOf(style, target, readNumber);
      const isMarkTwice = names.length > 0 && numberReaders.has(style.name);
      if (read && !isMarkTwice) return [{ by: [style.name, ...names], read }];
      return [];
    }),
  );
}

/** Whether texts of a field can be written in other ways than the one in which values of its kind are stored. */
export const hasStyles = (target: Target): boolean =>
  writingStyles.some((style) => readerOf(style, target, readPlainNumber) !== undefined);

/**
 * Compiles all readings of a text. Where some of the values pass the field's check, those alone count.
 * @returns one reading for each value, those first that need the fewest styles; none where no style reads the text.
 */
export function readingsFor(target: Target, { ownReading, passes }: ReadBeside): (text: string) => readonly Reading[] {
  const readers = once(() => readersFor(target));
  return (text) => {
    const trimmed = text.trim();
    const ways = new Map<Value, (readonly string[])[]>();
    for (const { by, read } of [{ by: [], read: ownReading }, ...readers()]) {
      const value = read(trimmed);
      if (value !== undefined) ways.set(value, [...(ways.get(value) ?? []), by]);
    }

    const readings = [...ways].map(([value, by]): Reading => ({ value, ways: by }));
    const passing = readings.filter(({ value }) => passes(value));
    if (passing.length === 0) return readings;

    return passing;
  };
}

/**
 * Compiles the reading of texts by some styles, in their order: the first that gives a value which passes, or else the
 * first that gives one at all.
 * @param names the names of the styles: decimal marks also apply to the numbers inside other styles.
 */
export function readerBy(names: readonly string[], target: Target, { ownReading, passes }: ReadBeside): ReadText {
  const marks = names.flatMap((name) => numberReaders.get(name) ?? []);
  const readNumber: ReadNumber = (text) => {
    for (const read of [...marks, readPlainNumber]) {
      const number = read(text);
      if (number !== undefined) return number;
    }
    return undefined;
  };

  const named = names.flatMap((name) => {
    const styles = writingStyles.filter((style) => style.name === name);
    return styles.flatMap((style) => readerOf(style, target, readNumber) ?? []);
  });

  return (text) => {
    const values = [...named, ownReading].flatMap((read) => read(text.trim()) ?? []);
    return values.find(passes) ?? values[0];
  };
}

/** The choice that a style is one answer to, by name. */
export const choiceOf = (name: string): string | undefined => styleNamed(name)?.choice;
