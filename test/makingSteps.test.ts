import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { type Files, lumbrik, read, result, snapshot, workspace, write } from './support/program.ts';

/** A library before and after: what was one type is two, texts are entries, a reference stands on its other side. */
const before: Files = {
  'model/types/book.yaml': `type: book
titled: title
fields:
  title: { kind: text, required: true }
  author: { kind: text, many: true }
  publisher: { kind: object, fields: { name: { kind: text }, city: { kind: text } } }
  shelf: { kind: reference, to: shelf, inverse: books }
  kind: { kind: choice, choices: [book, map] }
  scale: { kind: text }
`,
  'model/types/shelf.yaml': 'type: shelf\ntitled: name\nfields:\n  name: { kind: text }\n',
  'model/types/note.yaml': `type: note
fields:
  text: { kind: markdown, body: true }
  about: { kind: reference, to: [book, shelf], many: true }
  one: { kind: reference, to: book }
  rich: { kind: richText, links: { entries: [book] } }
  parts: { kind: object, many: true, fields: { of: { kind: reference, to: [book, shelf] } } }
`,
  'content/book/a.yaml':
    'title: A\nauthor: [Ann Ost, Ben]\npublisher: { name: P, city: X }\nshelf: s1 # here\nkind: book\n',
  'content/book/b.yaml':
    'title: B # a map\nauthor:\n  - Ben\n  - ann ost\npublisher: { name: P, city: X }\nshelf: s1\nkind: map\nscale: "1:500"\n',
  'content/book/c.json':
    '{ "title": "C", "author": ["Ann Ost"], "publisher": { "name": "P", "city": "Y" }, "shelf": "s2", "kind": "map" }\n',
  'content/book/d.yaml': 'title: D\n',
  'content/shelf/s1.yaml': 'name: S1\n',
  'content/shelf/s2.yaml': 'name: S2\n',
  'content/note/n.md':
    '---\nabout: [book/a, book/b, shelf/s1]\none: b\nparts: [{ of: book/c }, { of: shelf/s2 }]\n---\n\nSee [it](entry:book/b), [that](entry:book/a) and <entry:book/c>.\n',
  'content/note/r.yaml':
    'rich:\n  type: root\n  children:\n    - type: paragraph\n      children:\n        - { type: link, url: "entry:book/b", children: [{ type: text, value: it }] }\n',
};
const after: Files = {
  'model/types/book.yaml':
    'type: book\ntitled: title\nfields:\n  title: { kind: text, required: true }\n  author: { kind: reference, to: person, many: true }\n  publisher: { kind: reference, to: house }\n',
  'model/types/map.yaml':
    'type: map\ntitled: title\nfields:\n  title: { kind: text, required: true }\n  author: { kind: reference, to: person, many: true }\n  publisher: { kind: reference, to: house }\n  scale: { kind: text }\n',
  'model/types/person.yaml': 'type: person\ntitled: name\nfields:\n  name: { kind: text }\n',
  'model/types/house.yaml': 'type: house\ntitled: name\nfields:\n  name: { kind: text }\n  city: { kind: text }\n',
  'model/types/shelf.yaml':
    'type: shelf\ntitled: name\nfields:\n  name: { kind: text }\n  books: { kind: reference, to: [book, map], many: true, inverse: shelf }\n',
  'model/types/note.yaml': String(before['model/types/note.yaml'])
    .replaceAll('[book, shelf]', '[book, shelf, map]')
    .replace('to: book }', 'to: [book, map] }')
    .replace('entries: [book]', 'entries: [book, map]'),
};

async function drafted(
  files: Files,
  changed: Files,
  gone: readonly string[] = [],
): Promise<{ readonly folder: string; readonly steps: string[] }> {
  const folder = workspace(files);
  await lumbrik(folder, ['seal', '-m', 'one']);
  write(folder, changed);
  for (const file of gone) fs.rmSync(path.join(folder, file));
  const { steps, error } = await result(folder, ['migration', 'draft']);
  expect(error).toBeUndefined();
  return { folder, steps: steps.map((one: { verb: string; address: string }) => `${one.verb} ${one.address}`) };
}

/** Takes what is drafted as it is guessed; rehearses and runs. */
async function run(folder: string) {
  for (;;) {
    const { questions } = await result(folder, ['migration', 'answer', '--no-ask']);
    if (questions.length === 0) break;
    await lumbrik(folder, ['migration', 'answer', '--step', String(questions[0].step), '--yes']);
  }
  const rehearsed = await result(folder, ['migration', 'rehearse']);
  expect(rehearsed.error).toBeUndefined();
  const ran = await result(folder, ['migration', 'run']);
  return { rehearsed, ran };
}

describe('a change that makes entries out of entries [G6, H2]', () => {
  test('is drafted as what it is, runs, and is taken back byte for byte', async () => {
    const { folder, steps } = await drafted(before, after);
    for (const step of ['pull book.author', 'pull book.publisher', 'turn book.shelf', 'send book'])
      expect(steps).toContain(step);
    const bytes = snapshot(folder, 'content');
    const { rehearsed, ran } = await run(folder);
    expect(ran.error).toBeUndefined();
    expect(rehearsed.findingsAfter).toEqual([]);
    expect(rehearsed).toMatchObject({ errorsAfter: 0, made: 4, changed: 7 });
    expect(rehearsed.lost.map(({ entry, pointer }: Record<string, string>) => `${entry}${pointer}`)).toEqual([
      'book/a/kind',
      'map/b/author',
      'map/b/kind',
      'map/c/kind',
    ]);
    expect(read(folder, 'content/map/b.yaml')).toBe(
      'title: B # a map\nauthor:\n  - ben\n  - ann-ost\npublisher: p\nscale: "1:500"\n',
    );
    expect(read(folder, 'content/map/c.json')).toBe('{ "title": "C", "author": ["ann-ost"], "publisher": "p-2" }\n');
    expect(read(folder, 'content/person/ann-ost.yaml')).toBe('name: Ann Ost\n');
    expect(read(folder, 'content/house/p-2.yaml')).toBe('name: P\ncity: Y\n');
    expect(read(folder, 'content/shelf/s1.yaml')).toBe('name: S1\nbooks:\n  - book/a\n  - map/b\n');
    expect(read(folder, 'content/note/n.md')).toBe(
      '---\nabout: [book/a, map/b, shelf/s1]\none: map/b\nparts: [{ of: map/c }, { of: shelf/s2 }]\n---\n\nSee [it](entry:map/b), [that](entry:book/a) and <entry:map/c>.\n',
    );
    expect(read(folder, 'content/note/r.yaml')).toContain('entry:map/b');
    expect((await result(folder, ['check'])).ok).toBe(true);
    await lumbrik(folder, ['migration', 'undo']);
    expect(snapshot(folder, 'content')).toEqual(bytes);
  });

  test('so it does with entries in lines', async () => {
    const lines = [
      { id: 'a', type: 'book', title: 'A', author: ['Ann Ost', 'Ben'], shelf: 's1', kind: 'book' },
      { id: 'b', type: 'book', title: 'B', author: ['Ben'], shelf: 's1', kind: 'map', scale: '1:500' },
      { id: 's1', type: 'shelf', name: 'S1' },
      { id: 'n', type: 'note', about: ['book/a', 'book/b'], one: 'b' },
    ];
    const model = Object.fromEntries(Object.entries(before).filter(([file]) => file.startsWith('model/')));
    const { folder } = await drafted(
      {
        ...model,
        'lumbrik.yaml': 'workspace: Library\nlanguages: [en]\ncontent: [{ lines: content/all.ndjson }]\n',
        'content/all.ndjson': `${lines.map((line) => JSON.stringify(line)).join('\n')}\n`,
      },
      after,
    );
    const bytes = snapshot(folder, 'content');
    const { ran } = await run(folder);
    expect(ran.error).toBeUndefined();
    const now = read(folder, 'content/all.ndjson')
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line));
    expect(now).toEqual([
      { id: 'a', type: 'book', title: 'A', author: ['ann-ost', 'ben'] },
      { id: 'b', type: 'map', title: 'B', author: ['ben'], scale: '1:500' },
      { id: 's1', type: 'shelf', name: 'S1', books: ['book/a', 'map/b'] },
      { id: 'n', type: 'note', about: ['book/a', 'map/b'], one: 'map/b' },
      { id: 'ann-ost', type: 'person', name: 'Ann Ost' },
      { id: 'ben', type: 'person', name: 'Ben' },
    ]);
    // An edit since is kept, beside every other byte; a line that came since comes along.
    const file = path.join(folder, 'content/all.ndjson');
    const left = fs.readFileSync(file, 'utf8');
    fs.writeFileSync(
      file,
      `${left.replace('"title":"B"', '"title":"Bee"')}${JSON.stringify({ id: 'z', type: 'map', title: 'Z' })}\n`,
    );
    const { kept, lostEdits, error } = await result(folder, ['migration', 'undo', '--partly']);
    expect(error).toBeUndefined();
    expect(kept).toMatchObject([{ entry: 'book/b', fields: ['title'], state: 'edited' }]);
    expect(lostEdits).toMatchObject([{ entry: 'map/z' }]);
    const undone = fs.readFileSync(file, 'utf8').split('\n');
    const original = lines.map((line) => JSON.stringify(line).replace('"title":"B"', '"title":"Bee"'));
    expect(undone).toEqual([...original, JSON.stringify({ id: 'z', type: 'map', title: 'Z' }), '']);
    fs.writeFileSync(file, Buffer.from([...bytes.values()].find((one) => one.length > 200) ?? '', 'hex'));
    expect(snapshot(folder, 'content')).toEqual(bytes);
  });

  test('what was not meant is told in its parts after a no', async () => {
    const { folder, steps } = await drafted(before, after);
    for (const one of ['pull book.author', 'turn book.shelf', 'send book']) {
      const { questions } = await result(folder, ['migration', 'answer', '--no-ask']);
      const asked = questions.find((each: { verb: string; address: string }) => `${each.verb} ${each.address}` === one);
      expect((await result(folder, ['migration', 'answer', '--step', String(asked.step), '--no'])).replanned).toBe(
        true,
      );
    }
    const { steps: now } = await result(folder, ['migration', 'show']);
    const verbs = now.map((one: { verb: string; address: string }) => `${one.verb} ${one.address}`);
    expect(steps).not.toContain('convert book.author');
    for (const step of ['convert book.author', 'drop book.shelf', 'add shelf.books', 'pull book.publisher'])
      expect(verbs).toContain(step);
    expect(verbs).not.toContain('send book');
  });

  test('which entries go is answered by a condition', async () => {
    const { folder } = await drafted(before, after);
    const { questions } = await result(folder, ['migration', 'answer', '--no-ask']);
    const { step } = questions.find(({ verb }: { verb: string }) => verb === 'send');
    const wrong = await result(folder, [
      'migration',
      'answer',
      '--step',
      String(step),
      '--where',
      'entry.nothing == 1',
    ]);
    expect(wrong.error.code).toBe('step-does-not-fit');
    await result(folder, ['migration', 'answer', '--step', String(step), '--where', 'entry.title == "D"']);
    const { ran } = await run(folder);
    expect(ran.error).toBeUndefined();
    expect(read(folder, 'content/map/d.yaml')).toBe('title: D\n');
    expect(read(folder, 'content/book/b.yaml')).toContain('title: B');
  });
});

/** A migration of one's own steps over two models, run. */
async function steps(files: Files, changed: Files, written: string) {
  const { folder } = await drafted(files, changed);
  const { migrations } = await result(folder, ['migration', 'list']);
  const head = read(folder, migrations[0].file).replace(/\nsteps:[\s\S]*$/u, '\n');
  write(folder, { [migrations[0].file]: `${head}steps:\n${written}` });
  const rehearsed = await result(folder, ['migration', 'rehearse']);
  return { folder, rehearsed };
}

const people: Files = {
  'model/types/person.yaml':
    'type: person\nfields:\n  name: { kind: text }\n  born: { kind: text }\n  tall: { kind: text }\n',
  'content/person/a.yaml': '# one\nname: Ann van Ost # said\nborn: 1901-02-03 in Holm\ntall: 12 x 13\n',
  'content/person/b.yaml': 'name: Ben\n',
  'content/person/c.md': '---\nname: "Cy Oak"\ntall: 3 x tall\n---\n',
};

describe('split and join', () => {
  const split: Files = {
    'model/types/person.yaml':
      'type: person\nfields:\n  firstName: { kind: text }\n  lastName: { kind: text }\n  born: { kind: text }\n  wide: { kind: integer }\n  high: { kind: integer }\n',
  };
  const written = `  - split: person.name
    at: " "
    into: { firstName: { kind: text }, lastName: { kind: text } }
  - split: person.tall
    at: " x "
    into: { wide: { kind: integer }, high: { kind: integer } }
`;
  test('a text goes into its parts; the last has the rest, and what is no number is named', async () => {
    const { folder, rehearsed } = await steps(people, split, written);
    expect(rehearsed.lost).toMatchObject([{ entry: 'person/c', pointer: '/tall', value: 'tall' }]);
    await result(folder, ['migration', 'run']);
    expect(read(folder, 'content/person/a.yaml')).toBe(
      '# one\nfirstName: Ann # said\nlastName: van Ost\nborn: 1901-02-03 in Holm\nwide: 12\nhigh: 13\n',
    );
    expect(read(folder, 'content/person/b.yaml')).toBe('firstName: Ben\n');
    expect(read(folder, 'content/person/c.md')).toBe('---\nfirstName: "Cy"\nlastName: Oak\nwide: 3\n---\n');
  });

  test('it is recognised by the names, and by what the values look like', async () => {
    const { steps: found } = await drafted(people, {
      'model/types/person.yaml': String(split['model/types/person.yaml']).replaceAll('integer', 'text'),
    });
    expect(found).toEqual(['split person.name', 'split person.tall']);
  });

  test('and back again', async () => {
    const parts: Files = {
      'model/types/person.yaml': split['model/types/person.yaml'] ?? '',
      'content/person/a.yaml': 'firstName: Ann # said\nlastName: van Ost\nborn: x\n',
      'content/person/b.yaml': 'lastName: Ben\n',
      'content/person/c.yaml': 'born: y\n',
    };
    const { folder, steps: found } = await drafted(parts, {
      'model/types/person.yaml':
        'type: person\nfields:\n  name: { kind: text }\n  born: { kind: text }\n  wide: { kind: integer }\n  high: { kind: integer }\n',
    });
    expect(found).toEqual(['join person.firstName']);
    await run(folder);
    expect(read(folder, 'content/person/a.yaml')).toBe('name: Ann van Ost # said\nborn: x\n');
    expect(read(folder, 'content/person/b.yaml')).toBe('name: Ben\n');
    expect(read(folder, 'content/person/c.yaml')).toBe('born: y\n');
  });

  test.each([
    ['  - split: person.name\n    at: " "\n    into: { born: { kind: text }, x: { kind: text } }\n', 'already'],
    ['  - split: person.name\n    at: " "\n    into: { x: { kind: text } }\n', 'two at least'],
    ['  - split: person.nothing\n    at: " "\n    into: { x: { kind: text }, y: { kind: text } }\n', 'no field'],
    ['  - join: person.name\n    and: [nothing]\n    with: ""\n    into: { x: { kind: text } }\n', 'no field'],
    [
      '  - join: person.name\n    and: [born]\n    with: ""\n    into: { x: { kind: text }, y: { kind: text } }\n',
      'into one',
    ],
    ['  - split: person.name\n    at: " "\n    into: { x: { kind: nothing }, y: { kind: text } }\n', 'no kind'],
  ])('what cannot be is refused: %s', async (own, says) => {
    const { rehearsed } = await steps(people, split, own);
    expect(rehearsed.error.code).toBe('step-does-not-fit');
    expect(rehearsed.error.says).toContain(says);
  });
});

describe('pull', () => {
  const tours: Files = {
    'model/types/tour.yaml':
      'type: tour\nfields:\n  guide: { kind: text, many: true }\n  inner: { kind: object, many: true, fields: { by: { kind: text } } }\n',
    'model/types/person.yaml':
      'type: person\ntitled: name\nfields:\n  name: { kind: text, max: 40 }\n  town: { kind: text }\n',
    'content/person/ann.yaml': 'name: Ann\ntown: Holm\n',
    'content/person/ben.yaml': 'name: Someone\n',
    'content/tour/a.yaml': 'guide: [Ann, Ben, Ann]\ninner: [{ by: Ben }, { by: "??" }]\n',
    'content/tour/b.yaml': 'guide: Cy\n',
    'content/tour/c.yaml': 'guide: []\n',
  };
  const model = (guide: string, by = '{ kind: text }'): Files => ({
    'model/types/tour.yaml': `type: tour\nfields:\n  guide: ${guide}\n  inner: { kind: object, many: true, fields: { by: ${by} } }\n`,
  });
  const many = '{ kind: reference, to: person, many: true }';

  test('takes entries that are there, and gives new ones identifiers that are free', async () => {
    const one = '{ kind: reference, to: person }';
    const { folder, rehearsed } = await steps(
      tours,
      model(many, one),
      `  - pull: tour.guide\n    field: ${many}\n    as: name\n  - pull: tour.inner.by\n    field: ${one}\n`,
    );
    expect(rehearsed.error).toBeUndefined();
    expect(rehearsed.steps.map(({ made }: { made: string[] }) => made)).toEqual([
      ['person/ben-2', 'person/cy'],
      ['person/person'],
    ]);
    await result(folder, ['migration', 'run']);
    expect(read(folder, 'content/tour/a.yaml')).toBe('guide: [ann, ben-2]\ninner: [{ by: ben-2 }, { by: "person" }]\n');
    expect(read(folder, 'content/tour/c.yaml')).toBe('guide: []\n');
    expect(read(folder, 'content/person/ann.yaml')).toBe('name: Ann\ntown: Holm\n');
  });

  test('names what is left of several where one may stand', async () => {
    const one = '{ kind: reference, to: person }';
    const { rehearsed } = await steps(tours, model(one), `  - pull: tour.guide\n    field: ${one}\n    as: name\n`);
    expect(rehearsed.lost).toMatchObject([{ entry: 'tour/a', pointer: '/guide', value: 'ben-2' }]);
  });

  test.each([
    [`  - pull: tour.guide\n    field: { kind: text }\n`, 'no reference'],
    [`  - pull: tour.guide\n    field: { kind: reference, to: [person, tour] }\n    as: name\n`, 'one type alone'],
    [`  - pull: tour.guide\n    field: { kind: reference, to: person }\n    as: nothing\n`, 'no field'],
    [`  - pull: tour.guide\n    field: { kind: reference, to: tour }\n`, 'nothing says'],
  ])('what cannot be is refused: %s', async (own, says) => {
    const { rehearsed } = await steps(tours, model(many), own);
    expect(rehearsed.error.says).toContain(says);
  });
});

describe('send', () => {
  const pages: Files = {
    'model/types/page.yaml':
      'type: page\nfields:\n  title: { kind: text }\n  size: { kind: text }\n  body: { kind: markdown, body: true }\n',
    'model/types/story.yaml':
      'type: story\nfields:\n  name: { kind: text }\n  size: { kind: integer }\n  text: { kind: markdown, body: true }\n',
    'content/page/a.md': '---\ntitle: A # one\nsize: "3"\n---\n\nText of A.\n',
    'content/page/b.md': '---\ntitle: B\nsize: big\n---\n\nText of B.\n',
    'content/story/b.md': '---\nname: Own\n---\n',
  };
  const merged: Files = {
    'model/types/story.yaml': `${pages['model/types/story.yaml']}  more: { kind: text }\n`,
  };
  const add = '  - add: story.more\n    field: { kind: text }\n';

  test('what entries would lack where they go is told with the question', async () => {
    const type = (name: string, fields: string): Files => ({
      [`model/types/${name}.yaml`]: `type: ${name}\nfields:\n  title: { kind: text }\n${fields}`,
    });
    const both = '  by: { kind: text }\n  isbn: { kind: text }\n';
    const { folder, steps } = await drafted(
      {
        ...type('book', both),
        'content/book/a.yaml': 'title: A\nby: X\nisbn: "1"\n',
        'content/book/b.yaml': 'status: draft\nby: Y\nisbn: "2"\n',
        'content/book/c.yaml': 'title: C\n',
      },
      {
        ...type('book', ''),
        ...type(
          'novel',
          `${both}  genre: { kind: text, required: true }\n  pages: { kind: integer, required: published }\n`,
        ),
      },
    );
    expect(steps).toContain('send book');
    const [file = ''] = fs.readdirSync(path.join(folder, 'migrations'));
    expect(read(folder, `migrations/${file}`).replace(/\n {2}# /gu, ' ')).toContain(
      'would be of novel; required there is `genre`, which 2 would lack and `pages`, which 1 would lack.',
    );
  });

  test('fields go along under their names, converted; the text of a file stays its text', async () => {
    const { folder, rehearsed } = await steps(
      pages,
      merged,
      `${add}  - send: page\n    to: story\n    where: entry.title == "A"\n    as: { title: name, body: text }\n`,
    );
    expect(rehearsed.error).toBeUndefined();
    await result(folder, ['migration', 'run']);
    expect(read(folder, 'content/story/a.md')).toBe('---\nname: A # one\nsize: 3\n---\n\nText of A.\n');
    expect(read(folder, 'content/page/b.md')).toContain('Text of B.');
  });

  test('two entries never become one file', async () => {
    const { folder, rehearsed } = await steps(
      pages,
      merged,
      `${add}  - send: page\n    to: story\n    as: { title: name, body: text }\n`,
    );
    expect(rehearsed.lost).toMatchObject([{ pointer: '/size', value: 'big' }]);
    expect(rehearsed.findingsAfter[0]).toMatchObject({ finding: 'duplicate-entry', isNew: true });
    const bytes = snapshot(folder, 'content');
    expect((await result(folder, ['migration', 'run'])).error.code).toBe('file-exists');
    expect(snapshot(folder, 'content')).toEqual(bytes);
  });

  test.each([
    [`${add}  - send: page\n    to: page\n`, 'of that type already'],
    [`${add}  - send: page\n    to: nothing\n`, 'no type'],
    [`${add}  - send: page\n    to: story\n    as: { title: nothing }\n`, 'no field'],
    [`${add}  - send: page\n    to: story\n    where: entry.title\n`, 'not true or false'],
  ])('what cannot be is refused: %s', async (own, says) => {
    const { rehearsed } = await steps(pages, merged, own);
    expect(rehearsed.error.says).toContain(says);
  });

  test('a type that goes sends its entries into one that took its fields in', async () => {
    const { folder, steps: found } = await drafted(
      {
        'model/types/news.yaml':
          'type: news\nfields:\n  title: { kind: text }\n  day: { kind: date }\n  place: { kind: text }\n',
        'model/types/notice.yaml': 'type: notice\nfields:\n  title: { kind: text }\n  day: { kind: date }\n',
        'model/types/link.yaml': 'type: link\nfields:\n  to: { kind: reference, to: [news, notice] }\n',
        'content/news/a.yaml': 'title: A\nday: 2026-01-02\nplace: Holm\n',
        'content/notice/b.yaml': 'title: B\n',
        'content/link/l.yaml': 'to: news/a\n',
      },
      {
        'model/types/notice.yaml':
          'type: notice\nfields:\n  title: { kind: text }\n  day: { kind: date }\n  place: { kind: text }\n',
        'model/types/link.yaml': 'type: link\nfields:\n  to: { kind: reference, to: notice }\n',
      },
      ['model/types/news.yaml'],
    );
    expect(found).toContain('send news');
    await run(folder);
    expect(read(folder, 'content/notice/a.yaml')).toBe('title: A\nday: 2026-01-02\nplace: Holm\n');
    expect(read(folder, 'content/link/l.yaml')).toBe('to: notice/a\n');
    expect((await result(folder, ['check'])).ok).toBe(true);
  });
});

describe('turn', () => {
  const model = (tour: string, keeper: string): Files => ({
    'model/types/tour.yaml': `type: tour\nfields:\n  name: { kind: text }\n${tour}`,
    'model/types/keeper.yaml': `type: keeper\nfields:\n  name: { kind: text }\n${keeper}`,
  });
  const files: Files = {
    ...model('  guide: { kind: reference, to: keeper }\n', ''),
    'content/tour/a.yaml': 'name: A\nguide: k\n',
    'content/tour/b.yaml': 'name: B\nguide: k\n',
    'content/tour/c.yaml': 'name: C\nguide: nobody\n',
    'content/keeper/k.yaml': 'name: K\n',
    'content/keeper/l.yaml': 'name: L\n',
  };
  test('what leads nowhere, and what is one too many, is named', async () => {
    const { folder, rehearsed } = await steps(
      files,
      model('', '  tour: { kind: reference, to: tour }\n'),
      '  - turn: tour.guide\n    to: keeper.tour\n    field: { kind: reference, to: tour }\n',
    );
    expect(rehearsed.lost.map(({ entry, value }: Record<string, string>) => `${entry} ${value}`)).toEqual([
      'keeper/k b',
      'tour/c nobody',
    ]);
    await result(folder, ['migration', 'run']);
    expect(read(folder, 'content/keeper/k.yaml')).toBe('name: K\ntour: a\n');
  });

  test('within one type a reference is turned only where the two sides name each other', async () => {
    const own = (field: string): Files => ({ 'model/types/tour.yaml': `type: tour\nfields:\n${field}` });
    const changed = (option: string): Files =>
      own(`  summary: { kind: reference, to: [tour, keeper], required: true${option} }\n`);
    const before: Files = {
      ...own('  name: { kind: reference, to: tour, many: true }\n'),
      'model/types/keeper.yaml': 'type: keeper\nfields: {}\n',
      'content/tour/a.yaml': 'name: [b]\n',
      'content/tour/b.yaml': '{}\n',
    };
    expect((await drafted(before, changed(''))).steps).not.toContain('turn tour.name');
    const { folder, steps: found } = await drafted(before, changed(', inverse: name'));
    expect(found).toEqual(['turn tour.name']);
    expect(read(folder, 'migrations/0001-turn-name.yaml').replaceAll(/\n {2}# /gu, ' ')).toContain(
      '`tour.summary` is required: give entries to which none comes one in a `set` step after this one.',
    );
  });

  test.each([
    ['  - turn: tour.name\n    to: keeper.tour\n    field: { kind: reference, to: tour }\n', 'is no reference'],
    ['  - turn: tour.guide\n    to: keeper.name\n    field: { kind: reference, to: tour }\n', 'already'],
    ['  - turn: tour.guide\n    to: keeper.tour\n    field: { kind: text }\n', 'no reference'],
  ])('what cannot be is refused: %s', async (own, says) => {
    const { rehearsed } = await steps(files, model('', '  tour: { kind: reference, to: tour }\n'), own);
    expect(rehearsed.error.says).toContain(says);
  });
});

test('an object that goes with its last field goes from entries too where there is nothing in it', async () => {
  const box = (fields: string): Files => ({
    'model/types/light.yaml': `type: light\nfields:\n  box: { kind: object, fields: { ${fields} } }\n`,
  });
  const nothing = ['[]', '""', '{}', 'null', '{ deep: {} }', '{ deep: { note: null } }'];
  const entries = Object.fromEntries(
    nothing.map((value, index) => [
      `content/light/l${index}.yaml`,
      `box: { inner: ${value}, remark: r } # as it was\n`,
    ]),
  );
  const { folder, steps } = await drafted(
    {
      ...box(
        'remark: { kind: text }, inner: { kind: object, fields: { deep: { kind: object, fields: { note: { kind: text } } } } }',
      ),
      ...entries,
      'content/light/full.yaml': 'box: { inner: { deep: { note: x } } }\n',
    },
    box('remark: { kind: text }, note: { kind: text }'),
  );
  expect(steps).toEqual(['move light.box.inner.deep.note']);
  const { rehearsed } = await run(folder);
  expect([rehearsed.errorsAfter, rehearsed.lost]).toEqual([0, []]);
  for (const index of [0, 1, 2, 3, 4])
    expect(read(folder, `content/light/l${index}.yaml`)).toBe('box: { remark: r } # as it was\n');
  expect(read(folder, 'content/light/full.yaml')).toBe('box: { note: x }\n');
  expect((await result(folder, ['migration', 'undo'])).error).toBeUndefined();
  for (const [file, text] of Object.entries(entries)) expect(read(folder, file)).toBe(text);
});

describe('move along a reference', () => {
  const model = (tour: string, keeper: string): Files => ({
    'model/types/tour.yaml': `type: tour\nfields:\n  name: { kind: text }\n${tour}  guide: { kind: reference, to: keeper }\n`,
    'model/types/keeper.yaml': `type: keeper\nfields:\n  name: { kind: text }\n${keeper}`,
  });
  const phone = '  phone: { kind: text }\n';
  const entries: Files = {
    'content/keeper/k.yaml': 'name: K # one\n',
    'content/keeper/l.yaml': 'name: L\n',
    'content/tour/a.yaml': 'name: A\nphone: "+1" # at night\nguide: k\n',
    'content/tour/b.yaml': 'name: B\nphone: "+1"\nguide: k\n',
    'content/tour/c.yaml': 'name: C\nphone: "+3"\nguide: k\n',
    'content/tour/d.yaml': 'name: D\nphone: "+4"\n',
  };

  test('values go to what is pointed at; what another took the place of, or nobody has, is named', async () => {
    const { folder, steps: found } = await drafted({ ...model(phone, ''), ...entries }, model('', phone));
    expect(found).toEqual(['move tour.phone']);
    expect(read(folder, 'migrations/0001-move-phone.yaml')).toContain(
      '4 of 4 entries have a value, 1 with no entry of keeper to go to, 1 where another\n  # value comes first.',
    );
    const { rehearsed, ran } = await run(folder);
    expect(ran.error).toBeUndefined();
    expect(rehearsed.lost.map(({ entry, why }: Record<string, string>) => `${entry}: ${why}`)).toEqual([
      'tour/c: another value came to keeper.phone',
      'tour/d: no entry is at the other end to have it as keeper.phone',
    ]);
    expect(read(folder, 'content/keeper/k.yaml')).toBe('name: K # one\nphone: "+1"\n');
    expect(read(folder, 'content/tour/a.yaml')).toBe('name: A\nguide: k\n');
    expect((await result(folder, ['migration', 'undo'])).error).toBeUndefined();
    expect(read(folder, 'content/tour/a.yaml')).toBe(entries['content/tour/a.yaml']);
  });

  test('and the other way: to all that point there', async () => {
    const { folder, steps: found } = await drafted(
      {
        ...model('', phone),
        'content/keeper/k.yaml': 'name: K\nphone: "+1"\n',
        'content/keeper/l.yaml': 'name: L\nphone: "+2"\n',
        'content/tour/a.yaml': 'name: A\nguide: k\n',
        'content/tour/b.yaml': 'guide: k # the same\n',
      },
      model(phone, ''),
    );
    expect(found).toEqual(['move keeper.phone']);
    const proved = await result(folder, ['migration', 'rehearse', '--prove']);
    expect(proved.back).toMatchObject({ same: 3, named: 1, wrong: [] });
    const { rehearsed } = await run(folder);
    expect(rehearsed.lost).toMatchObject([{ entry: 'keeper/l', value: '+2' }]);
    expect(read(folder, 'content/tour/b.yaml')).toBe('guide: k # the same\nphone: "+1"\n');
  });

  test('nothing goes along a reference that leads elsewhere by then', async () => {
    const after = model('', phone);
    const elsewhere = {
      ...after,
      'model/types/tour.yaml': String(after['model/types/tour.yaml']).replace('to: keeper', 'to: tour, many: true'),
    };
    const { folder, steps: found } = await drafted({ ...model(phone, ''), ...entries }, elsewhere);
    expect(found).toEqual(['convert tour.guide', 'add keeper.phone', 'drop tour.phone']);
    expect((await lumbrik(folder, ['migration', 'rehearse'])).code).toBeLessThan(2);
  });

  test('a draft again keeps what was answered', async () => {
    const { folder } = await drafted({ ...model(phone, ''), ...entries }, model('', phone));
    await lumbrik(folder, ['migration', 'answer', '--step', '1', '--yes']);
    write(folder, model('', `${phone}  more: { kind: text }\n`));
    const again = await result(folder, ['migration', 'draft']);
    expect(again.steps.map(({ verb, open }: any) => [verb, open])).toEqual([
      ['move', undefined],
      ['add', undefined],
    ]);
  });

  test('what it says there may be something else', async () => {
    const there = '  phone: { kind: text, max: 3, help: Call before noon. }\n';
    const { folder, steps: found } = await drafted({ ...model(phone, ''), ...entries }, model('', there));
    expect(found).toEqual(['move tour.phone']);
    expect(read(folder, 'migrations/0001-move-phone.yaml')).toContain(
      'field: { kind: text, help: Call before noon., max: 3 }',
    );
    expect((await result(folder, ['migration', 'rehearse', '--prove'])).back).toMatchObject({ wrong: [] });
    expect((await run(folder)).ran.error).toBeUndefined();
    expect((await result(folder, ['check'])).findings).toEqual([]);
  });

  test('what points at several takes the first value; the others are named', async () => {
    const several = (tour: string, keeper: string): Files => ({
      ...model(tour, keeper),
      'model/types/tour.yaml': `type: tour\nfields:\n${tour}  guide: { kind: reference, to: keeper, many: true }\n`,
    });
    const { folder } = await drafted(
      {
        ...several('', phone),
        'content/keeper/k.yaml': 'name: K\n',
        'content/keeper/l.yaml': 'name: L\nphone: "+2"\n',
        'content/keeper/m.yaml': 'name: M\nphone: "+3"\n',
        'content/tour/a.yaml': 'guide: [k, l, m]\n',
      },
      several(phone, ''),
    );
    const { rehearsed } = await run(folder);
    expect(rehearsed.lost).toMatchObject([{ entry: 'keeper/m', why: 'another value came to tour.phone' }]);
    expect(read(folder, 'content/tour/a.yaml')).toContain('phone: "+2"');
  });

  test.each([
    ['  - move: tour.phone\n    to: tour.telephone\n    field: { kind: text }\n', 'stays what it is'],
    ['  - move: tour.phone\n    to: keeper.phone\n', 'within its type, or along a reference'],
    ['  - move: tour.phone\n    to: keeper.phone\n    along: tour.name\n', 'does not lead to keeper'],
    ['  - move: tour.phone\n    to: keeper.name\n    along: tour.guide\n', 'already'],
    ['  - move: tour.phone\n    to: keeper.phone\n    along: other.guide\n', 'field of neither type'],
    ['  - move: tour.phone\n    to: keeper.phone\n    along: tour.guide\n    field: { kind: txt }\n', 'txt'],
  ])('what cannot be is refused: %s', async (own, says) => {
    const { rehearsed } = await steps({ ...model(phone, ''), ...entries }, model('', phone), own);
    expect(rehearsed.error.says).toContain(says);
  });
});

describe('values that become a field inside objects [G2, H2]', () => {
  const light = (field: string): Files => ({
    'model/types/light.yaml': `type: light\ntitled: name\nfields:\n  name: { kind: text }\n  ${field}\n`,
  });
  const links =
    'links: { kind: object, many: true, fields: { url: { kind: webAddress, required: true }, label: { kind: text } } }';
  const content: Files = {
    'content/light/a.yaml': 'name: A # the first\nurl: https://a.example # its own\n',
    'content/light/b.md': '---\nname: B\nurl: https://b.example\n---\n',
    'content/light/c.json': '{ "name": "C", "url": "https://c.example" }\n',
    'content/light/d.yaml': 'name: D\n',
    'content/more.ndjson': '{"id":"e","type":"light","name":"E","url":"https://e.example"}\n',
    'lumbrik.yaml': 'workspace: A\ncontent: [{ folder: content }, { lines: content/more.ndjson }]\n',
  };

  test('are carried there in every store, proved and taken back byte for byte', async () => {
    const files = { ...light('url: { kind: webAddress }'), ...content };
    const { folder, steps } = await drafted(files, light(links));
    expect(steps).toEqual(['rename light.url', 'convert light.links']);
    const bytes = snapshot(folder, 'content');
    const proved = await result(folder, ['migration', 'rehearse', '--prove']);
    expect(proved.back).toMatchObject({ same: 5, wrong: [] });
    const { rehearsed, ran } = await run(folder);
    expect(ran.error).toBeUndefined();
    expect(rehearsed).toMatchObject({ lost: [], errorsAfter: 0, changed: 4 });
    expect(read(folder, 'content/light/a.yaml')).toBe(
      'name: A # the first\nlinks:\n  - url: https://a.example # its own\n',
    );
    expect(read(folder, 'content/light/c.json')).toBe('{ "name": "C", "links": [{ "url": "https://c.example" }] }\n');
    expect(read(folder, 'content/more.ndjson')).toContain('"links":[{"url":"https://e.example"}]');
    await lumbrik(folder, ['migration', 'undo']);
    expect(snapshot(folder, 'content')).toEqual(bytes);
  });

  test('and are what one of them was where there are objects no more; what stood beside it is named', async () => {
    const files = {
      ...light(links),
      'content/light/a.yaml': 'name: A\nlinks: [{ url: "https://a.example", label: Home }]\n',
    };
    const { folder, steps } = await drafted(files, light('links: { kind: webAddress, many: true }'));
    expect(steps).toEqual(['convert light.links']);
    const [file = ''] = fs.readdirSync(path.join(folder, 'migrations')).map((name) => `migrations/${name}`);
    const text = read(folder, file);
    write(folder, { [file]: text.replace(/^( *)open: .*$/mu, '$1inside: ulr\n$1answer: yes') });
    const slip = await lumbrik(folder, ['migration', 'rehearse']);
    expect([slip.code, slip.err]).toEqual([
      2,
      expect.stringMatching(/the object has no field `ulr`.*Did you mean `url`\?/su),
    ]);
    write(folder, { [file]: read(folder, file).replace('inside: ulr', 'inside: url') });
    const rehearsed = await result(folder, ['migration', 'rehearse']);
    expect(rehearsed).toMatchObject({
      errorsAfter: 0,
      lost: [{ entry: 'light/a', why: 'only `url` of it is kept' }],
    });
    await lumbrik(folder, ['migration', 'run']);
    expect(read(folder, 'content/light/a.yaml')).toMatch(/^name: A\nlinks:\s+(?:- |\[ ?)"?https:\/\/a\.example/u);
  });

  test('also where a field is inherited, stands in objects of a list, is by language, or in a table', async () => {
    const model = (link: string, parts: string, place: string, page: string): Files => ({
      'model/types/book.yaml': `type: book\nfields:\n  ${link}\n  parts: { kind: object, many: true, fields: { name: { kind: text }, ${parts} } }\n  ${place}\n`,
      'model/types/novel.yaml': 'type: novel\nextends: book\nfields:\n  age: { kind: text }\n',
      'model/types/box.yaml': `type: box\nfields:\n  ${page}\n`,
    });
    const web = '{ kind: webAddress }';
    const files: Files = {
      ...model(`link: ${web}`, 'picture: { kind: text }', 'place: { kind: text }', `page: ${web}`),
      'lumbrik.yaml':
        'workspace: A\nlanguages: [de, fr]\ncontent: [{ folder: content }, { csv: content/box/all.csv, type: box }]\n',
      'content/book/No. 1 (ü).yaml': 'link: https://a.example\nparts:\n  - { name: "A: b", picture: x }\n',
      'content/novel/n.md': '---\nlink: https://n.example\nplace: Köln\n---\n',
      'content/box/all.csv': 'id,page\nk,https://k.example\nl,\n',
    };
    const { folder } = await drafted(
      files,
      model(
        `links: { kind: object, many: { orOne: true }, fields: { link: ${web}, word: { kind: text } } }`,
        'pictures: { kind: object, many: true, fields: { picture: { kind: text, required: true }, alt: { kind: text } } }',
        'place: { kind: object, fields: { name: { kind: text, localized: true }, land: { kind: text } } }',
        `pages: { kind: object, many: true, fields: { page: ${web} } }`,
      ),
    );
    const { changes } = await result(folder, ['diff']);
    const inherited = changes.find(({ address, arrives }: any) => address === 'book.place' && arrives);
    expect(inherited.impact.way.says).toBe('each value is the `name` of an object');
    const bytes = snapshot(folder, 'content');
    const proved = await result(folder, ['migration', 'rehearse', '--prove']);
    expect(proved.back).toMatchObject({ same: 4, wrong: [] });
    const { rehearsed } = await run(folder);
    expect(rehearsed).toMatchObject({ lost: [], errorsAfter: 0, changed: 3 });
    expect(read(folder, 'content/book/No. 1 (ü).yaml')).toContain(
      'links:\n  link: https://a.example\nparts:\n  - { name: "A: b", pictures: [ { picture: x } ] }',
    );
    expect(read(folder, 'content/novel/n.md')).toContain('place:\n  name:\n    de: Köln\n');
    expect(read(folder, 'content/box/all.csv')).toBe('id,pages\nk,"[{""page"":""https://k.example""}]"\nl,\n');
    await lumbrik(folder, ['migration', 'undo']);
    expect(snapshot(folder, 'content')).toEqual(bytes);
  });

  test('no: then they are lost, and that is said', async () => {
    const { folder } = await drafted({ ...light('url: { kind: webAddress }'), ...content }, light(links));
    await lumbrik(folder, ['migration', 'answer', '--step', '1', '--yes']);
    await lumbrik(folder, ['migration', 'answer', '--step', '2', '--no']);
    expect((await result(folder, ['migration', 'rehearse'])).lost.length).toBe(4);
  });
});
