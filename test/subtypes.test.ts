import { describe, expect, test } from 'vitest';
import { edit, lumbrik, read, result, workspace, write } from './support/program.ts';

/** A workshop in which clocks and watches are items: what goes for items goes for all of them together. */
const workshop = {
  'model/types/item.yaml': `type: item
titled: name
fields:
  name: { kind: text, required: true }
  inventory: { kind: text, unique: true }
  room: { kind: reference, to: room, inverse: { name: contents, min: 1, max: 3 } }
  maker: { kind: reference, to: maker, eligible: target.isActive }
  tag: { kind: slug, from: name }
`,
  'model/types/clock.yaml': 'type: clock\nextends: item\nfields:\n  pendulum: { kind: boolean }\n',
  'model/types/longcase.yaml':
    'type: longcase\nextends: clock\nfields:\n  room: { inverse: { name: contents, min: 1, max: 1 } }\n  name: { unique: true }\n',
  'model/types/watch.yaml': 'type: watch\nextends: item\nfields:\n  strap: { kind: text }\n',
  'model/types/room.yaml': `type: room
fields:
  things: { kind: integer, computed: { count: item.room } }
  clocks: { kind: integer, computed: { count: clock.room } }
`,
  'model/types/maker.yaml': 'type: maker\nfields:\n  isActive: { kind: boolean }\n',
  'content/maker/a.yaml': 'isActive: true\n',
  'content/maker/b.yaml': 'isActive: false\n',
};
const content = {
  'content/room/hall.yaml': 'things: 3\nclocks: 2\n',
  'content/clock/c.yaml': 'name: A\ninventory: "7"\nroom: hall\nmaker: a\ntag: c\n',
  'content/longcase/l.yaml': 'name: B\ninventory: "8"\nroom: hall\nmaker: a\ntag: l\n',
  'content/watch/w.yaml': 'name: C\ninventory: "9"\nroom: hall\nmaker: a\ntag: w\n',
};
const found = async (folder: string): Promise<readonly unknown[]> =>
  (await result(folder, ['check'])).findings.map(({ finding, entry, pointer }: any) => [finding, entry, pointer]);

describe('across entries, a subtype is the base type too [B6, E3]', () => {
  test('what is right is right', async () => {
    expect(await found(workspace({ ...workshop, ...content }))).toEqual([]);
  });

  test.each([
    ['a value that must differ, in two subtypes', 'watch/w', '"9"', '"7"', ['not-unique', 'watch/w', '/inventory']],
    ['one that must differ, deeper', 'longcase/l', '"8"', '"7"', ['not-unique', 'longcase/l', '/inventory']],
    ['a slug', 'watch/w', 'tag: w', 'tag: c', ['not-unique', 'watch/w', '/tag']],
    ['a condition', 'watch/w', 'maker: a', 'maker: b', ['not-eligible', 'watch/w', '/maker']],
    ['a count', 'room/hall', 'things: 3', 'things: 2', ['not-computed', 'room/hall', '/things']],
    ['a count of one subtype', 'room/hall', 'clocks: 2', 'clocks: 3', ['not-computed', 'room/hall', '/clocks']],
  ])('%s', async (_what, entry, from, to, finding) => {
    const folder = workspace({ ...workshop, ...content });
    edit(folder, `content/${entry}.yaml`, from, to);
    expect(await found(folder)).toEqual([finding]);
  });

  test('how many point at one: all together, and no more of a subtype than it says itself', async () => {
    const folder = workspace({
      ...workshop,
      ...content,
      'content/watch/x.yaml': 'name: X\ninventory: "10"\nroom: hall\n',
      'content/longcase/m.yaml': 'name: B\ninventory: "11"\nroom: study\n',
      'content/longcase/n.yaml': 'name: N\ninventory: "12"\nroom: study\n',
      'content/room/attic.yaml': '{}\n',
      'content/room/study.yaml': '{}\n',
    });
    edit(folder, 'content/room/hall.yaml', 'things: 3', 'things: 4');
    const { findings } = await result(folder, ['check']);
    expect(findings.map(({ finding, entry, says }: any) => [finding, entry, says])).toEqual([
      ['not-unique', 'longcase/m', 'is “B”, and longcase/l has the same'],
      ['too-many-pointing', 'longcase/n', expect.stringContaining('as longcase/m does; at most 1 may by item.room')],
      ['too-few-pointing', 'room/attic', expect.stringContaining('has 0 contents (item.room), at least 1 is needed')],
      ['too-many-pointing', 'watch/x', expect.stringContaining('at most 3 may by item.room')],
    ]);
  });

  test('its fields have one address, that of the type which defines them', async () => {
    const folder = workspace({ ...workshop, ...content });
    const { inverses } = await result(folder, ['show', 'room']);
    expect(inverses).toEqual([{ field: 'item.room', name: 'contents' }]);
    const { pointedAtBy, siblings } = await result(folder, ['trace', 'room/hall']);
    expect(pointedAtBy.next.map(({ name }: any) => name)).toEqual(['contents', 'contents', 'contents']);
    expect(siblings).toEqual([]);
    edit(folder, 'model/types/room.yaml', 'count: item.room', 'count: item.rom');
    expect((await lumbrik(folder, ['check'])).out).toContain('Did you mean `item.room`?');
  });

  test('an entry of a subtype that nothing points at is found', async () => {
    const folder = workspace({
      ...workshop,
      ...content,
      'model/types/sale.yaml': 'type: sale\nfields:\n  of: { kind: reference, to: item }\n',
      'content/sale/s.yaml': 'of: clock/c\n',
    });
    const { entries } = await result(folder, ['trace', '--unlinked']);
    expect(entries.map(({ entry }: any) => entry)).toEqual(['longcase/l', 'maker/b', 'watch/w']);
  });
});

describe('what is published and not public now is not there for readers [E4, F3]', () => {
  const model = {
    'model/types/page.yaml':
      'type: page\nfields:\n  next: { kind: reference, to: page, many: true, inverse: before }\n',
  };
  const folder = () =>
    workspace({
      ...model,
      'content/page/a.yaml': 'next: [later, over, now, draft]\n',
      'content/page/later.yaml': 'publicFrom: 2998-01-01T00:00:00Z\n',
      'content/page/over.yaml': 'publicUntil: 2001-01-01\n',
      'content/page/now.yaml': 'publicFrom: 2001-01-01\npublicUntil: 2998-01-01\n',
      'content/page/draft.yaml': 'status: draft\npublicFrom: 2998-01-01\n',
    });

  test('check says so, with the date', async () => {
    const { findings } = await result(folder(), ['check']);
    expect(findings.map(({ severity, pointer, says }: any) => [severity, pointer, says])).toEqual([
      ['warning', '/next/0', 'points at page/later, which readers do not see before 2998-01-01T00:00:00Z'],
      ['warning', '/next/1', 'points at page/over, which readers see no longer since 2001-01-01'],
      ['warning', '/next/3', 'points at page/draft, which is a draft'],
    ]);
  });

  test.each([
    ['is public at the same time', 'publicFrom: 2998-01-01T00:00:00Z', 0],
    ['is public later still', 'publicFrom: 2999-01-01', 0],
    ['is public before', 'publicFrom: 2997-01-01', 1],
    ['is public no longer', 'publicUntil: 2001-01-01', 0],
    ['is a draft', 'status: draft', 0],
  ])('and holds nothing against an entry that %s', async (_when, said, count) => {
    const at = folder();
    edit(at, 'content/page/a.yaml', 'next: [later, over, now, draft]', `next: [later]\n${said}`);
    expect((await result(at, ['check'])).findings).toHaveLength(count);
  });

  test('trace shows it, and it is in the way of publishing', async () => {
    const at = folder();
    const { pointsAt } = await result(at, ['trace', 'page/a']);
    expect(pointsAt.next.map(({ node }: any) => [node.entry, node.hidden?.why])).toEqual([
      ['page/later', 'not-yet'],
      ['page/over', 'no-longer'],
      ['page/now', undefined],
      ['page/draft', undefined],
    ]);
    expect(await result(at, ['trace', 'page/a', '--publishing'])).toMatchObject({
      ok: false,
      order: [['page/draft']],
      blocked: [
        { to: 'page/later', hidden: { why: 'not-yet', date: '2998-01-01T00:00:00Z' } },
        { to: 'page/over', hidden: { why: 'no-longer', date: '2001-01-01' } },
      ],
    });
    expect((await lumbrik(at, ['trace', 'page/a'])).out).toContain('published, to be seen from 2998-01-01');
  });
});

describe('names of other sides, and narrowing [E3, B6]', () => {
  const room = { 'model/types/room.yaml': 'type: room\nfields:\n  area: { kind: integer }\n' };
  const type = (name: string, fields: string, more = ''): Record<string, string> => ({
    [`model/types/${name}.yaml`]: `type: ${name}\n${more}fields:\n${fields}`,
  });
  const says = async (folder: string): Promise<readonly string[]> =>
    (await result(folder, ['check'])).mistakes?.map((one: any) => `${one.file} ${one.says}`) ?? [];

  test('two fields give a target one name, or one that it has itself', async () => {
    expect(
      await says(
        workspace({
          ...room,
          ...type('clock', '  room: { kind: reference, to: room, inverse: things }\n'),
          ...type('watch', '  room: { kind: reference, to: room, inverse: things }\n'),
          ...type('lens', '  in: { kind: object, fields: { room: { kind: reference, to: room, inverse: area } } }\n'),
        }),
      ),
    ).toEqual([
      'model/types/lens.yaml `room` has a field `area` of its own',
      expect.stringContaining('model/types/watch.yaml `room` is called so by `clock.room` already'),
    ]);
  });

  test('an inherited field, and one of a kit, are one', async () => {
    expect(
      await says(
        workspace({
          ...room,
          'model/kits/placed.yaml': 'kit: placed\nfields:\n  room: { kind: reference, to: room, inverse: things }\n',
          ...type('item', '  shelf: { kind: reference, to: room, inverse: shelved }\n', 'kits: [placed]\n'),
          ...type('clock', '  x: { kind: text }\n', 'extends: item\n'),
          ...type('lens', '  x: { kind: text }\n', 'kits: [placed]\n'),
        }),
      ),
    ).toEqual([]);
  });

  test('a subtype may point at fewer: also at what extends what its base points at, and at nothing else', async () => {
    const files = (to: string): Record<string, string> => ({
      ...room,
      ...type('kitchen', '  x: { kind: text }\n', 'extends: room\n'),
      ...type('item', '  room: { kind: reference, to: [room, shop], inverse: things }\n'),
      ...type('shop', '  x: { kind: text }\n'),
      ...type('clock', `  room: { to: ${to} }\n`, 'extends: item\n'),
      'content/kitchen/k.yaml': '{}\n',
      'content/room/r.yaml': '{}\n',
      'content/clock/c.yaml': 'room: room/r\n',
    });
    expect(await says(workspace(files('[kitchen]')))).toEqual([]);
    expect(await says(workspace(files('[kitchen, shop]')))).toEqual([]);
    expect(await says(workspace(files('[item]')))).toEqual([expect.stringContaining('lets more pass')]);
    const { findings } = await result(workspace(files('[kitchen]')), ['check']);
    expect(findings.map(({ finding }: any) => finding)).toEqual(['wrong-target']);
  });

  test('kinds of one’s own on kinds of one’s own; in a circle they are a mistake', async () => {
    const kind = (name: string, on: string, options: string): Record<string, string> => ({
      [`model/kinds/${name}.yaml`]: `kind: ${name}\non: ${on}\noptions: ${options}\n`,
    });
    const folder = workspace({
      ...type('clock', '  price: { kind: salePrice, places: 0 }\n'),
      ...kind('price', 'decimal', '{ unit: EUR, min: 0 }'),
      ...kind('salePrice', 'price', '{ max: 100 }'),
      'content/clock/c.yaml': 'price: 101.5\n',
    });
    expect((await result(folder, ['check'])).findings.map(({ finding }: any) => finding)).toEqual([
      'too-large',
      'too-many-places',
    ]);
    expect((await lumbrik(folder, ['show', 'price'])).out).toContain('clock.price');
    edit(folder, 'model/kinds/salePrice.yaml', 'max: 100', 'min: 5');
    expect((await says(folder))[0]).toContain('`min` is fixed by the kind price');
    edit(folder, 'model/kinds/price.yaml', 'on: decimal', 'on: salePrice');
    expect((await says(folder))[0]).toContain('`price` is built on itself, by way of `salePrice`');
  });
});

describe('a field that is inherited gets another name once [B6, G2]', () => {
  const files = (name: string, extra = '') => ({
    'model/types/item.yaml': `type: item\nfields:\n  ${name}: { kind: text, max: 80 }\n  form: { kind: choice, choices: [round${extra}, square] }\n`,
    'model/types/clock.yaml': 'type: clock\nextends: item\nfields:\n  x: { kind: text }\n',
    'model/types/alarm.yaml': 'type: alarm\nextends: clock\nfields:\n  y: { kind: text }\n',
  });
  const shop = async (): Promise<string> => {
    const folder = workspace({
      ...files('height'),
      'content/item/i.yaml': 'height: a\n',
      'content/clock/c.yaml': 'height: b\nform: round\n',
      'content/alarm/a.yaml': 'height: c\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    return folder;
  };

  test('what is said of the base type goes for all, and nothing is asked again', async () => {
    const folder = await shop();
    write(folder, files('size'));
    const drafted = await result(folder, ['migration', 'draft', '--renamed', 'item.height=size']);
    expect(drafted.steps.map(({ verb, open }: any) => [verb, open])).toEqual(
      Array.from({ length: 3 }, () => ['rename', undefined]),
    );
    await lumbrik(folder, ['migration', 'rehearse']);
    expect((await result(folder, ['migration', 'run'])).error).toBeUndefined();
    expect(read(folder, 'content/alarm/a.yaml')).toBe('size: c\n');
  });

  test('what is guessed is asked once, and refused once', async () => {
    const folder = await shop();
    write(folder, files('heights'));
    const drafted = await result(folder, ['migration', 'draft']);
    expect(drafted.steps.filter(({ open }: any) => open !== undefined)).toHaveLength(1);
    const apart = await result(folder, ['diff', '--not-renamed', 'item.height']);
    expect(apart.changes.some(({ change }: any) => change === 'renamed')).toBe(false);
  });
});
