import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { copyOf, ready } from './support/migrated.ts';
import { edit, lumbrik, result, snapshot, workspace, write } from './support/program.ts';
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
