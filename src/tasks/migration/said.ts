import type { MigrationStep } from '../../core/migration/read.ts';
import type { Renames } from '../renameOptions.ts';

/** What steps say of renames and moves, as a person would say it on the command line. */
export function saidIn(steps: readonly MigrationStep[]): Required<Omit<Renames, 'notRenamed'>> {
  const said = (verb: string): readonly string[] =>
    steps.filter(({ kind }) => kind.verb === verb).map(({ address, data }) => `${address}=${String(data.to)}`);
  return { renamed: said('rename'), moved: said('move') };
}
