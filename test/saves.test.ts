import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { copyOf, ready } from './support/migrated.ts';
import { edit, lumbrik, snapshot, workspace } from './support/program.ts';
import { allSaves, halfWritten } from './support/stops.ts';

const added = '# saved by an editor\n';

/** A file that is there, with a line more: written beside its place and moved there, as editors do, or in its place. */
function save(folder: string, file: string, isMoved: boolean): void {
  const full = path.join(folder, file);
  if (!fs.existsSync(full)) return;
  const text = `${fs.readFileSync(full, 'utf8')}${added}`;
  fs.writeFileSync(isMoved ? `${full}~` : full, text);
  if (isMoved) fs.renameSync(`${full}~`, full);
}

/** The files of a folder, without those that were saved. */
const others = (folder: string, saved: readonly string[]): string =>
  JSON.stringify([...snapshot(folder)].filter(([file]) => !saved.includes(file)));

const content = (folder: string, below: string, saved: readonly string[]): string =>
  JSON.stringify(
    [...snapshot(folder)]
      .filter(([file]) => file.startsWith(below) && !saved.includes(file))
      .map(([file, bytes]) => [file, bytes]),
  );

describe('a file that another program saves while a command writes is kept [A5] [H5]', () => {
  test.each([
    ['run', false],
    ['run', true],
    ['undo', false],
    ['undo', true],
  ] as const)('by migration %s, saved in its place or moved there: %s', async (command, isMoved) => {
    const start = await ready();
    if (command === 'undo') await lumbrik(start, ['migration', 'run']);
    const finished = copyOf(start);
    await lumbrik(finished, ['migration', command]);
    // Of each entry, the two places in which it may stand.
    const names = ['a.yaml', 'b.md', 'c.json'];
    const places = names.flatMap((name) => [`content/light/${name}`, `content/lighthouse/${name}`]);
    const [kept = '', keptToo = ''] = places;
    const outcomes = new Set<string>();

    const changes = await allSaves(
      start,
      ['migration', command],
      (folder) => {
        for (const place of [kept, keptToo]) save(folder, place, isMoved);
      },
      async (folder, { code, out, err }, saveAt) => {
        const texts = [kept, keptToo].filter((place) => fs.existsSync(path.join(folder, place)));
        const saved = texts.filter((place) => fs.readFileSync(path.join(folder, place), 'utf8').includes(added));
        expect([saveAt, saved.length > 0, out + err]).toEqual([saveAt, true, expect.anything()]);
        // All others are as before or as after, and which it is goes by the exit code.
        const now = content(folder, 'content/', [kept, keptToo]);
        const [old, done] = [start, finished].map((one) => content(one, 'content/', [kept, keptToo]));
        expect([saveAt, code, now === (code === 0 ? done : old)]).toEqual([saveAt, code, true]);
        expect([saveAt, halfWritten(folder)]).toEqual([saveAt, []]);
        expect([saveAt, [0, 3].includes(code ?? 70), err + out]).toEqual([saveAt, true, expect.anything()]);
        outcomes.add(String(code));
      },
    );
    expect(changes).toBeGreaterThan(20);
    expect([...outcomes].sort()).toEqual(['0', '3']);
  });

  test.each([
    [['check', '--fix', '--yes'], 'content/light/a.yaml'],
    [['rename', 'light.name', 'title'], 'model/types/light.yaml'],
    [['rename', 'light', 'beacon'], 'model/types/light.yaml'],
    [['move', 'light.old', 'light.more.old'], 'model/types/light.yaml'],
    [['add', 'field', 'light', 'range', '--kind', 'integer'], 'model/types/light.yaml'],
    [['add', 'term', 'topic', 'birds'], 'content/topic.terms.yaml'],
    [['terms', 'topic', '--add', 'terms.csv'], 'content/topic.terms.yaml'],
    [['migration', 'answer', '1', '--value', 'true'], 'migrations/0001-change-light.yaml'],
  ])('by %j, in %s', async (args, file) => {
    const start = workspace({
      'model/types/light.yaml': `type: light\ntitled: name\nfields:\n  name: { kind: text }\n  old: { kind: text }\n  more: { kind: object, fields: { x: { kind: text } } }\n  lit: { kind: decimal }\n`,
      'model/taxonomies/topic.yaml': 'taxonomy: topic\nopen: true\n',
      'content/topic.terms.yaml': 'taxonomy: topic\nterms:\n  - lenses\n',
      'content/light/a.yaml': 'name: A\nlit: "2.5"\n',
      'content/light/b.yaml': 'name: B\nlit: "2.5"\n',
      'terms.csv': 'term,label\nbirds,Birds\n',
    });
    await lumbrik(start, ['seal', '-m', 'one']);
    if (args[0] === 'migration') {
      edit(start, 'model/types/light.yaml', '  lit:', '  open: { kind: boolean, required: true }\n  lit:');
      await lumbrik(start, ['migration', 'draft']);
      const [draft = ''] = fs.readdirSync(path.join(start, 'migrations'));
      fs.renameSync(path.join(start, 'migrations', draft), path.join(start, file));
    }
    const finished = copyOf(start);
    expect([(await lumbrik(finished, args)).code, others(finished, []) === others(start, [])]).toEqual([0, false]);
    const changes = await allSaves(
      start,
      args,
      (folder) => save(folder, file, true),
      async (folder, { code, out, err }, saveAt) => {
        const text = fs.existsSync(path.join(folder, file)) ? fs.readFileSync(path.join(folder, file), 'utf8') : added;
        expect([saveAt, code, text.includes(added), out + err]).toEqual([saveAt, code, true, expect.anything()]);
        expect([saveAt, [0, 3].includes(code ?? 70), err + out]).toEqual([saveAt, true, expect.anything()]);
        expect([saveAt, halfWritten(folder)]).toEqual([saveAt, []]);
        // Whatever was left to do, the next command finds a workspace in order.
        expect((await lumbrik(folder, ['history'])).code).toBe(0);
      },
    );
    expect(changes).toBeGreaterThan(5);
  });
});
