import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { statusOf } from '../src/core/entry/entry.ts';
import { openStore } from '../src/stores/open.ts';
import { openWorkspace, type Workspace } from '../src/workspace/open.ts';
import { edit, lumbrik, read, result, workspace } from './support/program.ts';

/** Content that has fields of its own called status, type and created. */
const shop = (builtIn: string, more: Record<string, string> = {}) =>
  workspace({
    'lumbrik.yaml': `workspace: A\nbuiltIn: ${builtIn}\n`,
    'model/types/part.yaml':
      'type: part\ntitled: type\nfields:\n  status: { kind: choice, choices: [assigned, free] }\n  type: { kind: text, required: published }\n  created: { kind: integer }\n  next: { kind: reference, to: part }\nrules:\n  - { expect: entry.status != "free" || entry.created > 0, say: Free since when? }\n',
    'content/part/a.yaml': 'status: assigned\ntype: T\ncreated: 7\nnext: b\n',
    'content/part/b.yaml': 'status: free\nstate: draft\ntype: U\n',
    ...more,
  });

describe('built-in facts move aside where the content has fields of their names [A6, B4]', () => {
  test('to a key of their own, or there is none', async () => {
    const folder = shop('{ status: state, type: false, created: false }');
    const { findings, mistakes } = await result(folder, ['check']);
    expect(mistakes).toEqual([]);
    expect(findings.map(({ finding, entry, says }: any) => `${finding} ${entry} ${says}`)).toEqual([
      'target-not-published part/a points at part/b, which is a draft',
    ]);
    edit(folder, 'content/part/b.yaml', 'type: U', 'type: U\ncreated: 0');
    expect((await result(folder, ['check'])).findings.map(({ finding }: any) => finding)).toContain('rule-broken');
    edit(folder, 'content/part/b.yaml', 'state: draft', 'state: lost');
    expect((await result(folder, ['check'])).findings).toContainEqual(
      expect.objectContaining({ finding: 'unknown-status', pointer: '/state' }),
    );
  });

  test('through show, entry new, schemas and a migration', async () => {
    const folder = shop('{ status: state, type: false, created: false }');
    expect(await result(folder, ['show', 'part/b'])).toMatchObject({ status: 'draft', title: 'U' });
    await lumbrik(folder, ['entry', 'new', 'part', 'c']);
    expect(read(folder, 'content/part/c.yaml')).toMatch(/^state: draft\n/u);
    expect((await result(folder, ['check'])).findings.filter(({ severity }: any) => severity === 'error')).toEqual([
      expect.objectContaining({ finding: 'placeholder', pointer: '/type' }),
    ]);
    await lumbrik(folder, ['schemas']);
    expect(JSON.parse(read(folder, 'schemas/entries/part.json')).properties.state).toEqual({
      enum: ['draft', 'published', 'archived'],
    });
    edit(folder, 'content/part/c.yaml', /type: .*\n/u, 'type: V\n');
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/part.yaml', '  status: {', '  standing: {');
    edit(folder, 'model/types/part.yaml', 'entry.status', 'entry.standing');
    await lumbrik(folder, ['migration', 'draft', '--renamed', 'part.status=standing']);
    await lumbrik(folder, ['migration', 'rehearse']);
    expect((await result(folder, ['migration', 'run'])).error).toBeUndefined();
    expect(read(folder, 'content/part/b.yaml')).toBe('standing: free\nstate: draft\ntype: U\n');
    await lumbrik(folder, ['migration', 'undo']);
    expect(read(folder, 'content/part/b.yaml')).toBe('status: free\nstate: draft\ntype: U\n');
  });

  test('in one folder, beside others where they are called as usual', async () => {
    const folder = workspace({
      'lumbrik.yaml':
        'workspace: A\ncontent:\n  - folder: content\n  - { folder: content/old, keys: { status: state, created: made, id: no } }\n',
      'model/types/part.yaml': 'type: part\nfields:\n  name: { kind: text }\n',
      'content/part/a.yaml': 'status: draft\n',
      'content/old/part/b.yaml': '# old\nno: 7\nname: B\nstate: draft\nmade: 2026-01-02T00:00:00Z\n',
      'content/old/part/c.yaml': 'state: lost\n',
      'content/old/part/d.yaml': 'status: draft\nname: D\n',
    });
    const { findings } = await result(folder, ['check']);
    expect(findings.map(({ finding, file, line, column }: any) => `${finding} ${file}:${line}:${column}`)).toEqual([
      'unknown-status content/old/part/c.yaml:1:8',
      'unreadable-file content/old/part/d.yaml:1:1',
    ]);
    expect(findings[1].says).toContain('has the key `status` beside');
    expect(await result(folder, ['show', 'part/7'])).toMatchObject({
      status: 'draft',
      file: 'content/old/part/b.yaml',
    });
    await lumbrik(folder, ['schemas']);
    expect(Object.keys(JSON.parse(read(folder, 'schemas/entries/part.json')).properties)).toEqual(
      expect.arrayContaining(['status', 'state', 'created', 'made', 'no']),
    );
    for (const name of ['c', 'd']) fs.rmSync(path.join(folder, `content/old/part/${name}.yaml`));

    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/part.yaml', 'name:', 'title:');
    edit(folder, 'model/types/part.yaml', 'type: part', 'type: piece');
    await lumbrik(folder, ['migration', 'draft', '--renamed', 'part=piece', '--renamed', 'part.name=title']);
    await lumbrik(folder, ['migration', 'rehearse']);
    expect((await result(folder, ['migration', 'run'])).error).toBeUndefined();
    expect(read(folder, 'content/old/piece/b.yaml')).toBe(
      '# old\nno: 7\ntitle: B\nstate: draft\nmade: 2026-01-02T00:00:00Z\n',
    );
    await lumbrik(folder, ['migration', 'undo']);
    expect(read(folder, 'content/old/part/b.yaml')).toContain('name: B\n');

    edit(folder, 'lumbrik.yaml', '  - folder: content\n', '');
    await lumbrik(folder, ['entry', 'new', 'piece', 'z']);
    expect(read(folder, 'content/old/piece/z.yaml')).toMatch(/^state: draft\nmade: /u);
  });

  test('in lines too', async () => {
    const folder = shop('{ status: state, type: kindOf, created: false, id: key }', {
      'content/part/a.yaml': 'status: assigned\ntype: T\n',
      'content/more.ndjson':
        '{"key":"Z 1","kindOf":"part","status":"free","type":"W","created":3}\n{"key":"Z 2","status":"fre","state":"draft","type":"X"}\n',
    });
    edit(
      folder,
      'lumbrik.yaml',
      'builtIn:',
      'content: [{ folder: content }, { lines: content/more.ndjson, type: part }]\nbuiltIn:',
    );
    const { findings } = await result(folder, ['check']);
    expect(findings.map(({ finding, entry, pointer }: any) => `${finding} ${entry} ${pointer}`)).toEqual([
      'not-a-choice part/Z 2 /status',
    ]);
  });

  test('else a field of such a name is a mistake, which says so', async () => {
    const { mistakes } = await result(shop('{}'), ['check']);
    expect(mistakes.map(({ says }: any) => says)).toHaveLength(3);
    expect(mistakes[0].mend).toContain('builtIn: { status: … }');
  });

  test.each([
    ['lines', 'content/all.ndjson', '{"id":"a","type":"Page"}\n'],
    ['json', 'content/all.json', '[{ "id": "a", "type": "Page" }]'],
    ['csv', 'content/all.csv', 'id,type\na,Page\n'],
  ])(
    'where the type is no fact of entries, a file of %s has those of one type, and `type` is a field',
    async (way, file, text) => {
      const folder = workspace({
        'lumbrik.yaml': `workspace: W\nbuiltIn: { type: false }\ncontent: [{ ${way}: ${file}, type: thing }]\n`,
        'model/types/thing.yaml': 'type: thing\nfields:\n  type: { kind: choice, choices: [Page, Post] }\n',
        [file]: text,
      });
      expect(await result(folder, ['check'])).toMatchObject({ ok: true, entries: 1 });
      expect((await result(folder, ['list', 'thing'])).rows).toMatchObject([
        { entry: 'thing/a', values: { type: 'Page' } },
      ]);
    },
  );

  test('two workspaces in one process each keep to their own keys and limits', async () => {
    const roots = [shop('{ status: state, type: what }'), shop('{ status: false, type: what, created: made }')];
    const [one, other] = roots.map((root) => openWorkspace(root));
    if (!one || !other) throw new Error('not opened');

    const entriesOf = async (home: Workspace): Promise<readonly string[]> => {
      const store = openStore(home);
      const entries: string[] = [];
      for (const part of await store.parts(1))
        for await (const item of store.read(part))
          if ('entry' in item) entries.push(`${item.entry.id} ${statusOf(item.entry)}`);
      return entries;
    };
    expect(await entriesOf(one)).toEqual(['a published', 'b draft']);
    expect(await entriesOf(other)).toEqual(['a published', 'b published']);
    expect(await entriesOf(one)).toEqual(['a published', 'b draft']);
  });
});
