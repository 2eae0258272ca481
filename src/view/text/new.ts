import { shellWord } from '../../core/plain/shellWord.ts';
import { count } from '../../core/plain/words.ts';
import type { NewResult } from '../../tasks/newWorkspace.ts';
import { glyphs, type Look, next } from '../look.ts';

/** A new workspace: the written files, and where to go from there. */
export function newText({ folder, files, starter }: NewResult, look: Look): string {
  const { paint } = look;
  // The terms of an open taxonomy are kept beside the entries, and are none.
  const entries = files.filter((file) => file.startsWith('content/') && !file.endsWith('.terms.yaml')).length;
  const rows = [
    `  ${paint.name('lumbrik.yaml')}       its name and its languages`,
    `  ${paint.name('model/types/')}       ${count(files.filter((file) => file.startsWith('model/types/')).length, 'type')}`,
    `  ${paint.name('model/taxonomies/')}  ${count(files.filter((file) => file.startsWith('model/taxonomies/')).length, 'taxonomy', 'taxonomies')}`,
    `  ${paint.name('schemas/')}           for editors: completion and explanations while typing`,
    `  ${paint.name('content/')}           ${count(entries, 'entry', 'entries')}`,
  ];
  const onward =
    starter === 'empty'
      ? next(`lumbrik check --workspace ${shellWord(folder)}`, 'after a look at model/types/note.yaml', look)
      : next(`cd ${folder} && lumbrik show`, 'to look around', look);

  return `${paint.good(glyphs.fine)} ${paint.strong(`A new workspace in ${folder}`)}\n${rows.join('\n')}\n${onward}`;
}
