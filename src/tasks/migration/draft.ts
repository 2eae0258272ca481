import fs from 'node:fs';
import path from 'node:path';
import { z } from 'zod';
import { isId, parseAddress } from '../../core/definition/address.ts';
import type { DraftedStep } from '../../core/diff/draftedStep.ts';
import { draftSteps, migrationText, nameOf } from '../../core/migration/draft.ts';
import type { Model } from '../../core/model/link.ts';
import { slugify } from '../../core/plain/slugify.ts';
import { changeFiles } from '../../journal/change.ts';
import { openStore } from '../../stores/open.ts';
import { refuse, Trouble } from '../../workspace/trouble.ts';
import type { Call } from '../call.ts';
import { compareAndCount } from '../compareModels.ts';
import { writing } from '../enter.ts';
import { migrationFileName, readMigrations } from '../migrationFiles.ts';
import { findModel } from '../models.ts';
import { obeyedModel } from '../obeyed.ts';
import { type Renames, readRenameOptions } from '../renameOptions.ts';
import { head, resultVersion } from '../result.ts';
import { proveSteps } from './prove.ts';

export const DraftResult = z.strictObject({
  ...head('migration draft'),
  file: z.string(),
  number: z.int(),
  from: z.string(),
  to: z.string(),
  steps: z.array(
    z.strictObject({
      verb: z.string(),
      address: z.string(),
      why: z.string(),
      open: z.string().optional(),
      how: z.string().optional(),
    }),
  ),
  openQuestions: z.int(),
});
export type DraftResult = z.output<typeof DraftResult>;

export interface DraftCall extends Renames {
  readonly to?: string;
  readonly name?: string;
  /** Merges of terms, as `topic:bird=birds`: entries that have the one get the other. */
  readonly merges?: readonly string[];
}

/** Drafts the migration from the model that the entries obey to another one, and writes it as a file to be edited. */
export async function draftMigration(
  call: Call,
  { to = 'working', name, merges = [], ...renames }: DraftCall,
): Promise<DraftResult> {
  return writing(call, async (workspace) => {
    const [left, right] = [await obeyedModel(workspace), findModel(workspace, to)];
    const merging = merges.map((text) => mergeStep(text, workspace.model));
    if (left.hash === right.hash && merging.length === 0)
      throw new Trouble('nothing-to-migrate', `the entries obey ${right.name} already: ${left.name} says the same`, {
        mend: 'Edit the files in model/, then look at lumbrik diff.',
      });
    const others = readMigrations(workspace.root);
    const same = others.find(
      ({ migration: { from, to: leadsTo } }) => from === left.hash && leadsTo === right.hash && from !== leadsTo,
    );
    if (same)
      throw refuse('drafted-already', `${same.file} already leads from ${left.name} to ${right.name}`, {
        mend: 'Edit that file, or delete it and draft again.',
        where: { file: same.file },
      });

    const { comparison, impactOf } = await compareAndCount(left, right, openStore(workspace), {
      stated: readRenameOptions(renames),
      watch: call.watch,
    });
    const drafted = [...draftSteps(comparison, right.definition, impactOf), ...merging];
    const number = Math.max(0, ...others.map(({ migration }) => migration.number)) + 1;
    const slug = slugify(name ?? '') || nameOf(drafted);
    const text = migrationText(
      {
        number,
        about: name ?? slug.replaceAll('-', ' '),
        from: left.hash,
        to: right.hash,
        fromName: left.name,
        toName: right.name,
      },
      drafted,
    );
    const file = migrationFileName(number, slug);

    proveSteps(text, file, left, right);
    if (fs.existsSync(path.join(workspace.root, file)))
      throw refuse('file-exists', `${file} exists already`, { mend: 'Choose another name: --name …', where: { file } });
    changeFiles(workspace.root, [{ file, text }]);
    return {
      lumbrik: resultVersion,
      command: 'migration draft',
      file,
      number,
      from: left.name,
      to: right.name,
      steps: drafted.map(({ data, why, open }) => {
        const [verb = '', address = ''] = Object.entries(data)[0] ?? [];
        return { verb, address: String(address), why, ...(open ? { open: open.question, how: open.how } : {}) };
      }),
      openQuestions: drafted.filter(({ open }) => open !== undefined).length,
    };
  });
}

/** A merge of two terms of an open taxonomy, whose terms are content, as a step. @throws {Trouble} */
function mergeStep(text: string, { taxonomies }: Model): DraftedStep {
  const [from = '', use = '', ...more] = text.split('=');
  const address = parseAddress(from);
  const taxonomy = address?.what === 'term' ? taxonomies.get(address.taxonomy) : undefined;
  if (address?.what !== 'term' || !taxonomy?.isOpen || !isId(use) || more.length > 0)
    throw new Trouble('malformed-merge', `--merge ${text} names no two terms of an open taxonomy`, {
      mend:
        taxonomy && !taxonomy.isOpen
          ? 'In a closed taxonomy, remove the term from the model and draft: the draft asks what its entries get.'
          : 'Write --merge topic:bird=birds',
    });
  const term = address.term;

  return {
    data: { drop: `${address.taxonomy}:${term}`, use },
    why: `Entries that have ${term} get ${use}. The terms of an open taxonomy are content: the model stays as it is.`,
  };
}
