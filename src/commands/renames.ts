import type { Argv } from 'yargs';
import type { Renames } from '../tasks/renameOptions.ts';
import { type Arguments, textsOf } from './answer.ts';

/** The options that state renames, and refuse guessed ones. */
export const renameOptions = (yargs: Argv): Argv =>
  yargs
    .option('renamed', { type: 'string', array: true, nargs: 1, describe: 'State a rename: old address = new name' })
    .option('moved', {
      type: 'string',
      array: true,
      nargs: 1,
      describe: 'State a move within a type: old address = new address',
    })
    .option('not-renamed', {
      type: 'string',
      array: true,
      nargs: 1,
      describe: 'State that this part was removed, not renamed or moved',
    });

/** The renames, moves and refusals that a call states. */
export const renamesOf = (args: Arguments): Renames => ({
  renamed: textsOf(args.renamed),
  moved: textsOf(args.moved),
  notRenamed: textsOf(args.notRenamed),
});
