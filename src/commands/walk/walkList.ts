import path from 'node:path';
import { stripVTControlCharacters } from 'node:util';
import type { Call } from '../../tasks/call.ts';
import { entryPlace } from '../../tasks/entryPlace.ts';
import { type ListCall, list } from '../../tasks/list.ts';
import { harmless } from '../../view/harmless.ts';
import { type Look, lookFor } from '../../view/look.ts';
import { listHeading, listTable } from '../../view/text/list.ts';
import { startEditor } from '../../workspace/platform.ts';
import { Trouble } from '../../workspace/trouble.ts';
import { answered } from '../ask/answered.ts';
import { listView } from './listView.ts';

/** More rows nobody walks through: a condition finds fewer. */
const mostWalked = 5000;

/** Walks through a list: an entry that is opened and saved is there as it is by then. */
export async function walkList(call: Call, request: ListCall): Promise<void> {
  const look = { ...lookFor(process.stdout, undefined), width: Math.max(60, (process.stdout.columns ?? 100) - 2) };
  let from = { at: 0, query: '' };
  for (;;) {
    const result = harmless(await list(call, { ...request, limit: mostWalked }));
    const { title, rows } = listTable(result, look);
    const outcome = await answered(
      listView(
        {
          heading: listHeading(result, look) + manyMore(result, look),
          title,
          rows: rows.map((text, index) => ({
            text,
            plain: stripVTControlCharacters(text),
            entry: result.rows[index]?.entry ?? '',
          })),
          ...from,
          height: process.stdout.rows ?? 24,
          look,
        },
        { output: process.stdout, clearPromptOnDone: true },
      ),
    );
    if (outcome.open === undefined) return;

    openInEditor(await entryPlace(call, outcome.open));
    from = outcome;
  }
}

const manyMore = (
  { entries, rows }: { readonly entries: number; readonly rows: readonly unknown[] },
  { paint }: Look,
): string => {
  if (entries > rows.length) return paint.soft(`  the first ${rows.length}: narrow them by --where`);
  return '';
};

/** Editors that take the line to start at as an argument. */
const takesLine = /^(?:vi|vim|nvim|nano|emacs|micro|kak|hx|less)$/u;

/** Opens a file in the editor of anyone who sits there, and waits until it is closed. @throws {Trouble} where none is known. */
function openInEditor({ file, line }: { readonly file: string; readonly line: number }): void {
  const editor = process.env.VISUAL || process.env.EDITOR;
  if (!editor)
    throw new Trouble('no-editor', 'nobody said which editor opens an entry', {
      mend: 'Say it in EDITOR: EDITOR=nano lumbrik list … --walk',
      where: { file },
    });

  const name = path.basename(editor.split(' ')[0] ?? '');
  const args = takesLine.test(name) && line > 1 ? [`+${line}`, file] : [file];
  if (startEditor(editor, args)) return;
  throw new Trouble('no-editor', `the editor \`${editor}\` could not open it`, {
    mend: 'Say another one in EDITOR.',
    where: { file },
  });
}
