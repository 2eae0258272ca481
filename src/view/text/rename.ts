import { count, list, listSome } from '../../core/plain/words.ts';
import type { RenameResult } from '../../tasks/rename.ts';
import { glyphs, type Look, next, wrap } from '../look.ts';

/** The renames and moves in the model's files, and what follows for the entries. */
export function renameText(
  { from, to, files, arrives, left: remaining, entries, unreadable = 0, stated }: RenameResult,
  look: Look,
): string {
  const { paint, width } = look;
  const written = files.map(({ file, was: formerName }) =>
    formerName === undefined ? `  ${paint.soft(file)}\n` : `  ${paint.soft(`${formerName} ${glyphs.arrow} ${file}`)}\n`,
  );
  const also =
    arrives.length === 0 ? '' : `  ${wrap(`So are ${listSome(arrives, 5)}, where it arrives.`, width - 2, '  ')}\n`;

  return [
    `${paint.good(glyphs.fine)} ${paint.strong(from)} is ${paint.strong(to)} in the model\n`,
    ...written,
    also,
    remaining.length === 0
      ? ''
      : `  ${paint.warn(glyphs.warn)} ${wrap(`It no longer says ${list(remaining.map((text) => `\`${text}\``))}: that means nothing inside an object.`, width - 4, '    ')}\n`,
    unreadable === 0
      ? ''
      : `  ${paint.warn(glyphs.warn)} ${wrap(`${count(unreadable, 'file or line', 'files or lines')} could not be read as an entry, and ${unreadable === 1 ? 'stays as it is' : 'stay as they are'}: lumbrik check names ${unreadable === 1 ? 'it' : 'them'}.`, width - 4, '    ')}\n`,
    endText({ entries, stated }, look),
  ].join('');
}

/** What follows for the entries. */
function endText({ entries, stated }: Pick<RenameResult, 'entries' | 'stated'>, look: Look): string {
  const { paint } = look;
  if (entries !== undefined)
    return `  ${paint.soft(entries === 0 ? 'No entry mentions it.' : `${count(entries, 'file')} of entries followed: no revision is recorded yet that they would have to obey.`)}\n${next('lumbrik migration undo', 'to take it back, model and entries', look)}`;
  if (stated.length === 0) return `  ${paint.soft('It is back where it was: nothing is stated any more.')}\n`;
  return next('lumbrik diff', 'what that does to the entries, which lumbrik migration draft carries over', look);
}
