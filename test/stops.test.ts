import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { copyOf, ready } from './support/migrated.ts';
import { edit, lumbrik, result, snapshot, workspace, write } from './support/program.ts';
import { halfWritten, remains, stopped } from './support/stops.ts';

/** A workspace with schemas, a sealed model and one that has moved on, so that every command has something to write. */
async function busy(): Promise<string> {
  const folder = workspace({
    'model/types/light.yaml': 'type: light\ntitled: name\nfields:\n  name: { kind: text }\n  old: { kind: text }\n',
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
  ])('%j either happened or did not, and nothing is left of it', async (args) => {
    const start = await busy();
    const finished = copyOf(start);
    const changes = stopped(finished, args, 0);
    const [old, done] = [snapshot(start), snapshot(finished)];
    if (args[0] !== 'entry' || args[1] === 'new') expect(done).not.toEqual(old);
    expect(changes).toBeGreaterThan(8);
    const outcomes = new Set<string>();
    for (let killAt = 1; killAt <= changes; killAt += 1) {
      const folder = copyOf(start);
      stopped(folder, args, killAt);
      // The next command reads, and finds it settled.
      const { err } = await lumbrik(folder, ['history']);
      expect([killAt, err]).toEqual([killAt, '']);
      const now = snapshot(folder);
      outcomes.add(JSON.stringify([...now]));
      expect([killAt, [old, done].some((one) => JSON.stringify([...one]) === JSON.stringify([...now]))]).toEqual([
        killAt,
        true,
      ]);
      expect([killAt, remains(folder), halfWritten(folder)]).toEqual([killAt, [], []]);
    }
    if (args[1] !== 'revision') expect(outcomes.size).toBe(2);
  });

  test('a first seal that is stopped loses no migration', async () => {
    const start = workspace({
      'model/types/light.yaml': 'type: light\nfields:\n  name: { kind: text }\n',
      'content/light/a.yaml': 'name: A\n',
    });
    const changes = stopped(copyOf(start), ['seal', '-m', 'one'], 0);
    for (let killAt = 1; killAt <= changes; killAt += 1) {
      const folder = copyOf(start);
      stopped(folder, ['seal', '-m', 'one'], killAt);
      await lumbrik(folder, ['seal', '-m', 'one']);
      edit(folder, 'model/types/light.yaml', 'name: { kind: text }', 'title: { kind: text, required: true }');
      expect([killAt, (await result(folder, ['check'])).standing]).toEqual([killAt, { state: 'behind', revision: 1 }]);
      expect((await result(folder, ['migration', 'draft'])).from).toBe('revision 1');
    }
  });

  test('a rehearsal that is stopped counts for nothing or for all', async () => {
    const start = await ready();
    fs.rmSync(path.join(start, '.lumbrik/rehearsals'), { recursive: true });
    const before = snapshot(start);
    const changes = stopped(copyOf(start), ['migration', 'rehearse'], 0);
    for (let killAt = 1; killAt <= changes; killAt += 1) {
      const folder = copyOf(start);
      stopped(folder, ['migration', 'rehearse'], killAt);
      const { code, error } = await result(folder, ['migration', 'run']);
      expect([killAt, code === 0 || error.code === 'not-rehearsed']).toEqual([killAt, true]);
      expect([killAt, halfWritten(folder)]).toEqual([killAt, []]);
      if (code !== 0) expect(snapshot(folder)).toEqual(before);
    }
  });
});
