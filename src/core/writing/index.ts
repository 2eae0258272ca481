import { unitNames } from '../plain/duration.ts';
import { clock } from './clock.ts';
import { dayOrder, digitStyles, namedMonthStyles } from './days.ts';
import { dayWithTimeStyles } from './dayWithTime.ts';
import { fraction } from './fraction.ts';
import { bareUnit, clockLength, lengthStyles } from './length.ts';
import { decimalMark, numberStyles } from './numbers.ts';
import { percentChoice, percentStyles } from './percent.ts';
import { type Choice, readerOf, type WritingStyle } from './style.ts';
import { unit, wordAfter } from './unit.ts';
import { withoutScheme } from './webAddress.ts';
import { tick, yesNo } from './yesNo.ts';

/** Every way of writing, those first that change the least; styles of one name read different kinds. */
export const writingStyles: readonly WritingStyle[] = [
  ...numberStyles,
  unit,
  ...percentStyles,
  fraction,
  wordAfter,
  ...digitStyles,
  ...namedMonthStyles,
  ...dayWithTimeStyles,
  clock,
  ...lengthStyles,
  yesNo,
  tick,
  withoutScheme,
];

/** The choices between styles, by the name that the styles give them. */
export const choices: ReadonlyMap<string, Choice> = new Map([
  ['decimal-mark', decimalMark],
  ['percent', percentChoice],
  ['day-order', dayOrder],
  ['clock-length', clockLength],
  ['bare-unit', bareUnit],
]);

const byName: ReadonlyMap<string, WritingStyle> = new Map(writingStyles.map((style) => [style.name, style]));

/** A style by its name; `undefined` where there is none. */
export const styleNamed = (name: string): WritingStyle | undefined => byName.get(name);

/** How texts of a style are written, behind “are written”; the name itself where there is no such style. */
export const sayStyle = (name: string): string => styleNamed(name)?.says ?? name;

/** The names of all styles, each once. */
export const styleNames: readonly string[] = [...byName.keys()];

/** Options with which every style of a kind reads: a unit, all units of time, and times that keep no distance to UTC. */
const anyOptions = { offset: 'none', unit: 'm', units: [...unitNames] };

/** Whether a style reads texts as values of a kind, with some options. */
export const styleReads = (name: string, kind: string): boolean =>
  writingStyles.some(
    (style) =>
      style.name === name &&
      [{}, anyOptions].some((options) => readerOf(style, { kind, options, languages: ['en'] }, Number) !== undefined),
  );
