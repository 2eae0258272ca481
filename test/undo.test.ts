import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { stringify } from 'yaml';
import { compile } from '../src/core/check/compile.ts';
import type { ModelDoc } from '../src/core/definition/model.ts';
import type { Branch } from '../src/core/definition/taxonomy.ts';
import type { Entry } from '../src/core/entry/entry.ts';
import { link } from '../src/core/model/link.ts';
import { fieldsOf } from '../src/core/model/ownFields.ts';
import { ownValue } from '../src/core/plain/json.ts';
import { draftMigration } from '../src/tasks/migration/draft.ts';
import { rehearse } from '../src/tasks/migration/rehearse.ts';
import { run } from '../src/tasks/migration/run.ts';
import { undo } from '../src/tasks/migration/undo.ts';
import { seal } from '../src/tasks/seal.ts';
import { boxed, entriesOf, model } from './support/models.ts';
import { snapshot } from './support/program.ts';

/** The files of a model document, as an architect would have written them. */
function modelFiles({ languages, types, taxonomies }: ModelDoc): Record<string, string> {
  const nest = (terms: ModelDoc['taxonomies'][string]['terms'], branches: readonly Branch[]): unknown =>
    branches.map((branch) =>
      branch.also
        ? { also: branch.term }
        : { term: branch.term, ...ownValue(terms, branch.term), terms: nest(terms, branch.terms ?? []) },
    );
  return {
    'lumbrik.yaml': stringify({ workspace: 'Gannet Sound', languages }),
    ...Object.fromEntries(
      Object.entries(types).map(([name, type]) => [`model/types/${name}.yaml`, stringify({ type: name, ...type })]),
    ),
    ...Object.fromEntries(
      Object.entries(taxonomies).map(([name, { terms, tree, ...options }]) => [
        `model/taxonomies/${name}.yaml`,
        stringify({ taxonomy: name, ...options, terms: nest(terms, tree) }),
      ]),
    ),
  };
}

const text = (entry: Entry, index: number): [string, string] => {
  const base = `content/${entry.type}/${entry.id}`;
  if (index % 3 === 0) return [`${base}.json`, `${JSON.stringify(entry.values, undefined, index % 2 === 0 ? 2 : 0)}\n`];
  const yaml =
    Object.keys(entry.values).length === 0
      ? '# nothing yet\nstatus: published\n'
      : `# ${entry.id}\n${stringify(entry.values)}`;
  return index % 3 === 1
    ? [`${base}.yaml`, index % 2 === 0 ? yaml.replaceAll('\n', '\r\n') : yaml]
    : [`${base}.md`, `---\n${yaml}---\n`];
};

function put(folder: string, files: Record<string, string>): void {
  for (const [name, content] of Object.entries(files)) {
    fs.mkdirSync(path.dirname(path.join(folder, name)), { recursive: true });
    fs.writeFileSync(path.join(folder, name), content);
  }
}

describe('running and taking back restores every file, byte for byte [H6]', () => {
  test.each([
    ['whatever the two models and the entries are', model, 3],
    ['whatever changes inside an object', boxed, 3],
  ])('%s', async (_name, model, least) => {
    const pair = fc
      .tuple(model, model)
      .chain(([before, after]) => fc.tuple(fc.constant(before), fc.constant(after), entriesOf(before)));
    let changed = 0;
    await fc.assert(
      fc.asyncProperty(pair, async ([before, after, all]) => {
        const checker = compile(link(before));
        const entries = all.filter(
          (entry) => checker.check(entry).findings.length === 0 && Object.keys(fieldsOf(entry, undefined)).length > 0,
        );
        const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'lumbrik-'));
        try {
          const call = { workspace: folder };
          put(folder, { ...modelFiles(before), ...Object.fromEntries(entries.map(text)) });
          await seal(call, 'one');
          fs.rmSync(path.join(folder, 'model'), { recursive: true, force: true });
          put(folder, modelFiles(after));
          let file: string;
          try {
            ({ file } = await draftMigration(call, {}));
          } catch (error) {
            expect(error).toMatchObject({ code: 'nothing-to-migrate' });
            return;
          }
          const migration = path.join(folder, file);
          fs.writeFileSync(migration, fs.readFileSync(migration, 'utf8').replace(/^ {4}open: .*\n/gmu, ''));
          const start = snapshot(folder);
          const { files } = await rehearse(call, undefined);
          expect(snapshot(folder)).toEqual(start);
          expect((await run(call, undefined)).files).toBe(files);
          changed += files;
          await undo(call);
          expect(snapshot(folder)).toEqual(start);
        } finally {
          fs.rmSync(folder, { recursive: true, force: true });
        }
      }),
      { numRuns: 80 },
    );
    expect(changed).toBeGreaterThan(least);
  });
});
