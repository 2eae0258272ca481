import { count } from '../../core/plain/words.ts';
import type { DiffResult } from '../../tasks/diff.ts';
import { glyphs, type Look, next } from '../look.ts';
import { changeText, sayEntries, sayReaders } from './change.ts';

/** What brings the entries along: the migration that is drafted, or a draft. */
const migrationHint = ({ migration }: DiffResult, look: Look): string => {
  if (migration)
    return next(`lumbrik migration rehearse ${migration.number}`, `what ${migration.file} does to the entries`, look);
  return next('lumbrik migration draft', 'to bring the entries along', look);
};

/** Two models compared: each change with its effect, then the worst of all of them. */
export function diffText(result: DiffResult, look: Look, areWordsShown = false): string {
  const { paint } = look;
  const { from, to, changes, counted, version } = result;
  const sides = `${from.name} ${glyphs.arrow} ${to.name}`;
  if (changes.length === 0) return `${paint.good(glyphs.fine)} ${paint.strong('No change')}: ${sides}\n`;

  const isWorking = to.name === 'the working files';

  return [
    `${paint.strong(count(changes.length, 'change'))}: ${sides}\n`,
    ...changes.map((change) => `\n${changeText(change, look, areWordsShown)}\n`),
    `\n${paint.strong('In all')}  entries ${sayEntries(result.entries, look)}, readers ${sayReaders(result.readers, look)}${version === undefined ? '' : paint.soft(`; the next version is ${version}`)}\n`,
    counted ? '' : `${paint.soft(`Not counted on the entries: they do not obey ${from.name}.`)}\n`,
    isWorking && counted && result.entries !== 'valid' ? migrationHint(result, look) : '',
    isWorking && result.entries === 'valid'
      ? next('lumbrik seal -m "…"', 'to record the model; the entries can stay as they are', look)
      : '',
  ].join('');
}
