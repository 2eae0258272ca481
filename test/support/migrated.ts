import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { expect } from 'vitest';
import { edit, lumbrik, result, temporary, workspace, write } from './program.ts';

/** What takes a while to make is made once, and then copied for each test. */
function copying(make: () => Promise<string>): () => Promise<string> {
  let template: string | undefined;
  return async () => {
    if (template === undefined) {
      const kept = fs.mkdtempSync(path.join(os.tmpdir(), 'lumbrik-template-'));
      process.on('exit', () => fs.rmSync(kept, { recursive: true, force: true }));
      fs.cpSync(await make(), kept, { recursive: true, verbatimSymlinks: true });
      template = kept;
    }
    return copyOf(template);
  };
}

/** The model of a light with some fields beside its name. */
export const lightModel = (fields: string): Record<string, string> => ({
  'model/types/light.yaml': `type: light\nfields:\n  name: { kind: text }\n${fields}`,
});

/** A workspace whose migration renames a type (files move), fills a field and drops another, rehearsed and ready. */
export const ready = copying(async () => {
  const folder = workspace({
    'model/types/a.yaml': 'type: light\nfields:\n  name: { kind: text }\n  old: { kind: text }\n',
    'content/light/a.yaml': 'name: A\nold: x\n',
    'content/light/b.md': '---\nname: B # two\n---\n',
    'content/light/c.json': '{ "name": "C", "old": "y" }\n',
  });
  await lumbrik(folder, ['seal', '-m', 'one']);
  write(folder, {
    'model/types/a.yaml':
      'type: lighthouse\nfields:\n  name: { kind: text }\n  open: { kind: boolean, required: true }\n',
  });
  const { file } = await result(folder, [
    'migration',
    'draft',
    '--renamed',
    'light=lighthouse',
    '--not-renamed',
    'lighthouse.old',
  ]);
  edit(folder, file, /^ {4}open: What.*\n/mu, '    value: true\n');
  edit(folder, file, /^ {4}open: Are.*\n/mu, '');
  expect(await result(folder, ['migration', 'rehearse'])).toMatchObject({ ok: true, files: 3 });
  return folder;
});

/** A workspace whose migration, the rename of one field, has been rehearsed. */
export const rehearsed = copying(async () => {
  const folder = workspace({
    ...lightModel('  old: { kind: text }\n'),
    'content/light/a.yaml': 'name: A\nold: x\n',
    'content/light/b.yaml': 'name: B\n',
    'content/light/c.yaml': 'name: C\nold: y\n',
  });
  await lumbrik(folder, ['seal', '-m', 'one']);
  write(folder, lightModel('  new: { kind: text }\n'));
  await lumbrik(folder, ['migration', 'draft', '--renamed', 'light.old=new']);
  await lumbrik(folder, ['migration', 'rehearse']);
  return folder;
});

/** The same after its run. */
export const done = copying(async () => {
  const folder = await rehearsed();
  expect(await result(folder, ['migration', 'run'])).toMatchObject({ code: 0, files: 2 });
  return folder;
});

/** The folder of a run's journal: of the first, unless another is asked for. */
export const runOf = (folder: string, index = 0): string =>
  path.join('.lumbrik/runs', fs.readdirSync(path.join(folder, '.lumbrik/runs')).sort()[index] ?? '');

/** A copy of a folder, as it is now. */
export function copyOf(folder: string): string {
  const copy = temporary();
  fs.cpSync(folder, copy, { recursive: true, verbatimSymlinks: true });
  return copy;
}
