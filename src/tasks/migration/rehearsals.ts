import { z } from 'zod';
import { makeOwnFolder, ownFolder, readOwnText, writeOwn } from '../../workspace/ownFolder.ts';

const Rehearsal = z.strictObject({ migration: z.string(), content: z.string() });

/** The rehearsed bytes: exactly these bytes of a migration on exactly these bytes of all entries. */
export type Rehearsal = z.output<typeof Rehearsal>;

const fileOf = ({ migration }: Pick<Rehearsal, 'migration'>): string =>
  `${ownFolder}/rehearsals/${migration.slice(0, 32)}.json`;

/** Notes that a migration was rehearsed, in the tool's own folder: entries and model are not touched. */
export function recordRehearsal(root: string, rehearsal: Rehearsal): void {
  makeOwnFolder(root);
  writeOwn(root, fileOf(rehearsal), `${JSON.stringify(rehearsal)}\n`);
}

/** The digest of the entries on which a migration was rehearsed; `undefined` where it was not. */
export function rehearsedContent(root: string, migration: string): string | undefined {
  const text = readOwnText(root, fileOf({ migration }));
  if (text === undefined) return undefined;
  try {
    const rehearsal = Rehearsal.parse(JSON.parse(text));
    if (rehearsal.migration !== migration) return undefined;
    return rehearsal.content;
  } catch {
    return undefined;
  }
}
