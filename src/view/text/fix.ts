import { grouped } from '../../core/plain/grouped.ts';
import { count } from '../../core/plain/words.ts';
import type { FixOf, FixResult } from '../../tasks/check/fix.ts';
import { fromTo } from '../difference.ts';
import { glyphs, type Look, next, oneLine, sayPointer, wrap } from '../look.ts';

/** What a machine mends, or would, as differences by entry; then what a person has to choose, and what to do next. */
export function fixText({ fixes, unsure, waiting, left: remaining, written, files }: FixResult, look: Look): string {
  const { paint } = look;
  const none = fixes.length + unsure.length === 0;
  if (none)
    return remaining === 0
      ? `${paint.good(glyphs.fine)} ${paint.strong('All fine')}: there is nothing to mend\n`
      : `${paint.strong('Nothing that a machine can mend')}, ${count(remaining, 'finding')} for a person\n${next('lumbrik check', 'to see them', look)}`;

  const verdict = written
    ? `${paint.good(glyphs.fine)} ${paint.strong(`${count(fixes.length, 'fix', 'fixes')} written`)}, ${count(files, 'file')}`
    : `${paint.strong(count(fixes.length, 'fix', 'fixes'))} that ${fixes.length === 1 ? 'is' : 'are'} sure`;
  const rest = [
    unsure.length > 0 ? `${unsure.length} to choose` : '',
    waiting > 0 ? `${count(waiting, 'computed value')} after that` : '',
    remaining > 0 ? `${count(remaining, 'finding')} left for a person` : '',
  ].filter(Boolean);

  return [
    entriesText(fixes, look),
    unsure.length > 0
      ? `\n${paint.warn(glyphs.warn)} Not sure, and left as ${unsure.length === 1 ? 'it is' : 'they are'}:\n${entriesText(unsure, look)}`
      : '',
    `\n${[verdict, ...rest].join('; ')}\n`,
    nextText({ fixes, unsure, written }, look),
  ].join('');
}

function nextText({ fixes, unsure, written }: Pick<FixResult, 'fixes' | 'unsure' | 'written'>, look: Look): string {
  if (written)
    return `${next('lumbrik check', 'to look at the entries as they are now', look)}${next('lumbrik migration undo', 'to take it back, byte for byte', look).trimStart()}`;
  const write = fixes.length > 0 ? next('lumbrik check --fix --yes', 'to write what is sure', look) : '';
  const ask = unsure.length > 0 ? next('lumbrik check --fix --ask', 'to choose the others, one by one', look) : '';
  if (write === '') return ask;
  return write + ask.trimStart();
}

/** The same while a person is asked: sure parts, and nothing of what to do next. */
export const sureText = ({ fixes }: FixResult, look: Look): string => {
  if (fixes.length === 0) return '';
  return `${entriesText(fixes, look)}\n${look.paint.strong(count(fixes.length, 'fix', 'fixes'))} that ${fixes.length === 1 ? 'is' : 'are'} sure\n`;
};

const entriesText = (fixes: readonly FixOf[], look: Look): string =>
  [...grouped(fixes, ({ entry, file }) => `${entry} ${file}`).values()]
    .map((group) => {
      const [first] = group;
      return `${look.paint.strong(first?.entry ?? '')}  ${look.paint.soft(first?.file ?? '')}\n${group.map((fix) => lineOf(fix, look)).join('')}`;
    })
    .join('\n');

function lineOf(fix: FixOf, look: Look): string {
  const { paint, width } = look;
  const field = sayPointer(fix.pointer);
  const change = fixChange(fix, width - 6 - field.length, look);
  return `  ${paint.name(field)}  ${wrap(`${change} ${paint.soft(`(${fix.finding})`)}`, width - 4, '    ')}\n`;
}

/** What is put in the place of what, with the other choices where there are any. */
function fixChange({ before, choices, isKey, pointer }: FixOf, width: number, look: Look): string {
  const [first, ...rest] = choices;
  const or = rest.length > 0 ? look.paint.soft(` or ${rest.map((other) => oneLine(other, 30)).join(', ')}`) : '';
  const key = sayPointer(pointer).split('.').at(-1);
  const change = isKey ? `called ${fromTo(key, first, width, look)}` : fromTo(before, first, width, look);
  return change + or;
}

/** The report above the question for one fix: which entry it is in. */
export const fixLead = (
  { entry, file }: FixOf,
  { number, of: total }: { readonly number: number; readonly of: number },
  { paint }: Look,
): string => `\n${paint.soft(`${number} of ${total}`)}  ${paint.strong(entry)}  ${paint.soft(file)}\n`;

/** The problem there. */
export const fixMessage = ({ pointer, says: message }: FixOf): string => `${sayPointer(pointer)} ${message}`;

/** What may be put there. */
export const fixChoices = (fix: FixOf, look: Look): readonly string[] =>
  fix.choices.map((choice) => fixChange({ ...fix, choices: [choice] }, look.width - 8, look));
