import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { copyOf, ready } from './support/migrated.ts';
import { edit, lumbrik, read, result, snapshot, workspace, write } from './support/program.ts';
import { allStops, halfWritten, remains } from './support/stops.ts';

/** A workspace with schemas, a sealed model and one that has moved on, so that every command has something to write. */
async function busy(): Promise<string> {
  const folder = workspace({
    'model/types/light.yaml':
      'type: light\ntitled: name\nfields:\n  name: { kind: text }\n  old: { kind: text }\n  more: { kind: object, fields: { x: { kind: text } } }\n',
    'model/taxonomies/topic.yaml': 'taxonomy: topic\nopen: true\n',
    'content/light/a.yaml': 'name: A\nold: x\n',
  });
  for (const args of [
    ['schemas', '--name'],
    ['seal', '-m', 'one'],
  ])
    await lumbrik(folder, args);
  edit(folder, 'model/types/light.yaml', '  old: { kind: text }\n', '  open: { kind: boolean, required: true }\n');
  fs.rmSync(path.join(folder, 'schemas/entries/light.json'));
  write(folder, { 'schemas/entries/gone.json': '{}\n', 'terms.csv': 'term,label\nbirds,Birds\nlenses,Lenses\n' });
  return folder;
}

describe('a stop at each change of the disk, one after another, by a command that is no run [A5]', () => {
  test.each([
    [['seal', '-m', 'two']],
    [['add', 'type', 'tour']],
    [['add', 'field', 'light', 'range', '--kind', 'integer']],
    [['add', 'term', 'topic', 'birds']],
    [['terms', 'topic', '--add', 'terms.csv']],
    [['entry', 'new', 'light', 'z']],
    [['entry', 'revision', '1']],
    [['schemas', '--name']],
    [['migration', 'draft']],
    [['rename', 'light.name', 'title']],
    [['rename', 'light', 'beacon']],
    [['rename', 'topic:', 'subject']],
    [['move', 'light.name', 'light.more.name']],
  ])('%j either happened or did not, and nothing is left of it', async (args) => {
    const start = await busy();
    const finished = copyOf(start);
    await lumbrik(finished, args);
    const [old, done] = [snapshot(start), snapshot(finished)];
    if (args[0] !== 'entry' || args[1] === 'new') expect(done).not.toEqual(old);
    const outcomes = new Set<string>();
    const changes = await allStops(start, args, async (folder, stopAt) => {
      // The next command reads, and finds it settled.
      const { err } = await lumbrik(folder, ['history']);
      expect([stopAt, err]).toEqual([stopAt, '']);
      const now = snapshot(folder);
      outcomes.add(JSON.stringify([...now]));
      expect([stopAt, [old, done].some((one) => JSON.stringify([...one]) === JSON.stringify([...now]))]).toEqual([
        stopAt,
        true,
      ]);
      expect([stopAt, remains(folder), halfWritten(folder)]).toEqual([stopAt, [], []]);
    });
    expect(changes).toBeGreaterThan(8);
    if (args[1] !== 'revision') expect(outcomes.size).toBe(2);
  });

  test('a first seal that is stopped loses no migration', async () => {
    const start = workspace({
      'model/types/light.yaml': 'type: light\nfields:\n  name: { kind: text }\n',
      'content/light/a.yaml': 'name: A\n',
    });
    await allStops(start, ['seal', '-m', 'one'], async (folder, stopAt) => {
      await lumbrik(folder, ['seal', '-m', 'one']);
      edit(folder, 'model/types/light.yaml', 'name: { kind: text }', 'title: { kind: text, required: true }');
      expect([stopAt, (await result(folder, ['check'])).standing]).toEqual([stopAt, { state: 'behind', revision: 1 }]);
      expect((await result(folder, ['migration', 'draft'])).from).toBe('revision 1');
    });
  });

  test('a rehearsal that is stopped counts for nothing or for all', async () => {
    const start = await ready();
    fs.rmSync(path.join(start, '.lumbrik/rehearsals'), { recursive: true });
    const before = snapshot(start);
    await allStops(start, ['migration', 'rehearse'], async (folder, stopAt) => {
      const { code, error } = await result(folder, ['migration', 'run']);
      expect([stopAt, code === 0 || error.code === 'not-rehearsed']).toEqual([stopAt, true]);
      expect([stopAt, halfWritten(folder)]).toEqual([stopAt, []]);
      if (code !== 0) expect(snapshot(folder)).toEqual(before);
    });
  });
});

describe('a rename before the first revision [G2, A5]', () => {
  /** A workspace without a revision, whose entries are kept in every way. */
  const unrecorded = (): string =>
    workspace({
      'lumbrik.yaml':
        'workspace: W\nlanguages: [en]\ncontent:\n  - { folder: content }\n  - { lines: content/log.ndjson, type: note }\n  - { csv: content/list.csv, type: note }\n',
      'model/types/note.yaml':
        'type: note\ntitled: title\nfields:\n  title: { kind: text }\n  about: { kind: reference, to: note }\n  at: { kind: object, fields: { town: { kind: text } } }\n',
      'content/note/a.md': '---\ntitle: A # keep\nabout: note/l1\n---\n',
      'content/note/b.yaml': 'title: B\n',
      'content/log.ndjson': '{"id":"l1","title":"L"}\n{"id":"l2"}\n',
      'content/list.csv': 'id,title\nc1,"C, one"\n',
    });

  test.each([
    [['rename', 'note.title', 'heading'], 'content/list.csv', 'id,heading\nc1,"C, one"\n'],
    [['rename', 'note', 'page'], 'content/page/a.md', '---\ntitle: A # keep\nabout: page/l1\n---\n'],
    [['move', 'note.title', 'note.at.title'], 'content/note/b.yaml', 'at:\n  title: B\n'],
  ])('%j carries the entries at once, and is taken back to the byte', async (args, file, text) => {
    const folder = unrecorded();
    const before = snapshot(folder);
    const { entries, stated } = await result(folder, args);
    expect([entries, stated, read(folder, file)]).toEqual([args[2] === 'page' ? 2 : 4, [], text]);
    expect((await result(folder, ['check'])).ok).toBe(true);
    expect(await result(folder, ['migration', 'undo'])).toMatchObject({ ok: true, number: 0 });
    expect(snapshot(folder)).toEqual(before);
  });

  test('tells what could not be read, and leaves it', async () => {
    const folder = unrecorded();
    write(folder, { 'content/note/bad.yaml': 'title: [\n' });
    expect(await result(folder, ['rename', 'note.title', 'heading'])).toMatchObject({ entries: 4, unreadable: 1 });
    expect(read(folder, 'content/note/bad.yaml')).toBe('title: [\n');
  });

  test('edited since, it is not taken back: the same command the other way keeps the edits', async () => {
    const folder = unrecorded();
    await lumbrik(folder, ['rename', 'note.title', 'heading']);
    edit(folder, 'content/note/b.yaml', 'heading: B', 'heading: Bee');
    expect((await result(folder, ['migration', 'undo'])).error).toMatchObject({ code: 'edited-since' });
    await lumbrik(folder, ['rename', 'note.heading', 'title']);
    expect(read(folder, 'content/note/b.yaml')).toBe('title: Bee\n');
  });

  test('once a revision is recorded, it is not taken back: the entries would obey what none records', async () => {
    const folder = unrecorded();
    await lumbrik(folder, ['rename', 'note.title', 'heading']);
    await lumbrik(folder, ['seal', '-m', 'one']);
    const sealed = snapshot(folder);
    expect((await result(folder, ['migration', 'undo'])).error).toMatchObject({ code: 'edited-since' });
    expect(snapshot(folder)).toEqual(sealed);
  });

  test('that is stopped is finished or taken back, wherever it was stopped', async () => {
    const start = unrecorded();
    const args = ['rename', 'note.title', 'heading'];
    const finished = copyOf(start);
    await lumbrik(finished, args);
    const states = new Set<string>();
    await allStops(start, args, async (folder, stopAt) => {
      const { error } = await result(folder, ['check']);
      if (error === undefined) {
        states.add(read(folder, 'content/note/b.yaml'));
        return;
      }
      states.add('stopped');
      const isBack = stopAt % 2 === 0;
      await lumbrik(folder, ['migration', isBack ? 'undo' : 'run']);
      expect([stopAt, snapshot(folder)]).toEqual([stopAt, snapshot(isBack ? start : finished)]);
      expect([stopAt, (await result(folder, ['check'])).ok]).toEqual([stopAt, true]);
    });
    expect([...states].toSorted()).toEqual(['heading: B\n', 'stopped', 'title: B\n']);
  });
});
