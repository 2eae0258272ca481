import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { lumbrik, result, snapshot, workspace } from './support/program.ts';

const mistakesOf = async (files: Record<string, string | Buffer>) => {
  const { mistakes, code, entries } = await result(workspace(files), ['check']);
  expect([code, entries]).toEqual([mistakes.length > 0 ? 1 : 0, 0]);
  return mistakes;
};
const light = (rest: string) => ({ 'model/types/light.yaml': `type: light\n${rest}` });

describe('a mistake in the model names its place and what would be right', () => {
  test.each<[string, Record<string, string | Buffer>, Record<string, unknown>]>([
    ['an empty file', { 'model/types/a.yaml': '' }, { file: 'model/types/a.yaml', says: 'the file is empty' }],
    ['YAML that does not parse', light('fields: {\n'), { line: 3 }],
    ['a tab', light('fields:\n\tname: { kind: text }\n'), { line: 3, mend: 'Indent with spaces.' }],
    ['a key twice', light('about: A\nabout: B\n'), { line: 3, says: 'a key stands here twice' }],
    ['an unknown key', light('titeld: name\n'), { line: 2, column: 1, mend: 'Did you mean `titled`?' }],
    [
      'an unknown option of a field',
      light('fields:\n  name: { kind: text, requierd: true }\n'),
      { line: 3, column: 23, mend: 'Did you mean `required`?' },
    ],
    [
      'an unknown option far from any',
      light('fields:\n  name: { kind: boolean, zzz: 1 }\n'),
      { mend: expect.stringContaining('the options are kind, label, help') },
    ],
    [
      'a key inside an option',
      light('fields:\n  name: { kind: text, many: { mx: 3 } }\n'),
      { line: 3, column: 31, mend: 'Did you mean `max`?' },
    ],
    [
      'an unknown kind',
      light('fields:\n  name: { kind: txt }\n'),
      { line: 3, column: 17, mend: 'Did you mean `text`?' },
    ],
    [
      'a word of another trade for a kind',
      light('fields:\n  name: { kind: number }\n'),
      { line: 3, mend: 'That is `integer` or `decimal` here.' },
    ],
    [
      'type instead of kind, and nothing about the field that is named',
      light('titled: name\nfields:\n  name: { type: string }\n'),
      { line: 4, mend: 'Write `kind: text` instead of `type`.' },
    ],
    ['a kind without its key', light('fields:\n  name: text\n'), { mend: 'Write `kind: text` in braces.' }],
    ['a list without brackets', light('kits: sharing\n'), { mend: 'Put it in brackets: [sharing]' }],
    ['a text in braces', light('guide: { Lit by hand }\n'), { says: '`Lit by hand` is empty, it takes a text' }],
    [
      'a text with a colon in braces',
      light('fields:\n  name: { kind: text, label: { Lit by: hand } }\n'),
      { mend: 'Put the whole text in quotes.' },
    ],
    ['no kind', light('fields:\n  name: { max: 3 }\n'), { says: 'the field says no kind' }],
    ['a field that is a word', light('fields:\n  name: text\n'), { line: 3, says: 'the field says no kind' }],
    [
      'a text where a number belongs',
      light('fields:\n  name: { kind: text, max: "80" }\n'),
      { line: 3, says: '`max` is “80”, it takes a whole number' },
    ],
    [
      'a number below what it can be',
      light('fields:\n  name: { kind: text, max: 0 }\n'),
      { says: '`max` needs at least 1' },
    ],
    [
      'neither one of two',
      light('fields:\n  name: { kind: text, required: always }\n'),
      { says: '`required` is “always”, it takes `true`, `false` or `published`' },
    ],
    [
      'bounds that nothing passes',
      light('fields:\n  name: { kind: text, min: 9, max: 3 }\n'),
      { line: 3, says: expect.stringContaining('no text could pass') },
    ],
    [
      'an impossible date',
      light('fields:\n  day: { kind: date, min: 2026-02-30 }\n'),
      { mend: expect.stringContaining('YYYY-MM-DD') },
    ],
    [
      'a reserved name',
      light('fields:\n  status: { kind: text }\n'),
      { line: 3, column: 3, says: expect.stringContaining('`status` is reserved') },
    ],
    [
      'a name of the language it is written in',
      light('fields:\n  __proto__: { kind: text }\n'),
      { line: 3, says: '“__proto__” is no name' },
    ],
    ['the same at the top', light('__proto__: { x: 1 }\n'), { says: expect.stringContaining('__proto__') }],
    ['a malformed name', { 'model/types/a.yaml': 'type: Light House\n' }, { says: '“Light House” is no name' }],
    ['no type', { 'model/types/a.yaml': 'tpye: light\n' }, { line: 1, mend: 'Did you mean `type`?' }],
    [
      'a file of something else',
      { 'model/types/a.yaml': 'hello: 1\n' },
      { says: 'the file does not say what it defines' },
    ],
    [
      'a reference to a type that does not exist',
      light('fields:\n  by: { kind: reference, to: ligth }\n'),
      { line: 3, says: 'there is no type `ligth`', mend: expect.stringContaining('Did you mean `light`?') },
    ],
    [
      'a term of a taxonomy that does not exist',
      light('fields:\n  region: { kind: term, taxonomy: region }\n'),
      { says: 'there is no taxonomy `region`' },
    ],
    [
      'a slug from nothing',
      light('fields:\n  name: { kind: text }\n  slug: { kind: slug, from: nam }\n'),
      { line: 4, mend: expect.stringContaining('Did you mean `name`?') },
    ],
    [
      'a title that is no text',
      light('titled: height\nfields:\n  height: { kind: decimal }\n'),
      { line: 2, says: expect.stringContaining('cannot name an entry') },
    ],
    [
      'a title that is no field',
      light('titled: nam\nfields:\n  name: { kind: text }\n'),
      { line: 2, mend: 'Did you mean `name`?' },
    ],
    [
      'a group that is not there',
      light('groups: [Story]\nfields:\n  name: { kind: text, group: Stroy }\n'),
      { line: 4, mend: 'Did you mean `Story`?' },
    ],
    [
      'a default that breaks its own limits',
      light('fields:\n  name: { kind: text, max: 3, default: abcd }\n'),
      { line: 3, column: 40, says: expect.stringContaining('breaks the field') },
    ],
    [
      'a default of the wrong kind',
      light('fields:\n  open: { kind: boolean, default: "yes" }\n'),
      { says: expect.stringContaining('neither true nor false') },
    ],
    [
      'an invalid pattern',
      light("fields:\n  name: { kind: text, pattern: '(' }\n"),
      { line: 3, says: expect.stringContaining('no regular expression') },
    ],
    [
      'a choice twice',
      light('fields:\n  how: { kind: choice, choices: [a, b, a] }\n'),
      { says: 'the choice `a` stands twice' },
    ],
    [
      'two bodies',
      light('fields:\n  a: { kind: markdown, body: true }\n  b: { kind: markdown, body: true }\n'),
      { line: 4, says: '`a` is the body of the file already' },
    ],
    [
      'a term twice',
      { 'model/taxonomies/r.yaml': 'taxonomy: region\nterms:\n  - north\n  - { term: south, terms: [north] }\n' },
      { line: 4, says: 'the term `north` stands twice' },
    ],
    [
      'a malformed term',
      { 'model/taxonomies/r.yaml': 'taxonomy: region\nterms: [North/Coast]\n' },
      { line: 2, says: '“North/Coast” is no identifier of a term' },
    ],
    [
      'terms without a list',
      { 'model/taxonomies/r.yaml': 'taxonomy: region\nterms: north\n' },
      { line: 2, says: '`terms` is no list' },
    ],
    [
      'invalid UTF-8',
      { 'model/types/a.yaml': Buffer.from('type: caf\xe9\n', 'latin1') },
      { says: 'the file is not in UTF-8', line: 1 },
    ],
  ])('%s', async (_, files, expected) => {
    const mistakes = await mistakesOf(files);
    expect(mistakes[0]).toMatchObject(expected);
    expect(mistakes).toHaveLength(1);
    expect(mistakes[0].mend).not.toBe('');
  });

  test('all of them are named, not only the first, each with its line', async () => {
    const folder = workspace({
      ...light('titled: nam\nfields:\n  name: { kind: txt }\n  4day: { kind: date }\n  id: { kind: text }\n'),
      'model/taxonomies/r.yaml': 'taxonomy: region\nlabel: 3\n',
    });
    const { mistakes } = await result(folder, ['check']);
    expect(mistakes.map(({ file, line }: Record<string, unknown>) => `${file}:${line}`)).toEqual([
      'model/taxonomies/r.yaml:2',
      'model/types/light.yaml:2',
      'model/types/light.yaml:4',
      'model/types/light.yaml:5',
      'model/types/light.yaml:6',
    ]);
    const { out } = await lumbrik(folder, ['check']);
    expect(out).toContain('4 │   name: { kind: txt }');
    expect(out).toContain('5 mistakes in the model');
  });

  test('two types of one name, and a type with the name of a taxonomy', async () => {
    const files = {
      'model/types/a.yaml': 'type: light\n',
      'model/types/b.yaml': 'type: light\n',
      'model/taxonomies/z.yaml': 'taxonomy: light\n',
    };
    expect((await mistakesOf(files)).map(({ file, says }: Record<string, unknown>) => [file, says])).toEqual([
      ['model/types/a.yaml', 'the name `light` is taken: model/taxonomies/z.yaml defines it too'],
      ['model/types/b.yaml', 'the name `light` is taken: model/taxonomies/z.yaml defines it too'],
    ]);
  });

  test('a link in the model folder is not followed', async () => {
    const folder = workspace({ 'elsewhere.yaml': 'type: light\n', 'model/types/keeper.yaml': 'type: keeper\n' });
    fs.symlinkSync('../../elsewhere.yaml', path.join(folder, 'model/types/light.yaml'));
    expect((await result(folder, ['check'])).mistakes).toEqual([
      expect.objectContaining({ file: 'model/types/light.yaml', says: expect.stringContaining('symbolic link') }),
    ]);
  });

  test('commands that need a sound model refuse a broken one and write nothing', async () => {
    const folder = workspace(light('titled: nam\n'));
    const before = snapshot(folder);
    for (const args of [['show'], ['seal', '-m', 'x'], ['diff'], ['migration', 'draft'], ['migration', 'rehearse']]) {
      const { code, err } = await lumbrik(folder, args);
      expect([code, err]).toEqual([2, expect.stringContaining('model/types/light.yaml:2:9')]);
    }
    expect(snapshot(folder)).toEqual(before);
  });
});

describe('a file that cannot be read', () => {
  const whole: Record<string, string> = {
    'model/types/light.yaml':
      'type: light\nextends: place\ntitled: name\nkits: [story]\nfields:\n  name: { use: name }\n  of: { kind: term, taxonomy: coast }\n',
    'model/types/place.yaml': 'type: place\nfields:\n  near: { kind: reference, to: [light, place] }\n',
    'model/types/tour.yaml':
      'type: tour\nkits: [story]\nfields:\n  lights: { kind: reference, to: light, many: true }\n',
    'model/kits/story.yaml': 'kit: story\nfields:\n  story: { kind: longText }\n  told: { use: name }\n',
    'model/fields/name.yaml': 'field: name\nkind: text\n',
    'model/taxonomies/coast.yaml': 'taxonomy: coast\nterms: [north, south]\n',
  };

  test('is all that is said: what it defines is not said to be missing', async () => {
    expect(await mistakesOf(whole)).toEqual([]);
    for (const [file, text] of Object.entries(whole)) {
      const mistakes = await mistakesOf({ ...whole, [file]: `${text}more: [\n` });
      expect(mistakes.map((one: any) => [one.file, one.says])).toEqual([[file, 'a bracket is not closed']]);
    }
  });

  test('nor is what was to be defined under a name that cannot be', async () => {
    const mistakes = await mistakesOf({ ...whole, 'model/types/light.yaml': 'type: Light\n' });
    expect(mistakes.map((one: any) => one.says)).toEqual(['“Light” is no name']);
  });

  test('leaves what is wrong in other files on its own said', async () => {
    const mistakes = await mistakesOf({
      ...whole,
      'model/kits/story.yaml': 'kit: [',
      'model/types/place.yaml': 'type: place\nfields:\n  near: { kind: referense }\n',
    });
    expect(mistakes.map((one: any) => [one.file, one.says])).toEqual([
      ['model/kits/story.yaml', 'a bracket is not closed'],
      ['model/types/place.yaml', expect.stringContaining('referense')],
    ]);
  });
});

describe('lumbrik.yaml', () => {
  test.each<[string, string, string]>([
    ['', 'lumbrik.yaml is empty', '1:1'],
    ['workspace: x\nlanguages: en\n', '`languages` is “en”, it takes a list', '2:12'],
    ['workspace: x\nlanguages: [english language]\n', 'not right here', '2:13'],
    ['workspace: x\nlangages: [en]\n', 'Did you mean `languages`?', '2:1'],
    ['workspace: [\n', 'a bracket is not closed', ''],
  ])('%j is refused', async (content, says, place) => {
    const { code, err } = await lumbrik(workspace({ 'lumbrik.yaml': content }), ['check']);
    expect(code).toBe(2);
    expect(err.replace(/\s+/gu, ' ')).toContain(says);
    expect(err).toContain(place);
  });
});

test('all that is wrong with lumbrik.yaml is told at once [M2]', async () => {
  const folder = workspace({ 'lumbrik.yaml': 'lumbrik: 1\nlanguages: en\nfindngs: {}\n' });
  const { error } = await result(folder, ['check']);
  expect([error.says, ...error.also]).toEqual([
    expect.stringContaining('`workspace` is missing'),
    expect.stringMatching(/^lumbrik.yaml:2 {2}`languages` is/u),
    expect.stringMatching(/^lumbrik.yaml:1 .*`lumbrik`/u),
    expect.stringMatching(/^lumbrik.yaml:3 .*`findngs`/u),
  ]);
});
