import { count } from '../../core/plain/words.ts';
import type { RehearseResult } from '../../tasks/migration/rehearse.ts';
import { oneLine, sayPointer } from '../look.ts';
import { code, escaped } from './markdown.ts';

/** A rehearsal as Markdown (with tables) that fits into the comment of a review. */
export function rehearseMarkdown(result: RehearseResult): string {
  const {
    file,
    from,
    to,
    steps,
    lost,
    errorsBefore,
    errorsAfter,
    findings,
    findingsAfter,
    changed,
    entries,
    made: createdCount,
  } = result;
  const rows = steps.map(
    (step) => `| ${step.step} | ${step.verb} ${code(step.address)} | ${reachOf(step)} | ${examplesOf(step)} |`,
  );
  const losses = lost
    .slice(0, mostListed)
    .map(
      ({ entry, pointer, value, why: reason, becomes }) =>
        `| ${code(entry)} | ${escaped(sayPointer(pointer))} | ${escaped(oneLine(value, longest))} | ${becomes === undefined ? 'lost' : escaped(oneLine(becomes, longest))} | ${escaped(reason)} |`,
    );
  const errors = findingsAfter
    .slice(0, mostListed)
    .map(
      ({ entry, pointer, says: message, isNew, step }) =>
        `| ${code(entry)} | ${escaped(`${sayPointer(pointer)} ${message}`)} | ${isNew ? `new${step === undefined ? '' : `, by step ${step}`}` : 'as before'} |`,
    );

  return [
    `**${code(file)}** rehearsed (${escaped(`${from} → ${to}`)}): ${changed} of ${count(entries, 'entry', 'entries')} would be written, ${createdCount} would be new.\n\n`,
    `| step | | entries | for example |\n| --- | --- | --- | --- |\n${rows.join('\n')}\n`,
    lost.length === 0
      ? '\nNothing is lost.\n'
      : `\n**${count(lost.length, 'value')} lost or replaced**, kept in the journal alone${more(lost.length)}:\n\n| entry | field | value | becomes | why |\n| --- | --- | --- | --- | --- |\n${losses.join('\n')}\n`,
    `\n**${errorsAfter === 0 ? 'Clean afterwards' : `${count(errorsAfter, 'error')} afterwards`}** (${findings.new} new, ${findings.left} as before), ${count(errorsBefore, 'error')} before${more(errorsAfter)}.\n`,
    errors.length === 0 ? '' : `\n| entry | finding | |\n| --- | --- | --- |\n${errors.join('\n')}\n`,
  ].join('');
}

const mostListed = 20;
const longest = 60;

const more = (total: number): string => {
  if (total > mostListed) return ` (the first ${mostListed} are listed)`;
  return '';
};

function reachOf({ entries, made: created, open }: RehearseResult['steps'][number]): string {
  const parts = [
    ...(entries > 0 ? [count(entries, 'entry changes', 'entries change')] : []),
    ...(created.length > 0 ? [count(created.length, 'entry is new', 'entries are new')] : []),
    ...(open === undefined ? [] : [`**open:** ${escaped(open)}`]),
  ];
  if (parts.length === 0) return 'none';
  return parts.join('<br>');
}

const examplesOf = ({ samples }: RehearseResult['steps'][number]): string =>
  samples
    .map(({ entry, pointer, before, after, movedTo, becomes }) => {
      if (becomes !== undefined) return `${code(entry)} → ${code(becomes)}`;
      const field = escaped(sayPointer(pointer));
      if (movedTo !== undefined) return `${code(entry)} ${field} → ${escaped(sayPointer(movedTo))}`;
      const side = (value: unknown): string => {
        if (value === undefined) return 'nothing';
        return escaped(oneLine(value, longest));
      };
      return `${code(entry)} ${field}: ${side(before)} → ${side(after)}`;
    })
    .join('<br>');
