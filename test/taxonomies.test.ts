import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { edit, lumbrik, read, result, snapshot, workspace, write } from './support/program.ts';

const model = {
  'lumbrik.yaml': 'workspace: Gannet Sound\nlanguages: [en, fr]\n',
  'model/taxonomies/region.yaml': `taxonomy: region
address: /coast/{path}
terms:
  - term: north # as a ship comes
    label: { en: North Coast, fr: Côte nord }
    synonyms: { en: [northern], fr: [nord] }
    terms:
      - skerries
      - { term: holm-bay, about: Where the boats lie. }
      - { term: old-bay, retired: { use: holm-bay } }
  - term: islands
    terms:
      - also: skerries
      - far
  - south
`,
  'model/taxonomies/topic.yaml': 'taxonomy: topic\nopen: true\nborrows: [region:islands]\n',
  'content/topic.terms.yaml': 'taxonomy: topic\nterms:\n  - storm-damage\n  - { term: birds, synonyms: [avian] }\n',
  'model/types/notice.yaml': `type: notice
titled: title
fields:
  title: { kind: text }
  place: { kind: term, taxonomy: region }
  leaf: { kind: term, taxonomy: region, leaves: true }
  branch: { kind: term, taxonomy: region, under: [islands] }
  topics: { kind: term, taxonomy: topic, many: true }
`,
};
const trust = (more: Record<string, string> = {}) => workspace({ ...model, ...more });
const notice = (text: string) => ({ 'content/notice/a.yaml': text });
const findings = async (folder: string) =>
  (await result(folder, ['check'])).findings.map(
    (one: any) => `${one.severity} ${one.pointer} ${one.finding}: ${one.mend}`,
  );

describe('terms with labels, synonyms and addresses [D1] [D3]', () => {
  test('are shown with the address that the pattern makes, and a synonym is told its term', async () => {
    const [north] = (await result(trust(), ['terms', 'region'])).terms;
    expect(north).toMatchObject({ label: 'North Coast', address: '/coast/north' });
    expect(north.terms[0]).toMatchObject({ term: 'skerries', address: '/coast/north/skerries' });
    expect(await findings(trust(notice('place: nord\n')))).toEqual([
      'error /place unknown-term: Write north: that is how the term is called.',
    ]);
  });

  test.each<[string, string, string, Record<string, unknown>]>([
    [
      'a place in the address that is nothing',
      '/coast/{path}',
      '/coast/{pat}',
      { line: 2, mend: 'Did you mean `path`?' },
    ],
    [
      'an address that all would share',
      '/coast/{path}',
      '/coast',
      { line: 2, says: expect.stringContaining('same address') },
    ],
    [
      'a synonym in no language',
      '{ en: [northern], fr',
      '{ it: [northern], fr',
      { says: '`it` is no language of the workspace' },
    ],
    ['a term twice', '  - south', '  - far', { mend: expect.stringContaining('also: …') }],
    ['another place for nothing', 'also: skerries', 'also: skeries', { line: 13, mend: 'Did you mean `skerries`?' }],
    ['retired for nothing', 'use: holm-bay', 'use: hom-bay', { line: 10, mend: 'Did you mean `holm-bay`?' }],
    ['retired for itself', 'use: holm-bay', 'use: old-bay', { says: '`old-bay` is retired itself' }],
  ])('%s is a mistake with its place', async (_name, from, to, mistake) => {
    const folder = trust();
    edit(folder, 'model/taxonomies/region.yaml', from, to);
    expect((await result(folder, ['check'])).mistakes).toMatchObject([
      { file: 'model/taxonomies/region.yaml', ...mistake },
    ]);
  });
});

describe('one term in several places, terms borrowed from elsewhere [D2]', () => {
  test('a term counts under every term that it stands below, an entry once', async () => {
    const folder = trust({
      'content/notice/a.yaml': 'place: skerries\n',
      'content/notice/b.yaml': 'place: far\nleaf: skerries\n',
    });
    const counts = (await result(folder, ['terms', 'region'])).terms.map((one: any) => [
      one.term,
      one.entries,
      one.withBelow,
    ]);
    expect(counts).toEqual([
      ['north', 0, 2],
      ['islands', 0, 2],
      ['south', 0, 0],
    ]);
    expect((await result(folder, ['terms', 'region'])).terms[1].terms[0].notes).toEqual(['also in north']);
    expect((await result(folder, ['terms', 'region:islands'])).entries).toMatchObject([
      { entry: 'notice/a', terms: ['skerries'] },
      { entry: 'notice/b', terms: ['far', 'skerries'] },
    ]);
  });

  test('what is borrowed may be used, and follows a rename where it comes from', async () => {
    const folder = trust(notice('# kept\ntopics: [far, birds]\n'));
    expect(await findings(folder)).toEqual([]);
    await lumbrik(folder, ['seal', '-m', 'First']);
    edit(folder, 'model/taxonomies/region.yaml', '- far', '- far-away');
    const { file } = await result(folder, ['migration', 'draft', '--renamed', 'region:far=far-away']);
    expect(read(folder, file)).not.toContain('open:');
    expect((await lumbrik(folder, ['migration', 'rehearse'])).code).toBe(0);
    expect((await lumbrik(folder, ['migration', 'run'])).code).toBe(0);
    expect(read(folder, 'content/notice/a.yaml')).toBe('# kept\ntopics: [far-away, birds]\n');
  });

  test.each([
    ['a taxonomy that is not there', '[regon:islands]', 'Did you mean `region`?'],
    ['a term that is not there', '[region:island]', 'Did you mean `islands`?'],
    ['itself', '[topic:birds]', 'Write a taxonomy (region:) or a term (region:north).'],
  ])('borrowing from %s is a mistake', async (_name, borrows, mend) => {
    const folder = trust({ 'model/taxonomies/topic.yaml': `taxonomy: topic\nopen: true\nborrows: ${borrows}\n` });
    expect((await result(folder, ['check'])).mistakes).toMatchObject([
      { file: 'model/taxonomies/topic.yaml', line: 3, mend: expect.stringContaining(mend) },
    ]);
  });

  test('borrowing a name that is taken is a mistake', async () => {
    const folder = trust({ 'model/taxonomies/topic.yaml': 'taxonomy: topic\nborrows: ["region:"]\nterms: [far]\n' });
    edit(folder, 'content/topic.terms.yaml', /^.*$/su, '');
    expect((await result(folder, ['check'])).mistakes).toMatchObject([
      { line: 2, says: expect.stringContaining('`far`') },
    ]);
  });

  test.each([
    ['add', 'term', 'region', 'Birds'],
    ['terms', 'region', '--add', 'list.txt'],
  ])('terms that would take such a name are not written: %s %s %s', async (...args) => {
    const folder = trust({
      'model/taxonomies/topic.yaml': 'taxonomy: topic\nborrows: ["region:"]\nterms: [birds]\n',
      'list.txt': 'Westing\nBirds\n',
    });
    fs.rmSync(path.join(folder, 'content/topic.terms.yaml'));
    const before = snapshot(folder);
    expect((await lumbrik(folder, args)).err).toContain('`birds` would be borrowed');
    expect(snapshot(folder)).toEqual(before);
  });
});

describe('open and closed, one or several, leaves only, a branch only [D4]', () => {
  test.each<[string, string, readonly string[]]>([
    ['a leaf', 'leaf: skerries', []],
    [
      'a term with terms below it',
      'leaf: north',
      ['error /leaf term-not-allowed: Choose one of skerries or holm-bay.'],
    ],
    ['a term in the branch by its other place', 'branch: skerries', []],
    [
      'a term of another branch',
      'branch: holm-bay',
      ['error /branch term-not-allowed: Choose a term that is (lumbrik terms region:islands).'],
    ],
    [
      'an unknown term of a closed taxonomy',
      'place: nroth',
      ['error /place unknown-term: Choose one of its terms (lumbrik show region:). Did you mean `north`?'],
    ],
    ['a new term of an open one', 'topics: [seals]', []],
    [
      'a new term that is not written as one',
      'topics: [Sea/Birds]',
      ['error /topics/0 unknown-term: Write sea-birds.'],
    ],
    ['a retired term', 'place: old-bay', ['warning /place retired-term: Use holm-bay instead.']],
  ])('%s', async (_name, text, found) => {
    expect(await findings(trust(notice(`${text}\n`)))).toEqual(found);
  });

  test('the terms of an open taxonomy live with the content: adding one leaves the model as it is', async () => {
    const folder = trust();
    await lumbrik(folder, ['seal', '-m', 'First']);
    write(folder, { 'content/topic.terms.yaml': 'taxonomy: topic\nterms: [storm-damage, birds, seals]\n' });
    expect((await result(folder, ['diff'])).changes).toEqual([]);
    expect((await result(folder, ['check'])).entries).toBe(0);
  });

  test.each([
    ['of a closed taxonomy', 'region', /is closed/u],
    ['of no taxonomy', 'topics', /no taxonomy `topics`/u],
  ])('a file of terms %s is a mistake', async (_name, taxonomy, says) => {
    const folder = trust({ [`content/${taxonomy}.terms.yaml`]: `taxonomy: ${taxonomy}\nterms: [a]\n` });
    expect((await result(folder, ['check'])).mistakes).toMatchObject([{ says: expect.stringMatching(says) }]);
  });

  test('closing an open taxonomy, fewer branches and less borrowed are counted on the entries', async () => {
    const folder = trust(notice('topics: [seals, far]\nbranch: far\n'));
    await lumbrik(folder, ['seal', '-m', 'First']);
    edit(folder, 'model/taxonomies/topic.yaml', 'open: true\n', '');
    edit(folder, 'model/types/notice.yaml', 'under: [islands]', 'under: [north]');
    write(folder, { 'content/topic.terms.yaml': '' });
    const changes = (await result(folder, ['diff'])).changes.map((one: any) => [
      one.address,
      one.entries,
      one.impact?.hits,
    ]);
    expect(changes).toEqual([
      ['topic:', 'migrate', 1],
      ['notice.branch', 'migrate', 1],
    ]);
  });
});

describe('twins in an open taxonomy, and the merge each would be [D5]', () => {
  const tags = (...all: readonly string[]) =>
    Object.fromEntries(all.map((tag, index) => [`content/notice/n${index}.yaml`, `topics: [${tag}]\n`]));

  test('case, plural, order of words, spelling and synonyms, the surest first', async () => {
    const folder = trust(
      tags(
        'storm-damage',
        'storm-damages',
        'damage-storm',
        'strom-damage',
        'storm-damagge',
        'avian',
        'seabirds',
        'sea-birds',
        'year-1911',
        'year-1912',
        'port',
        'sport',
      ),
    );
    const { pairs } = await result(folder, ['terms', 'topic', '--alike']);
    expect(pairs.map(({ merge, keep, why }: any) => `${merge.term} → ${keep.term}: ${why}`)).toEqual([
      'sea-birds → seabirds: the same but for case, accents or hyphens',
      'avian → birds: “avian” is a synonym of birds',
      'storm-damages → storm-damage: one is the plural of the other',
      'damage-storm → storm-damage: the same words in another order',
      'strom-damage → storm-damage: two letters are swapped',
      'storm-damagge → storm-damage: they differ by one letter',
      'storm-damagge → storm-damages: they differ by two letters',
    ]);
    expect(pairs[1].step).toEqual({ drop: 'topic:avian', use: 'birds' });
  });

  test('merges are drafted without any change of the model, carry every entry along, and can be taken back', async () => {
    const folder = trust(notice('# kept\ntopics: [storm-damages, storm-damage, bird]\n'));
    await lumbrik(folder, ['seal', '-m', 'First']);
    const merges = ['--merge', 'topic:storm-damages=storm-damage', '--merge', 'topic:bird=birds'];
    expect(await result(folder, ['migration', 'draft', ...merges])).toMatchObject({ openQuestions: 0, code: 0 });
    const state = async () => (await result(folder, ['migration', 'list'])).migrations[0].state;
    expect([await state(), (await lumbrik(folder, ['migration', 'rehearse'])).code, await state()]).toEqual([
      'drafted',
      0,
      'rehearsed',
    ]);
    expect([(await lumbrik(folder, ['migration', 'run'])).code, await state()]).toEqual([0, 'run']);
    expect(read(folder, 'content/notice/a.yaml')).toBe('# kept\ntopics: [storm-damage, birds]\n');
    expect((await lumbrik(folder, ['migration', 'run'])).code).toBe(3);
    expect([(await lumbrik(folder, ['migration', 'undo'])).code, await state()]).toEqual([0, 'rehearsed']);
    expect(read(folder, 'content/notice/a.yaml')).toBe('# kept\ntopics: [storm-damages, storm-damage, bird]\n');
    // A second one is another migration, not the same drafted again.
    expect((await result(folder, ['migration', 'draft', ...merges, '--name', 'again'])).number).toBe(2);
  });

  test.each([
    ['topic:bird', 'Write --merge topic:bird=birds'],
    ['topic:bird=Big/Birds', 'Write --merge topic:bird=birds'],
    ['region:north=south', 'In a closed taxonomy'],
    ['nothing:a=b', 'Write --merge topic:bird=birds'],
  ])('a merge %s is refused', async (merge, mend) => {
    const folder = trust();
    await lumbrik(folder, ['seal', '-m', 'First']);
    expect(await lumbrik(folder, ['migration', 'draft', '--merge', merge])).toMatchObject({
      code: 2,
      err: expect.stringContaining(mend),
    });
  });

  test('a taxonomy without twins says so', async () => {
    expect((await lumbrik(trust(), ['terms', 'topic', '--alike'])).out).toContain(
      'No twins among the 2 terms of topic:',
    );
  });
});

describe('how many entries use each term [D6]', () => {
  test('terms counts every taxonomy: its terms, those nobody uses, those nobody wrote down', async () => {
    const folder = trust(notice('topics: [seals, birds]\nplace: far\n'));
    expect((await result(folder, ['terms'])).taxonomies).toMatchObject([
      { name: 'region', open: false, terms: 7, unused: 5, entries: 1 },
      { name: 'topic', open: true, unlisted: 1, entries: 1 },
    ]);
    expect((await lumbrik(folder, ['terms', 'topic'])).out).toMatch(/seals +1 +not written down/u);
    expect((await result(folder, ['terms', 'topic:seals'])).entries).toHaveLength(1);
  });

  test.each([
    [['terms', 'regin'], 'Did you mean `region`?'],
    [['terms', 'region:nort'], 'Did you mean `north`?'],
    [['terms', 'region/north'], 'Write a taxonomy'],
    [['terms', '--alike'], 'lumbrik terms region --alike'],
  ])('%s is answered with what would be right', async (args, mend) => {
    expect(await lumbrik(trust(), args)).toMatchObject({ code: 2, err: expect.stringContaining(mend) });
  });
});

describe('terms added many at a time [D7]', () => {
  test('from a list with indents: new ones at their place, known ones named, comments kept', async () => {
    const folder = trust({
      'list.txt': '# from the harbour\nNorth Coast\nSeals\n\tGrey seals\nbooks: Old books\nÎles\n',
    });
    expect(await result(folder, ['terms', 'region', '--add', 'list.txt'])).toMatchObject({
      file: 'model/taxonomies/region.yaml',
      added: ['seals', 'grey-seals', 'books', 'iles'],
      known: [{ term: 'north-coast', is: 'north', line: 2 }],
    });
    expect(read(folder, 'model/taxonomies/region.yaml')).toBe(
      `${model['model/taxonomies/region.yaml']}  - { term: seals, terms: [ grey-seals ] }\n  - { term: books, label: Old books }\n  - { term: iles, label: Îles }\n`,
    );
    expect((await result(folder, ['terms', 'region', '--add', 'list.txt'])).added).toEqual([]);
  });

  test('from a table, each under the term that it names, in every language', async () => {
    const folder = trust({
      'list.csv':
        'term,label,label:fr,under,synonyms\nreef,"The Reef, outer",Le Récif,skerries,rocks|stones\n,Inner Bay,,holm-bay,\ncape,Cape,,,\n',
    });
    expect((await result(folder, ['terms', 'region', '--add', 'list.csv'])).added).toEqual([
      'reef',
      'inner-bay',
      'cape',
    ]);
    const text = read(folder, 'model/taxonomies/region.yaml');
    expect(text).toContain('- term: north # as a ship comes');
    expect((await result(folder, ['show', 'region:skerries'])).terms[0].terms).toMatchObject([
      { term: 'reef', label: 'The Reef, outer' },
    ]);
    expect((await result(folder, ['show', 'region:holm-bay'])).terms[0].terms).toMatchObject([{ term: 'inner-bay' }]);
  });

  test('those of an open taxonomy go to the content, into a file made for them', async () => {
    const folder = trust({ 'list.txt': 'Seals\n' });
    edit(folder, 'content/topic.terms.yaml', /^.*$/su, '');
    expect((await result(folder, ['terms', 'topic', '--add', 'list.txt'])).file).toBe('content/topic.terms.yaml');
    expect(read(folder, 'content/topic.terms.yaml')).toContain('- seals');
  });

  test.each([
    ['a column that is none', 'list.csv', 'trem\na\n', 'Did you mean `term`?'],
    ['no column that names a term', 'list.csv', 'about\na\n', 'Name the columns'],
    ['a row without a term', 'list.csv', 'term,about\n,b\n', 'list.csv:2'],
    ['quotes that do not close', 'list.csv', 'term\n"a\n', 'Close the quotes'],
    ['a term under nothing', 'list.csv', 'term,under\na,nort\n', 'Did you mean `north`?'],
    ['a label of which no identifier can be made', 'list.txt', 'ok\n???\n', 'list.txt:2'],
  ])('%s is refused with its place, and nothing is written', async (_name, file, text, err) => {
    const folder = trust({ [file]: text });
    expect(await lumbrik(folder, ['terms', 'region', '--add', file])).toMatchObject({
      code: 2,
      err: expect.stringContaining(err),
    });
    expect(read(folder, 'model/taxonomies/region.yaml')).toBe(model['model/taxonomies/region.yaml']);
  });
});

test('every option of taxonomies and terms is compared, drafted and proven [H4]', async () => {
  const folder = trust();
  await lumbrik(folder, ['seal', '-m', 'First']);
  edit(
    folder,
    'model/taxonomies/region.yaml',
    'address: /coast/{path}',
    'address: /shore/{path}\nlabel: { en: Region, fr: Région }',
  );
  edit(folder, 'model/taxonomies/region.yaml', '[nord]', '[nord, septentrion]');
  edit(folder, 'model/taxonomies/region.yaml', 'about: Where the boats lie.', 'retired: true');
  edit(folder, 'model/taxonomies/region.yaml', 'use: holm-bay', 'use: skerries');
  edit(
    folder,
    'model/taxonomies/region.yaml',
    '      - also: skerries\n      - far\n',
    '      - far\n  - { also: far }\n',
  );
  edit(folder, 'model/taxonomies/topic.yaml', 'borrows: [region:islands]', 'borrows: [region:north]');
  const { file } = await result(folder, ['migration', 'draft']);
  const text = read(folder, file);
  expect(text).toContain('arrange: "region:"');
  expect(await lumbrik(folder, ['migration', 'rehearse'])).toMatchObject({ code: 0, err: '' });
});
