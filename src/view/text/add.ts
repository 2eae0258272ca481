import { list } from '../../core/plain/words.ts';
import type { AddResult } from '../../tasks/add.ts';
import type { EntryNewResult } from '../../tasks/entryNew.ts';
import { glyphs, type Look, next, wrap } from '../look.ts';

/** Something new in the model: where it was written, the written files, and what usually comes next. */
export function addText({ what: category, address, file, text }: AddResult, look: Look): string {
  const { paint } = look;
  const lines = text
    .trimEnd()
    .split('\n')
    .map((line) => `  ${paint.soft(line)}\n`)
    .join('');
  const onward = {
    type: next(`lumbrik add field ${address} "…" --kind text`, 'its first field', look),
    kit: next(`lumbrik add field ${address} "…" --kind text`, 'its first field', look),
    taxonomy: next(`lumbrik add term ${address.replace(':', '')} "…"`, 'its first term', look),
    field: next(
      `lumbrik show ${address.split('.').slice(0, -1).join('.')}`,
      'all its fields; lumbrik diff tells what that does to the entries',
      look,
    ),
    term: next(`lumbrik terms ${address.replace(/:.*/u, '')}`, 'the whole tree', look),
  }[category];

  return `${paint.good(glyphs.fine)} ${paint.strong(address)} is new in ${file}\n${lines}${onward}`;
}

/** A new entry: where it lies, and what waits to be filled in. */
export function entryNewText({ entry, file, open }: EntryNewResult, look: Look): string {
  const { paint, width } = look;
  return [
    `${paint.good(glyphs.fine)} ${paint.strong(entry)} is new in ${file}\n`,
    open.length > 0 ? `  ${wrap(`To fill in: ${list(open)}`, width - 2, '  ')}\n` : '',
    next('lumbrik check', 'lists missing parts', look),
  ].join('');
}
