import { execFileSync } from 'node:child_process';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { usualFactKeys } from '../src/core/definition/builtIn.ts';
import { inHashedForm, inPresentForm, type NewEntries } from '../src/core/definition/earlierForm.ts';
import { readModel, readNormalForm } from '../src/core/model/read.ts';
import { editsOfUpgrade } from '../src/core/model/upgrade.ts';
import type { Json, JsonObject } from '../src/core/plain/json.ts';
import { usualLimits } from '../src/core/plain/limits.ts';
import { canonical, hashModel, hashText } from '../src/core/revision/canonical.ts';
import { makeRevision, readRevision, revisionText } from '../src/core/revision/chain.ts';
import { editText } from '../src/core/source/edit.ts';
import { writeYaml } from '../src/core/source/write.ts';
import { readYaml } from '../src/core/source/yaml.ts';
import { model as modelDoc } from './support/models.ts';
import { lumbrik, read, result, snapshot, workspace, write } from './support/program.ts';

/** What `newEntries` could hold. */
const settings: fc.Arbitrary<NewEntries> = fc
  .record(
    {
      status: fc.constantFrom('draft', 'published', 'archived'),
      versions: fc.boolean(),
      preview: fc.constantFrom('off', 'offered', 'required'),
      byline: fc.boolean(),
    },
    { requiredKeys: [] },
  )
  .filter((some) => Object.keys(some).length > 0) as fc.Arbitrary<NewEntries>;

/** A type of an earlier model, as its file says it. */
const earlierType = fc.record(
  {
    newEntries: settings,
    previews: fc.dictionary(
      fc.constantFrom('site', 'print'),
      fc.constantFrom('https://a.example/{id}', 'https://b.example'),
      {
        minKeys: 1,
        noNullPrototype: true,
      },
    ),
    groups: fc.constant(['Sea']),
  },
  { requiredKeys: [] },
);

/** Settings and previews of a subtype as an earlier model had them in its normal form: each over those of its base type. */
const inherited = (base: JsonObject, own: JsonObject): JsonObject => ({
  ...base,
  ...own,
  ...(base.newEntries === undefined ? {} : { newEntries: { ...Object(base.newEntries), ...Object(own.newEntries) } }),
  ...(base.previews === undefined ? {} : { previews: { ...Object(base.previews), ...Object(own.previews) } }),
});

const earlierModel = (light: JsonObject, clock: JsonObject): JsonObject => ({
  languages: ['en'],
  types: {
    light: { ...light, fields: {} },
    clock: { ...inherited(light, clock), fields: {} },
  },
  taxonomies: {},
  shared: { types: { clock: { extends: 'light' } } },
});

describe('keys of earlier models', () => {
  test('a recorded model is read in the present form and keeps its hash', () => {
    fc.assert(
      fc.property(earlierType, earlierType, (light, clock) => {
        const stored = earlierModel(light as JsonObject, clock as JsonObject);
        const model = readNormalForm(inPresentForm(stored));
        expect(JSON.stringify(model)).not.toContain('newEntries');
        expect(model && canonical(inHashedForm(model))).toBe(canonical(stored));
      }),
    );
  });

  test('files that are rewritten give the model that was recorded, with its hash', () => {
    fc.assert(
      fc.property(earlierType, earlierType, (light, clock) => {
        // A base type that gives a state to no address, and a subtype with addresses: both come together in the subtype.
        fc.pre(light.newEntries?.preview === undefined || light.previews !== undefined || clock.previews === undefined);
        const written: Readonly<Record<string, JsonObject>> = {
          light: { type: 'light', ...(light as JsonObject), fields: {} },
          clock: { type: 'clock', extends: 'light', ...(clock as JsonObject), fields: {} },
        };
        const texts = new Map(Object.entries(written).map(([name, data]) => [name, writeYaml(data)]));
        const edits = editsOfUpgrade(Object.entries(written).map(([file, data]) => ({ file, data })));
        for (const [file, some] of edits) texts.set(file, editText(texts.get(file) ?? '', some, 'yaml'));
        const sources = [...texts].map(([file, text]) => {
          const source = readYaml(text, usualLimits);
          if ('problem' in source) throw new Error(text);
          return { file, source: source.value };
        });

        const { model, mistakes } = readModel(sources, { languages: ['en'], factKeys: usualFactKeys });
        expect(mistakes).toEqual([]);
        const stored = earlierModel(light as JsonObject, clock as JsonObject);
        expect(hashModel(model)).toBe(hashText(canonical(stored)));
        expect(editsOfUpgrade(sources.map(({ file, source }) => ({ file, data: source.data })))).toEqual(new Map());
      }),
    );
  });

  test('a model says in the hashed form whatever it says, and nothing else', () => {
    fc.assert(
      fc.property(modelDoc, modelDoc, (one, other) => {
        const [hashed, otherHashed] = [one, other].map((model) => canonical(inHashedForm(model)));
        expect(hashed === otherHashed).toBe(canonical(one as never) === canonical(other as never));
        expect(canonical(inPresentForm(inHashedForm(one)) as JsonObject)).toBe(canonical(one as never));
      }),
    );
  });

  test('a revision is hashed alike after it was written and read again', () => {
    fc.assert(
      fc.property(modelDoc, (model) => {
        const revision = makeRevision({
          revision: 1,
          version: '1.0.0',
          date: '2026-03-01T00:00:00Z',
          message: 'First',
          previous: null,
          model,
        });
        const again = readRevision(revisionText(revision));
        expect(again && hashModel(again.model)).toBe(hashModel(model));
      }),
    );
  });

  test('what is no model stays as it is', () => {
    for (const data of [null, 3, 'a', [], {}, { types: 3 }, { types: { a: 3 } }, { types: { a: { newEntries: 3 } } }])
      expect(inPresentForm(data as Json)).toEqual(data);
  });
});

const light = (settings: string): Readonly<Record<string, string>> => ({
  'model/types/light.yaml': `type: light # the first\n${settings}titled: name\nfields:\n  name: { kind: text }\n`,
});
const four = 'newEntries: { status: published, versions: true, preview: required, byline: false } # for all\n';
const preview = 'previews: { site: "https://a.example/{id}" }\n';

describe('lumbrik upgrade', () => {
  test('is what the refusal of an earlier key names', async () => {
    const folder = workspace(light(four));
    expect(await result(folder, ['check'])).toMatchObject({
      mistakes: [
        {
          line: 2,
          says: '`newEntries` is a key of earlier models',
          mend: expect.stringMatching(/^Run lumbrik upgrade\. It puts the status into `builtIn/u),
        },
      ],
    });
  });

  test('rewrites the files, and keeps what stands beside the key', async () => {
    const folder = workspace(light(`${preview}${four}`));
    expect(await result(folder, ['upgrade'])).toMatchObject({ files: ['model/types/light.yaml'], mistakes: 0 });
    expect(read(folder, 'model/types/light.yaml')).toMatch(/^type: light # the first\n.*titled: name\nfields:\n/su);
    expect(await result(folder, ['show', 'light'])).toMatchObject({
      byline: false,
      versions: true,
      builtIn: { status: { default: 'published' } },
      previews: [{ name: 'site', address: 'https://a.example/{id}', required: true }],
    });
    expect((await lumbrik(folder, ['upgrade'])).out).toContain('No model file has a key of an earlier version');
  });

  test('leaves the revisions as they are, and the model is the one that the newest records', async () => {
    const folder = workspace(light(`${preview}${four}`));
    const stored = {
      languages: ['en'],
      types: {
        light: {
          titled: 'name',
          newEntries: { status: 'published', versions: true, preview: 'required', byline: false },
          previews: { site: 'https://a.example/{id}' },
          fields: { name: { kind: 'text' } },
        },
      },
      taxonomies: {},
    };
    const date = '2026-03-01T00:00:00Z';
    const parts = { revision: 1, version: '1.0.0', date, message: 'First', previous: null, model: stored as never };
    const recorded = revisionText(makeRevision(parts));
    write(folder, { 'revisions/0001.json': recorded });
    expect(recorded).toContain('newEntries');

    await result(folder, ['upgrade']);
    expect(read(folder, 'revisions/0001.json')).toBe(recorded);
    expect((await result(folder, ['diff'])).changes).toEqual([]);
    expect((await result(folder, ['seal', '-m', 'Second'])).error.code).toBe('nothing-changed');
    const hash = hashText(canonical(stored));
    expect((await result(folder, ['history'])).revisions).toMatchObject([{ sound: true, model: hash }]);
  });

  test('is not needed for the files at a commit, which are read in the present form', async () => {
    const folder = workspace(light(`${preview}${four}`));
    const git = (...args: string[]) =>
      execFileSync('git', ['-c', 'user.name=A', '-c', 'user.email=a@b.example', ...args], { cwd: folder });
    git('init', '-q');
    git('add', '-A');
    git('commit', '-qm', 'one');
    await result(folder, ['upgrade']);
    expect((await result(folder, ['diff', 'commit:HEAD'])).changes).toEqual([]);
    expect(read(folder, 'model/types/light.yaml')).not.toContain('newEntries');
  });

  test('keeps a preview that has no address', async () => {
    const folder = workspace(light('newEntries: { preview: required }\n'));
    await result(folder, ['upgrade']);
    expect((await result(folder, ['show', 'light'])).previews).toEqual([{ name: 'editor', required: true }]);
    expect((await lumbrik(folder, ['show', 'light'])).out).toContain('in the editor (required before saving)');
  });

  test.each([
    ['newEntries: { status: public }\n', '`status` is “public”, it takes `draft`, `published` or `archived`', 23],
    ['newEntries: yes\n', '`newEntries` is “yes”, it takes keys (status, versions, preview, byline)', 13],
    ['newEntries: { statis: draft }\n', 'there is no option `statis` for `newEntries`', 15],
  ])('leaves a file alone whose key cannot be read: %s', async (key, says, column) => {
    const folder = workspace(light(key));
    const before = snapshot(folder, 'model');
    expect(await result(folder, ['upgrade'])).toMatchObject({ files: [], mistakes: 1 });
    expect(snapshot(folder, 'model')).toEqual(before);
    const { mistakes } = await result(folder, ['check']);
    expect(mistakes).toMatchObject([
      { says, line: 2, column, mend: expect.stringContaining('Then run lumbrik upgrade.') },
    ]);
  });

  test.each(['previews: none\n', 'previews: { site: 3 }\n'])(
    'leaves a file alone whose previews cannot be read: %s',
    async (previews) => {
      const folder = workspace(light(`${previews}${four}`));
      const before = snapshot(folder, 'model');
      expect(await result(folder, ['upgrade'])).toMatchObject({ files: [], mistakes: 2 });
      expect(snapshot(folder, 'model')).toEqual(before);
    },
  );

  test('rewrites what it can where the model has other mistakes, and says so', async () => {
    const folder = workspace({ ...light(four), 'model/types/bad.yaml': 'type: bad\ntitld: name\n' });
    const { out, code } = await lumbrik(folder, ['upgrade']);
    expect(code).toBe(1);
    expect(out).toContain(
      '1 model file rewritten with the present keys; the model means the same\n  model/types/light.yaml\n',
    );
    expect(out).toContain('lumbrik check  to see 1 mistake of the model');
  });

  test('nothing seems missing that stands beside a wrong key', async () => {
    const folder = workspace({
      'model/types/light.yaml': 'type: light\nnew: 3\ngroups: [Sea]\nfields:\n  name: { kind: text, group: Sea }\n',
    });
    expect((await result(folder, ['check'])).mistakes).toMatchObject([{ says: 'there is no option `new` for a type' }]);
  });

  test('a preview cannot be required and off at once', async () => {
    const folder = workspace(light('previews: { site: { required: true, offered: false } }\n'));
    expect((await result(folder, ['check'])).mistakes).toMatchObject([
      { line: 2, says: 'the preview is required and not offered at once' },
    ]);
    write(folder, {
      'model/types/light.yaml': 'type: light\npreviews: { site: { address: ftp, required: true } }\n',
    });
    expect((await result(folder, ['check'])).mistakes).toMatchObject([{ says: '“ftp” is no address on the web' }]);
  });
});
