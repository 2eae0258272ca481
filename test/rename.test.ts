import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { type Files, lumbrik, read, result, workspace } from './support/program.ts';

const model: Files = {
  'model/kits/place.yaml':
    'kit: place\nfields:\n  town: { kind: text, max: 40 }\n  hours: { kind: object, fields: { opens: { kind: time } } }\nrules:\n  - { expect: \'entry.town != ""\', say: Where?, at: town }\n',
  'model/fields/title.yaml': 'field: title\nkind: text\nmax: 60\n',
  'model/taxonomies/coast.yaml':
    'taxonomy: coast\nterms:\n  - term: north # cold\n    terms: [skerry, { term: holm, retired: { use: skerry } }]\n  - south\n  - term: west\n    terms: [{ also: skerry }]\n',
  'model/taxonomies/short.yaml': 'taxonomy: short\nborrows: [coast:north/skerry]\nterms: [far]\n',
  'model/taxonomies/tag.yaml': 'taxonomy: tag\nopen: true\n',
  'model/types/work.yaml': `# Everything that is shown.
type: work
titled: 'title' # as on the label
order: [title, level]
previews: { site: "https://gannet.example/{id}/{title}" }
fields:
  title: { use: title, required: true }
  "level": { kind: choice, choices: [easy, { choice: hard, label: hard }], default: easy }
  about: { kind: slug, from: title }
  tags: { kind: term, taxonomy: tag, many: true }
rules:
  - expect: entry.title != "" && entry.level != "" # both
    say: Say both.
    at: level
`,
  'model/types/print.yaml':
    'type: print\nextends: work\nkits: [place]\nfields:\n  town: { required: true }\n  title: { max: 50 }\n  coast: { kind: term, taxonomy: coast }\n  made: { kind: object, fields: { by: { kind: reference, to: person }, note: { kind: text } } }\n  after: { kind: reference, to: work }\n',
  'model/types/person.yaml':
    'type: person\nkits: [place]\nfields:\n  name: { kind: text }\n  near: { kind: text, when: has(entry.name) }\n  works: { kind: integer, computed: { count: print.made.by } }\n',
  'model/types/note.yaml':
    'type: note\nfields:\n  what: { kind: text }\n  on: { kind: reference, to: [work, person] }\nrules:\n  - { expect: \'lookUp(entry.on, "person.name", "") != entry.what\', say: Other words. }\n',
  'content/tag.terms.yaml': 'taxonomy: tag\nterms: [blue]\n',
};
const gallery = async (): Promise<string> => {
  const folder = workspace(model);
  await lumbrik(folder, ['seal', '-m', 'one']);
  return folder;
};
/** Every comment of a model, which no edit may lose. */
const comments = ['# cold', '# Everything that is shown.', '# as on the label', '# both'];
const allText = (folder: string): string =>
  fs
    .readdirSync(path.join(folder, 'model'), { recursive: true, withFileTypes: true })
    .filter((one) => one.isFile())
    .map((one) => fs.readFileSync(path.join(one.parentPath, one.name), 'utf8'))
    .join('\n');

const addresses = [
  'work',
  'print',
  'person',
  'note',
  'work.title',
  'work.level',
  'print.title',
  'print.town',
  'person.town',
  'person.hours',
  'print.hours.opens',
  'print.made',
  'print.made.by',
  'print.made.note',
  'person.name',
  'person.near',
  'note.on',
  'work.level:easy',
  'work.level:hard',
  'coast:',
  'tag:',
  'coast:north',
  'coast:skerry',
  'coast:holm',
  'coast:south',
];

describe('renaming in the files of a model [G2, H2]', () => {
  test.each(addresses)('%s: all that mentions it follows, and nothing else changes', async (address) => {
    const folder = await gallery();
    const renamed = await result(folder, ['rename', address, 'fresh']);
    expect(renamed.error).toBeUndefined();
    for (const comment of comments) expect(allText(folder)).toContain(comment);
    const { changes, entries } = await result(folder, ['diff']);
    expect(changes.filter(({ change }: { change: string }) => !['renamed', 'shared-changed'].includes(change))).toEqual(
      [],
    );
    expect(changes.map(({ says }: { says: string }) => says)).toContain('renamed to fresh');
    expect(entries).not.toBe('lose');
    // And back again, but for quotes that a name had, with nothing stated any more.
    const back = address.split(/[.:/]/u).findLast((one) => one !== '') ?? '';
    expect((await result(folder, ['rename', renamed.to, back])).error).toBeUndefined();
    for (const [file, text] of Object.entries(model)) {
      expect(read(folder, file).replaceAll(/["']/gu, '')).toBe(String(text).replaceAll(/["']/gu, ''));
    }
    expect(fs.existsSync(path.join(folder, 'migrations/stated.yaml'))).toBe(false);
  });
});

const trips: Files = {
  'model/types/trip.yaml': `type: trip
titled: name
order: [street, name]
groups: [Place]
fields:
  name: { kind: text }
  street: # where it starts
    kind: text
    group: Place
  town: { kind: text }
  stops: { kind: object, many: true, fields: { place: { kind: text } } }
rules:
  - { expect: 'entry.street != entry.town', say: Odd., at: street }
`,
  'content/trip/a.yaml': 'name: A\nstreet: S # here\ntown: T\n',
  'content/trip/b.yaml': 'name: B\nstreet: R\n',
};

describe('moving in the files of a model', () => {
  test('an object comes and goes; the entries follow by the next draft, which asks nothing', async () => {
    const folder = workspace(trips);
    await lumbrik(folder, ['seal', '-m', 'one']);
    const moved = await result(folder, ['move', 'trip.street', 'trip.at.street']);
    expect(moved.left).toEqual(['group']);
    await result(folder, ['move', 'trip.town', 'trip.at.town']);
    await result(folder, ['rename', 'trip.at.town', 'city']);
    await result(folder, ['rename', 'trip', 'tour']);
    const text = read(folder, 'model/types/tour.yaml');
    expect(text).toContain('entry.at.street != entry.at.city');
    expect(text).toContain('# where it starts');
    expect(await result(folder, ['check'])).toMatchObject({ ok: false });
    const drafted = await result(folder, ['migration', 'draft']);
    expect(drafted.openQuestions).toBe(0);
    expect(drafted.steps.map(({ verb, address }: Record<string, string>) => `${verb} ${address}`)).toEqual([
      'rename trip',
      'move tour.street',
      'move tour.town',
    ]);
    await lumbrik(folder, ['migration', 'rehearse']);
    await lumbrik(folder, ['migration', 'run']);
    expect(read(folder, 'content/tour/a.yaml')).toBe('name: A\nat:\n  street: S # here\n  city: T\n');
    expect((await result(folder, ['check'])).ok).toBe(true);
  });

  test('out of an object, which goes with the last that it held', async () => {
    const folder = workspace({
      'model/types/trip.yaml':
        'type: trip\nfields:\n  name: { kind: text }\n  at:\n    kind: object\n    fields:\n      street: { kind: text, max: 80 } # a line\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    expect((await result(folder, ['move', 'trip.at.street', 'trip.street'])).error).toBeUndefined();
    expect(read(folder, 'model/types/trip.yaml')).toBe(
      'type: trip\nfields:\n  name: { kind: text }\n  street: { kind: text, max: 80 } # a line\n',
    );
  });
});

describe('what cannot be renamed or moved is refused, and nothing is written', () => {
  test.each([
    [['rename', 'work.nothing', 'x'], 'not-found'],
    [['rename', 'work.title', 'level'], 'name-taken'],
    [['rename', 'work', 'Not a name'], 'malformed-rename'],
    [['rename', 'work/one', 'x'], 'malformed-rename'],
    [['rename', 'tag:blue', 'x'], 'open-taxonomy'],
    [['rename', 'place', 'x'], 'not-found'],
    [['move', 'print.town', 'print.made.town'], 'arrives'],
    [['move', 'print.coast', 'person.coast'], 'malformed-move'],
    [['move', 'print.made', 'print.made.inner'], 'cannot-move'],
    [['move', 'work.title', 'work.level'], 'name-taken'],
    [['move', 'work.nothing', 'work.x'], 'not-found'],
  ])('%j', async (args, code) => {
    const folder = await gallery();
    const { error } = await result(folder, args);
    expect(error.code).toBe(code);
    for (const [file, text] of Object.entries(model)) expect(read(folder, file)).toBe(text);
  });

  test('a file that names a thing and writes it again by that name keeps both', async () => {
    const folder = workspace({
      'model/types/a.yaml': 'type: a\nfields: &all\n  b: { kind: text }\n  c: { kind: slug, from: b }\n',
      'model/types/d.yaml': 'type: d\nfields: { e: &one { kind: text }, f: *one }\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    expect((await result(folder, ['rename', 'a.b', 'x'])).error).toBeUndefined();
    expect((await result(folder, ['rename', 'd.e', 'y'])).error).toBeUndefined();
    expect(read(folder, 'model/types/a.yaml')).toBe(
      'type: a\nfields: &all\n  x: { kind: text }\n  c: { kind: slug, from: x }\n',
    );
    expect(read(folder, 'model/types/d.yaml')).toBe('type: d\nfields: { y: &one { kind: text }, f: *one }\n');
  });

  test('what is stated by hand in a wrong way is told with its file', async () => {
    const folder = await gallery();
    fs.mkdirSync(path.join(folder, 'migrations'), { recursive: true });
    fs.writeFileSync(path.join(folder, 'migrations/stated.yaml'), 'renamed: work\n');
    expect((await result(folder, ['diff'])).error.where.file).toBe('migrations/stated.yaml');
  });
});

describe('migrations that wait for each other [H4]', () => {
  const fields = (...names: string[]): Files => ({
    'model/types/a.yaml': `type: a\nfields:\n${names.map((name) => `  ${name}: { kind: text }\n`).join('')}`,
  });

  test('a draft starts where those end that were not run yet, and is rehearsed on the entries as they will be', async () => {
    const folder = workspace({ ...fields('x', 'y'), 'content/a/e.yaml': 'x: one\ny: two\n' });
    await lumbrik(folder, ['seal', '-m', 'one']);
    await lumbrik(folder, ['rename', 'a.x', 'first']);
    await lumbrik(folder, ['migration', 'draft']);
    await lumbrik(folder, ['seal', '-m', 'two']);
    await lumbrik(folder, ['rename', 'a.y', 'second']);
    const second = await result(folder, ['migration', 'draft']);
    expect([second.number, second.from, second.steps.length, second.openQuestions]).toEqual([2, 'revision 2', 1, 0]);
    const ahead = await result(folder, ['migration', 'rehearse', '2']);
    expect(ahead).toMatchObject({ ok: true, changed: 1, ahead: ['migrations/0001-rename-x.yaml'] });
    expect(ahead.steps[0].samples).toEqual([{ entry: 'a/e', pointer: '/y', before: 'two', movedTo: '/second' }]);
    // That it was rehearsed ahead does not let it run.
    expect((await result(folder, ['migration', 'run', '2'])).error.code).toBe('other-standing');
    for (const number of ['1', '2']) {
      await lumbrik(folder, ['migration', 'rehearse', number]);
      expect((await result(folder, ['migration', 'run', number])).error).toBeUndefined();
    }
    expect(read(folder, 'content/a/e.yaml')).toBe('first: one\nsecond: two\n');
    expect((await result(folder, ['migration', 'draft'])).error.code).toBe('nothing-to-migrate');
  });
});
