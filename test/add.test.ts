import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { edit, lumbrik, read, result, root, snapshot, workspace } from './support/program.ts';

const light = {
  'model/types/light.yaml': `# the centre
type: light
guide: Write for a visitor.
titled: name
groups: [Story]
builtIn: { status: { default: draft } }
fields:
  name:  { kind: text, max: 60, required: true } # as on the chart
  slug:  { kind: slug, from: name }

  # how far it shines
  range: { kind: integer, min: 1, help: In nautical miles., example: 21 }
rules:
  - { expect: entry.range > 0, say: It shines. }
`,
  'model/taxonomies/region.yaml': 'taxonomy: region\nterms:\n  - north # first\n  - south\n',
};
const trust = (more: Record<string, string> = {}) => workspace({ ...light, ...more });

describe('add writes a part of the model, and leaves the rest of the file as it is [A1] [B1]', () => {
  test.each<[string, readonly string[], string, string]>([
    [
      'a type',
      ['type', 'Range Keeper'],
      'model/types/rangeKeeper.yaml',
      'type: rangeKeeper\nlabel: { one: Range Keeper, many: Range Keepers }\n',
    ],
    [
      'a type with its plural',
      ['type', 'person', '--plural', 'People', '--single'],
      'model/types/person.yaml',
      'type: person\nlabel: { one: Person, many: People }\nsingle: true\n',
    ],
    [
      'a type that extends',
      ['type', 'Beacon', '--extends', 'light', '--about', 'A small one.'],
      'model/types/beacon.yaml',
      'type: beacon\nextends: light\nabout: A small one.\n',
    ],
    [
      'a kit',
      ['kit', 'Sharing', '--about', 'For search engines.'],
      'model/kits/sharing.yaml',
      'kit: sharing\nabout: For search engines.\n',
    ],
    [
      'a taxonomy',
      ['taxonomy', 'Topic', '--open', '--address', '/t/{term}'],
      'model/taxonomies/topic.yaml',
      'taxonomy: topic\nopen: true\naddress: /t/{term}\n',
    ],
  ])('%s, in a file of its own', async (_name, args, file, text) => {
    const folder = trust();
    expect(await result(folder, ['add', ...args])).toMatchObject({ file, text, code: 0 });
    expect(read(folder, file)).toBe(text);
    expect((await result(folder, ['check'])).mistakes).toEqual([]);
  });

  test('a field of an object, and one that names the entries, by its path where it is inside', async () => {
    const folder = trust({
      'model/kits/geo.yaml': 'kit: geo\nfields: { lat: { kind: decimal } }\n',
      'model/types/clock.yaml':
        'type: clock\nextends: base\nfields:\n  name: { kind: object, fields: { long: { kind: text } } } # both\n  at: { kind: object, kits: [geo] }\n',
      'model/types/base.yaml': 'type: base\nfields: { made: { kind: object, fields: { by: { kind: text } } } }\n',
    });
    const add = async (to: string, name: string, ...more: string[]) =>
      (await lumbrik(folder, ['add', 'field', to, name, '--kind', 'text', ...more])).err;
    expect(await add('clock.name', 'Short', '--titles')).toBe('');
    expect(await add('clock.at', 'gate')).toBe('');
    expect(read(folder, 'model/types/clock.yaml')).toBe(`type: clock
extends: base
titled: name.short
fields:
  name: { kind: object, fields: { long: { kind: text }, short: { kind: text } } } # both
  at: { kind: object, kits: [geo], fields: { gate: { kind: text } } }
`);
    expect(await add('clock', 'Maker', '--titles')).toBe('');
    expect(read(folder, 'model/types/clock.yaml')).toContain('titled: maker\n');
    expect(await add('clock.name', 'Short')).toContain('there is a field `clock.name.short` already'.slice(1));
    expect(await add('clock.name.short', 'x')).toContain('is no object');
    expect(await add('clock.nam', 'x')).toContain('There is no field `clock.nam`');
    expect(await add('clock.made', 'x')).toContain('`clock.made` arrives from elsewhere');
    expect(await add('geo', 'x', '--titles')).toContain('A kit has no entries');
    expect((await result(folder, ['add', 'kit', 'Place', '--kit', 'geo'])).text).toContain('geo');
  });

  test('a field, after the others and before what follows', async () => {
    const folder = trust();
    const before = light['model/types/light.yaml'];
    await lumbrik(folder, [
      'add',
      'field',
      'light',
      'Focal height',
      '--kind',
      'decimal',
      '--with',
      'unit=m',
      '--required',
      'published',
    ]);
    await lumbrik(folder, [
      'add',
      'field',
      'light',
      'Visiting hours (Sunday)',
      '--kind',
      'text',
      '--many',
      '--localized',
      '--with',
      'many={max: 3}',
    ]);
    expect(read(folder, 'model/types/light.yaml')).toBe(
      before.replace(
        'rules:\n',
        '  focalHeight: { kind: decimal, required: published, unit: m }\n  visitingHoursSunday:\n    kind: text\n    label: Visiting hours (Sunday)\n    many: { max: 3 }\n    localized: true\nrules:\n',
      ),
    );
  });

  test('a field of a kit, and the first field of a type', async () => {
    const folder = trust({ 'model/kits/sharing.yaml': 'kit: sharing\n', 'model/types/a.yaml': 'type: a\nfields:\n' });
    await lumbrik(folder, ['add', 'field', 'sharing', 'title', '--kind', 'text']);
    await lumbrik(folder, ['add', 'field', 'a', 'b', '--kind', 'choice', '--with', 'choices=[easy, hard]']);
    expect(read(folder, 'model/kits/sharing.yaml')).toBe('kit: sharing\nfields:\n  title: { kind: text }\n');
    expect(read(folder, 'model/types/a.yaml')).toBe(
      'type: a\nfields:\n  b: { kind: choice, choices: [ easy, hard ] }\n',
    );
  });

  test('a term, under another or at the end', async () => {
    const folder = trust();
    await lumbrik(folder, ['add', 'term', 'region', 'Holm Bay', '--under', 'south', '--about', 'Where the boats lie.']);
    await lumbrik(folder, ['add', 'term', 'region:', 'islands']);
    expect(read(folder, 'model/taxonomies/region.yaml')).toBe(
      'taxonomy: region\nterms:\n  - north # first\n  - term: south\n    terms:\n      - term: holm-bay\n        label: Holm Bay\n        about: Where the boats lie.\n  - islands\n',
    );
  });

  test('questions are asked for what is left out, until an answer can be used', () => {
    const ask = (args: readonly string[], input: string, folder = trust()) => {
      const ran = spawnSync(process.execPath, [path.join(root, 'dist/cli.js'), 'add', ...args, '--ask'], {
        cwd: folder,
        input,
        encoding: 'utf8',
      });
      return { ...ran, folder };
    };
    const field = ask(['field', 'light', 'Note'], 'tex\nlongText\npublished\n');
    expect(field.stderr).toContain('“tex” is none of them.');
    expect(read(field.folder, 'model/types/light.yaml')).toContain('  note: { kind: longText, required: published }\n');
    const type = ask(['type', 'Keeper'], '\nSomeone who kept a light.\n');
    expect(read(type.folder, 'model/types/keeper.yaml')).toBe('type: keeper\nabout: Someone who kept a light.\n');
    expect(ask(['field', 'light', 'Note'], '').status).toBe(2);
  });

  test.each<[string, readonly string[], number, string]>([
    ['a name that is taken', ['type', 'light'], 3, 'there is something called `light` already'],
    [
      'a field that is there',
      ['field', 'light', 'range', '--kind', 'text'],
      3,
      'there is a field `light.range` already',
    ],
    ['a term that is there', ['term', 'region', 'North'], 3, 'has that term already: north'],
    ['a reserved name', ['field', 'light', 'status', '--kind', 'text'], 2, '`status` is reserved'],
    ['a type that is not there', ['field', 'ligt', 'a', '--kind', 'text'], 2, 'Did you mean `light`?'],
    ['a kind that is not there', ['field', 'light', 'a', '--kind', 'txt'], 2, 'Did you mean `text`?'],
    ['an option that is not there', ['field', 'light', 'a', '--kind', 'text', '--with', 'mx=3'], 2, 'no option `mx`'],
    ['an option without a value', ['field', 'light', 'a', '--kind', 'text', '--with', 'max'], 2, 'Write --with max=80'],
    ['no kind', ['field', 'light', 'a'], 2, 'Give it one with --kind'],
    ['a name of no letters', ['type', '???'], 2, 'cannot be a name'],
    ['a term under nothing', ['term', 'region', 'A', '--under', 'nort'], 2, 'Did you mean `north`?'],
    ['no name at all', ['type'], 2, 'Write lumbrik add type <name>'],
    ['nothing at all', [], 2, 'Say which: type, field, kit, taxonomy or term'],
  ])('%s is refused, and nothing is written', async (_name, args, code, err) => {
    const folder = trust();
    const before = snapshot(folder, 'model');
    const ran = await lumbrik(folder, ['add', ...args]);
    expect([ran.code, ran.err.toLowerCase()]).toEqual([code, expect.stringContaining(err.toLowerCase())]);
    expect(snapshot(folder, 'model')).toEqual(before);
  });
});

describe('entry new writes an entry to be filled in [B5]', () => {
  const story = '  story: { kind: markdown, body: true, group: Story }\nrules:';

  test('with what new entries start with, guidance beside the fields, and places that check refuses', async () => {
    const folder = trust();
    edit(folder, 'model/types/light.yaml', 'rules:', '  tall: { kind: integer, default: 3, group: Story }\nrules:');
    expect(await result(folder, ['entry', 'new', 'light', 'skerry-point'])).toMatchObject({
      file: 'content/light/skerry-point.yaml',
      open: ['name'],
    });
    expect(read(folder, 'content/light/skerry-point.yaml')).toBe(
      '# Write for a visitor.\nstatus: draft\ncreated: 2026-03-01T00:00:00Z\nname: "<fill in: text, ≤ 60 characters>"\n# slug:  # slug, from name\n# In nautical miles.\n# range: 21\n\n# Story\ntall: 3\n',
    );
    expect((await result(folder, ['check'])).findings).toMatchObject([
      { finding: 'placeholder', pointer: '/name', line: 4 },
    ]);
    edit(folder, 'content/light/skerry-point.yaml', '"<fill in: text, ≤ 60 characters>"', 'Skerry Point');
    expect(await result(folder, ['check'])).toMatchObject({ ok: true, findings: [] });
  });

  test('a title names the entry, its address and its file; a Markdown body makes a Markdown file', async () => {
    const folder = trust();
    edit(folder, 'model/types/light.yaml', 'rules:', story);
    expect((await result(folder, ['entry', 'new', 'light', '--title', 'Île Épave'])).entry).toBe('light/ile-epave');
    const text = read(folder, 'content/light/ile-epave.md');
    expect(text).toContain('name: Île Épave\nslug: ile-epave\n');
    expect(text.endsWith('---\n')).toBe(true);
    expect(await result(folder, ['check'])).toMatchObject({ ok: true });
  });

  test('required languages, lists and objects have their places, and nothing else', async () => {
    const folder = trust({
      'lumbrik.yaml': 'workspace: A\nlanguages: [en, { language: fr, required: true }, de]\n',
      'model/types/tour.yaml': `type: tour
fields:
  name: { kind: text, localized: true, required: true }
  lights: { kind: reference, to: light, required: true, many: { min: 2 } }
  hours: { kind: object, required: true, fields: { opens: { kind: time, required: true }, closes: { kind: time } } }
`,
    });
    await lumbrik(folder, ['entry', 'new', 'tour', 'a']);
    expect(
      (await result(folder, ['check'])).findings.map(({ pointer, finding }: any) => `${pointer} ${finding}`),
    ).toEqual([
      '/name/en placeholder',
      '/name/fr placeholder',
      '/lights/0 placeholder',
      '/lights/1 placeholder',
      '/hours/opens placeholder',
    ]);
  });

  test.each<[string, readonly string[], number, string]>([
    ['an entry that is there', ['light', 'a'], 3, 'there is an entry `light/a` already'],
    ['a type that is not there', ['ligt', 'a'], 2, 'Did you mean `light`?'],
    ['no name', ['light'], 2, '--title'],
    ['an identifier that is none', ['light', 'A/b'], 2, 'is no identifier'],
    ['a second of what is there once', ['settings'], 3, 'there is exactly one settings'],
  ])('%s is refused', async (_name, args, code, err) => {
    const folder = trust({
      'content/light/a.yaml': 'name: A\n',
      'model/types/settings.yaml': 'type: settings\nsingle: true\n',
      'content/settings/all.yaml': '{}\n',
    });
    const before = snapshot(folder, 'content');
    const ran = await lumbrik(folder, ['entry', 'new', ...args]);
    expect([ran.code, ran.err.toLowerCase()]).toEqual([code, expect.stringContaining(err.toLowerCase())]);
    expect(snapshot(folder, 'content')).toEqual(before);
  });
});
