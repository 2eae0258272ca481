import { Ajv2020 } from 'ajv/dist/2020.js';
import { describe, expect, test } from 'vitest';
import { coast, edit, lumbrik, read, root, temporary } from './support/program.ts';

const ajv = new Ajv2020({ strict: false });

/** Insists that what a command prints as JSON is what its published schema says. */
async function expectValid(folder: string, args: readonly string[], schema: string): Promise<void> {
  const { out } = await lumbrik(folder, [...args, '--format', 'json']);
  const validate = ajv.compile(JSON.parse(read(root, `dist/schemas/${schema}.json`)));
  expect([args, validate(JSON.parse(out)), validate.errors]).toEqual([args, true, null]);
}

describe('every result is what its published schema says [I5]', () => {
  test('along the whole way', async () => {
    const start = temporary();
    await expectValid(start, ['new', 'coast'], 'new');
    await expectValid(start, ['check'], 'error');
    await expectValid(start, ['explain'], 'explain');
    const folder = coast();
    for (const address of [[], ['lighthouse'], ['lighthouse.name'], ['region:'], ['lighthouse/gull-stack']])
      await expectValid(folder, ['show', ...address], 'show');
    await expectValid(folder, ['check'], 'check');
    await expectValid(folder, ['seal', '-m', 'one'], 'seal');
    edit(folder, 'model/types/lighthouse.yaml', 'max: 300', 'mxa: 200');
    await expectValid(folder, ['check'], 'check');
    await expectValid(folder, ['diff'], 'error');
    edit(folder, 'model/types/lighthouse.yaml', 'mxa: 200', 'max: 200');
    await expectValid(folder, ['check'], 'check');
    await expectValid(folder, ['diff'], 'diff');
    await expectValid(folder, ['migration', 'draft', '--name', 'shorter'], 'migration-draft');
    await expectValid(folder, ['migration', 'rehearse'], 'migration-rehearse');
    await expectValid(folder, ['migration', 'run'], 'error');
    edit(folder, 'migrations/0001-shorter.yaml', /^ {4}open: .*$/mu, '    cel: entry.summary.substring(0, 200)');
    await expectValid(folder, ['migration', 'rehearse'], 'migration-rehearse');
    await expectValid(folder, ['migration', 'run'], 'migration-run');
    await expectValid(folder, ['migration', 'list'], 'migration-list');
    await expectValid(folder, ['migration', 'undo'], 'migration-undo');
    await expectValid(folder, ['history'], 'history');
  });
});
