import { describe, expect, test } from 'vitest';
import { edit, type Files, lumbrik, read, result, workspace, write } from './support/program.ts';

const before = `type: tour
titled: name
fields:
  name: { kind: text, required: true }
  street: { kind: text, max: 80 }
  town: { kind: text }
  hours: { kind: object, fields: { opens: { kind: time }, note: { kind: longText } } }
  seats: { kind: integer }
  stops: { kind: object, many: true, fields: { place: { kind: text } } }
rules:
  - { expect: 'entry.street != entry.town && entry["street"] != ""', say: Odd., at: street }
`;
const after = `type: tour
titled: name
fields:
  name: { kind: text, required: true }
  at: { kind: object, fields: { street: { kind: text, max: 80 }, town: { kind: text } } }
  visit: { kind: object, fields: { hours: { kind: object, fields: { opens: { kind: time } } }, seats: { kind: integer } } }
  note: { kind: longText }
  stops: { kind: object, many: true, fields: { place: { kind: text } } }
rules:
  - { expect: 'entry.at.street != entry.at.town && entry.at.street != ""', say: Odd., at: at }
`;
const trust = async (files: Files): Promise<string> => {
  const folder = workspace({ 'model/types/tour.yaml': before, ...files });
  await lumbrik(folder, ['seal', '-m', 'one']);
  write(folder, { 'model/types/tour.yaml': after });
  return folder;
};
/** Drafts, takes what is asked for as it is guessed, rehearses and runs. */
async function carried(folder: string): Promise<void> {
  const { file } = await result(folder, ['migration', 'draft']);
  write(folder, { [file]: read(folder, file).replaceAll(/^ +open: .*\n/gmu, '') });
  expect((await lumbrik(folder, ['migration', 'rehearse'])).err).toBe('');
  expect((await result(folder, ['migration', 'run'])).error).toBeUndefined();
}

describe('fields that stand elsewhere in their type [G2, H2]', () => {
  test.each([
    [
      'a.yaml',
      '# A tour\nname: A\nstreet: "Harbour 1"   # with a number\ntown: \'Gannet\'\nhours:\n  # from the office\n  opens: "10:00" # early\n  note: |\n    Ring twice,\n    then wait.\n\nseats: 3\n# the end\n',
      '# A tour\nname: A\nat:\n  street: "Harbour 1"   # with a number\n  town: \'Gannet\'\nvisit:\n  seats: 3\n  hours:\n    # from the office\n    opens: "10:00" # early\nnote: |\n  Ring twice,\n  then wait.\n\n# the end\n',
    ],
    [
      'b.md',
      '---\nname: B\ntown: Skerry\nhours: { note: Knock. }\n---\n\nText.\n',
      '---\nname: B\nat:\n  town: Skerry\nnote: Knock.\n---\n\nText.\n',
    ],
    [
      'c.json',
      '{\n  "name": "C",\n  "street": "S",\n  "hours": {\n    "note": "N",\n    "opens": "10:00"\n  }\n}\n',
      undefined,
    ],
    ['d.yaml', 'name: D\r\nseats: 4\r\n', 'name: D\r\nvisit:\r\n  seats: 4\r\n'],
    ['e.yaml', 'name: E', 'name: E'],
    ['f.yaml', '{ name: F, street: S, seats: 2 }\n', undefined],
  ])('%s is carried over, and back to the byte', async (name, text, expected) => {
    const file = `content/tour/${name}`;
    const folder = await trust({
      [file]: text,
      ...(name.endsWith('.md')
        ? { 'model/types/tour.yaml': before.replace('  seats', '  story: { kind: markdown, body: true }\n  seats') }
        : {}),
    });
    if (name.endsWith('.md'))
      edit(folder, 'model/types/tour.yaml', '  note', '  story: { kind: markdown, body: true }\n  note');
    const values = async () => (await result(folder, ['show', `tour/${name.slice(0, 1)}`])).values;
    const old = JSON.stringify(await values());
    await carried(folder);
    if (expected !== undefined) expect(read(folder, file)).toBe(expected);
    expect((await result(folder, ['check'])).findings).toEqual([]);
    for (const word of old.match(/(?<=value":)(?:"[^"]*"|\d+)/gu) ?? [])
      expect(JSON.stringify(await values())).toContain(word);
    await lumbrik(folder, ['migration', 'undo']);
    expect(read(folder, file)).toBe(text);
  });

  test('in lines too', async () => {
    const folder = await trust({
      'lumbrik.yaml': 'workspace: A\ncontent: [{ lines: content/t.ndjson, type: tour }]\n',
      'content/t.ndjson': '{"id":"a","name":"A","street":"S","seats":3}\n{"id":"b","name":"B"}\n',
    });
    await carried(folder);
    expect(read(folder, 'content/t.ndjson')).toBe(
      '{"id":"a","name":"A","at":{"street":"S"},"visit":{"seats":3}}\n{"id":"b","name":"B"}\n',
    );
  });

  test('a rehearsal shows where values go', async () => {
    const folder = await trust({ 'content/tour/a.yaml': 'name: A\nstreet: S\nseats: 3\n' });
    await lumbrik(folder, ['migration', 'draft']);
    const { steps, lost } = await result(folder, ['migration', 'rehearse']);
    expect(lost).toEqual([]);
    expect(steps.flatMap(({ samples }: any) => samples)).toEqual(
      expect.arrayContaining([
        { entry: 'tour/a', pointer: '/street', before: 'S', movedTo: '/at/street' },
        { entry: 'tour/a', pointer: '/seats', before: 3, movedTo: '/visit/seats' },
      ]),
    );
  });

  test('what was meant can be stated, and refused', async () => {
    const folder = await trust({ 'content/tour/a.yaml': 'name: A\nstreet: S\n' });
    const said = async (...args: string[]) =>
      (await result(folder, ['diff', ...args])).changes.map(({ change, address }: any) => `${change} ${address}`);
    expect(await said('--moved', 'tour.street=tour.at.street')).toContain('moved tour.street');
    const apart = await said('--not-renamed', 'tour.street');
    expect(apart).toContain('field-removed tour.street');
    expect(apart).toContain('moved tour.town');
    const swapped = await result(folder, ['diff', '--moved', 'tour.street=tour.at.town']);
    expect(swapped.changes[0]).toMatchObject({ change: 'moved', says: 'moved to tour.at.town', sure: 1 });
  });

  test.each([
    ['--moved tour.street', 'names no field and its new place'],
    ['--moved tour.street=other.street', 'A field is moved within its type: other is another'],
    ['--moved tour.name=tour.at.street', 'and that cannot be'],
    ['--moved tour.street=tour.at.gone', 'and that cannot be'],
    ['--moved tour.street=tour.stops.place', 'and that cannot be'],
  ])('%s is refused in words', async (args, says) => {
    const folder = await trust({});
    expect((await lumbrik(folder, ['diff', ...args.split(' ')])).err).toContain(says);
  });

  test.each([
    ['{ move: tour.street, to: tour.stops.street }', 'is not one object alone'],
    ['{ move: tour.street, to: tour.town }', 'already at this step'],
    ['{ move: tour.street, to: light.street }', 'a field is moved within its type'],
    ['{ move: tour.gone, to: tour.at.gone }', 'there is no field `tour.gone` at this step'],
    ['{ move: tour.hours, to: tour.hours.hours }', 'cannot stand inside itself'],
  ])('as a step, %s is refused in words', async (step, says) => {
    const folder = await trust({ 'content/tour/a.yaml': 'name: A\n' });
    const { file } = await result(folder, ['migration', 'draft']);
    write(folder, { [file]: read(folder, file).replace(/steps:[\s\S]*$/u, `steps:\n  - ${step}\n`) });
    expect((await lumbrik(folder, ['migration', 'rehearse'])).err).toContain(says);
  });

  test('what stands in the way there is lost, and said', async () => {
    const folder = await trust({ 'content/tour/a.yaml': 'name: A\nstreet: S\nat: { street: T }\n' });
    await lumbrik(folder, ['migration', 'draft']);
    expect((await result(folder, ['migration', 'rehearse'])).lost).toMatchObject([
      { entry: 'tour/a', value: 'T', why: 'street stands there now' },
    ]);
  });
});

describe('fields that move inside the items of a list, or for each language [G2, H2]', () => {
  const inItems = (stop: string, day: string) =>
    `type: tour\nfields:\n  name: { kind: text }\n  stops:\n    kind: object\n    many: true\n    fields: ${stop}\n  days:\n    kind: object\n    localized: true\n    fields: ${day}\n`;
  const stops = {
    flat: '{ place: { kind: text }, time: { kind: time }, price: { kind: integer } }',
    grouped:
      '{ place: { kind: text }, when: { kind: object, fields: { time: { kind: time } } }, price: { kind: integer } }',
  };
  const days = {
    flat: '{ note: { kind: text } }',
    grouped: '{ more: { kind: object, fields: { note: { kind: text } } } }',
  };
  const files: readonly (readonly [string, string, string])[] = [
    [
      'a.yaml',
      'name: A\nstops:\n  - place: Harbour # first\n    # in the morning\n    time: "10:00"   # early\n    price: 5\n  - time: "11:00"\n    place: Light\n  - { place: Isle, time: "12:00" }\n  - place: Nowhere\n# end\n',
      'name: A\nstops:\n  - place: Harbour # first\n    # in the morning\n    price: 5\n    when:\n      time: "10:00"   # early\n  - place: Light\n    when:\n      time: 11:00\n  - { place: Isle, when: { time: 12:00 } }\n  - place: Nowhere\n# end\n',
    ],
    [
      'b.json',
      '{"name":"B","stops":[{"place":"X","time":"09:00","price":1},{"time":"09:30"}],"days":{"en":{"note":"N"},"de":{"note":"M"}}}\n',
      '{"name":"B","stops":[{"place":"X","price":1,"when":{"time":"09:00"}},{"when":{"time":"09:30"}}],"days":{"en":{"more":{"note":"N"}},"de":{"more":{"note":"M"}}}}\n',
    ],
    ['c.yaml', 'name: C\nstops: []\n', 'name: C\nstops: []\n'],
  ];
  const trustOf = async (was: string): Promise<string> => {
    const folder = workspace({
      'model/types/tour.yaml': was,
      ...Object.fromEntries(files.map(([file, text]) => [`content/tour/${file}`, text])),
      'content/all.ndjson':
        '{"id":"l","type":"tour","name":"L","stops":[{"place":"P","time":"08:00"},{"place":"Q"}]}\n',
      'lumbrik.yaml':
        'workspace: W\nlanguages: [en, de]\ncontent: [{ folder: content }, { lines: content/all.ndjson }]\n',
    });
    expect((await result(folder, ['check'])).findings).toEqual([]);
    await lumbrik(folder, ['seal', '-m', 'one']);
    return folder;
  };

  test('is recognised, carried over with comments, and taken back', async () => {
    const folder = await trustOf(inItems(stops.flat, days.flat));
    write(folder, { 'model/types/tour.yaml': inItems(stops.grouped, days.grouped) });
    const { changes } = await result(folder, ['diff']);
    expect(changes.map(({ says, entries }: any) => [says, entries])).toEqual([
      ['moved to tour.days.more.note', 'migrate'],
      ['moved to tour.stops.when.time', 'migrate'],
    ]);
    await carried(folder);
    for (const [file, , now] of files) expect(read(folder, `content/tour/${file}`)).toBe(now);
    expect(read(folder, 'content/all.ndjson')).toBe(
      '{"id":"l","type":"tour","name":"L","stops":[{"place":"P","when":{"time":"08:00"}},{"place":"Q"}]}\n',
    );
    expect((await result(folder, ['check'])).findings).toEqual([]);
    await result(folder, ['migration', 'undo']);
    for (const [file, was] of files) expect(read(folder, `content/tour/${file}`)).toBe(was);
  });

  test('and back out of the object, with the way back proved on every entry', async () => {
    const folder = await trustOf(inItems(stops.flat, days.flat));
    write(folder, { 'model/types/tour.yaml': inItems(stops.grouped, days.grouped) });
    await carried(folder);
    await lumbrik(folder, ['seal', '-m', 'two']);
    write(folder, { 'model/types/tour.yaml': inItems(stops.flat, days.flat) });
    const { file } = await result(folder, ['migration', 'draft']);
    expect(read(folder, file)).toContain('- move: tour.stops.when.time\n    to: tour.stops.time');
    write(folder, { [file]: read(folder, file).replaceAll(/^ +open: .*\n/gmu, '') });
    const { back, steps } = await result(folder, ['migration', 'rehearse', '2', '--prove']);
    expect(steps.flatMap(({ samples }: any) => samples)).toContainEqual({
      entry: 'tour/b',
      pointer: '/days/en/more/note',
      before: 'N',
      movedTo: '/days/en/note',
    });
    expect(back).toMatchObject({ wrong: [] });
    expect((await result(folder, ['migration', 'run'])).error).toBeUndefined();
    expect(read(folder, 'content/tour/b.json')).toBe(
      '{"name":"B","stops":[{"place":"X","price":1,"time":"09:00"},{"time":"09:30"}],"days":{"en":{"note":"N"},"de":{"note":"M"}}}\n',
    );
  });

  test('by a command, in the files of the model; out of the items it is refused', async () => {
    const folder = await trustOf(inItems(stops.flat, days.flat));
    const { err } = await lumbrik(folder, ['move', 'tour.stops.time', 'tour.stops.when.time']);
    expect(err).toBe('');
    expect(read(folder, 'model/types/tour.yaml')).toContain('when:');
    expect((await lumbrik(folder, ['move', 'tour.stops.price', 'tour.price'])).err).toContain(
      '`tour.stops` is not one object alone',
    );
  });
});
