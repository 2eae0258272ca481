import { describe, expect, test } from 'vitest';
import { edit, lumbrik, read, result, workspace, write } from './support/program.ts';

const settings = (languages: string): string => `workspace: Gannet Sound\nlanguages: [${languages}]\n`;
const light = 'model/types/light.yaml';
const model = (fields: string): string => `type: light\ntitled: name\nfields:\n${fields}`;
const byLanguage = '  name: { kind: text, localized: true, required: true, max: 12, unique: true }\n';
const plain = '  name: { kind: text, required: true, max: 12 }\n';
const a = 'content/light/a.yaml';

const bilingual = (fields: string, entries: Record<string, string>): string =>
  workspace({
    'lumbrik.yaml': settings('en, fr'),
    [light]: model(fields),
    'model/types/keeper.yaml': 'type: keeper\n',
    ...entries,
  });

describe('a field that differs by language [C8]', () => {
  test.each<[string, string, readonly unknown[]]>([
    ['both languages', 'name: { en: Point, fr: Pointe }', []],
    ['the main one alone', 'name: { en: Point }', []],
    ['the other alone', 'name: { fr: Pointe }', [['required-missing', '/name/en', 1]]],
    ['none', 'name: {}', [['required-missing', '/name', 1]]],
    ['one value', 'name: Point', [['language-expected', '/name', 1]]],
    ['a language that is not there', 'name: { en: Point, de: Spitze }', [['unknown-language', '/name/de', 1]]],
    ['a value that breaks a limit', 'name:\n  en: Point\n  fr: La Pointe des Skerries', [['too-long', '/name/fr', 3]]],
    ['a list', 'name: { en: [Point] }', [['single-value-expected', '/name/en', 1]]],
    [
      'a key of the language that it is written in',
      'name: { en: Point, __proto__: x }',
      [['unknown-language', '/name/__proto__', 1]],
    ],
  ])('%s', async (_, value, expected) => {
    const { findings, mistakes } = await result(bilingual(byLanguage, { [a]: `${value}\n` }), ['check']);
    expect(mistakes).toEqual([]);
    expect(findings.map(({ finding, pointer, line }: any) => [finding, pointer, line])).toEqual(expected);
  });

  test('is unique in each language on its own, and may hold references', async () => {
    const folder = bilingual(`${byLanguage}  by: { kind: reference, to: keeper, localized: true, many: true }\n`, {
      [a]: 'name: { en: Same, fr: Un }\nby: { en: [ada], fr: [bob] }\n',
      'content/light/b.yaml': 'name: { en: Un, fr: Same }\n',
      'content/light/c.yaml': 'name: { en: Same, fr: Trois }\n',
      'content/keeper/ada.yaml': 'status: published\n',
    });
    expect(
      (await result(folder, ['check'])).findings.map(({ finding, entry, pointer }: any) => [finding, entry, pointer]),
    ).toEqual([
      ['dangling-reference', 'light/a', '/by/fr/0'],
      ['not-unique', 'light/c', '/name/en'],
    ]);
    expect((await result(folder, ['trace', 'keeper/ada'])).pointedAtBy.next[0]).toMatchObject({
      pointer: '/by/en/0',
      node: { entry: 'light/a', title: 'Same' },
    });
    expect((await lumbrik(folder, ['show', 'light/a'])).out).toContain('en: Same · fr: Un');
    expect((await lumbrik(folder, ['show', 'light'])).out).toContain('in each language');
  });

  test.each<[string, string]>([
    [
      '  name: { kind: text }\n  story: { kind: markdown, body: true, localized: true }\n',
      'the body of a file is one text',
    ],
    [
      '  name: { kind: text }\n  region: { kind: term, taxonomy: region, localized: true }\n',
      'a term is the same in each language',
    ],
    ['  name: { kind: text, localized: true, default: Point }\n', 'one in each language belongs here'],
  ])('%j is a mistake in the model', async (fields, says) => {
    const folder = bilingual(fields, { 'model/taxonomies/region.yaml': 'taxonomy: region\nterms: [north]\n' });
    expect((await result(folder, ['check'])).mistakes).toEqual([
      expect.objectContaining({ says: expect.stringContaining(says) }),
    ]);
  });

  test('an expression reads it by language, and a rename follows into it', async () => {
    const rule = (name: string): string =>
      `rules:\n  - { expect: "entry.${name}.en != entry.${name}['fr']", say: Translate it. }\n`;
    const folder = bilingual(`${byLanguage}${rule('name')}`, {
      [a]: 'name: { en: Point, fr: Point }\n',
      'content/light/b.yaml': 'name: { en: Head }\n',
    });
    expect((await result(folder, ['check'])).findings).toEqual([
      expect.objectContaining({ entry: 'light/a', finding: 'rule-broken' }),
    ]);
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, {
      [light]: model(`${byLanguage}${rule('title')}`.replace('  name:', '  title:')).replace(
        'titled: name',
        'titled: title',
      ),
    });
    expect((await result(folder, ['diff', '--renamed', 'light.name=title'])).changes).toHaveLength(1);
  });
});

describe('localising a field and back [H2]', () => {
  async function through(before: string, after: string, entry: string, answer?: string) {
    const folder = bilingual(before, { [a]: entry });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, { [light]: model(after) });
    const { file, openQuestions } = await result(folder, ['migration', 'draft']);
    if (answer !== undefined) edit(folder, file, /^ {4}open: .*\n/mu, answer);
    const { lost, error } = await result(folder, ['migration', 'rehearse']);
    expect(error).toBeUndefined();
    await lumbrik(folder, ['migration', 'run']);
    const text = read(folder, a);
    await lumbrik(folder, ['migration', 'undo']);
    expect(read(folder, a)).toBe(entry);
    return { text, lost, openQuestions };
  }

  test('the value becomes that of the main language', async () => {
    expect(await through(plain, byLanguage, 'name: Point # kept\nx: 1\n'.replace('x: 1\n', ''))).toEqual({
      text: 'name:\n  en: Point # kept\n',
      lost: [],
      openQuestions: 0,
    });
  });

  test('the main language is kept, the others are listed as lost first', async () => {
    expect(await through(byLanguage, plain, 'name: { en: Point, fr: Pointe }\n', '')).toEqual({
      text: 'name: Point\n',
      lost: [
        { entry: 'light/a', pointer: '/name', value: 'Pointe', why: 'the field has one value, and en is kept, not fr' },
      ],
      openQuestions: 1,
    });
  });

  test('a new required field takes a plain value for the main language', async () => {
    const { text } = await through(
      plain,
      `${plain}  note: { kind: text, localized: true, required: true }\n`,
      'name: Point\n',
      "    cel: entry.name + '!'\n",
    );
    expect(text).toBe('name: Point\nnote:\n  en: Point!\n');
  });

  test('a tighter limit mends each language, and touches no other line', async () => {
    const { text } = await through(
      byLanguage,
      byLanguage.replace('max: 12', 'max: 6'),
      'name:\n  en: Skerry Point # here\n  fr: Pointe\n',
      "    cel: \"{'en': entry.name.en.substring(0, 6), 'fr': entry.name.fr}\"\n",
    );
    expect(text).toBe('name:\n  en: Skerry # here\n  fr: Pointe\n');
  });
});

describe('the languages of a workspace change', () => {
  test('one more asks nothing; one less takes its values, and says which', async () => {
    const folder = bilingual(byLanguage, {
      [a]: 'name: { en: Point, fr: Pointe }\n',
      'content/light/b.yaml': 'name: { en: Head }\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, { 'lumbrik.yaml': settings('en, fr, de') });
    expect((await result(folder, ['diff'])).changes).toEqual([
      expect.objectContaining({ change: 'languages-changed', entries: 'valid' }),
    ]);
    write(folder, { 'lumbrik.yaml': settings('en') });
    expect((await result(folder, ['diff'])).changes).toEqual([
      expect.objectContaining({
        entries: 'lose',
        readers: 'break',
        impact: expect.objectContaining({ hits: 1, of: 2 }),
      }),
    ]);
    const { file } = await result(folder, ['migration', 'draft']);
    edit(folder, file, /^ {4}open: .*\n/mu, '');
    expect(await result(folder, ['migration', 'rehearse'])).toMatchObject({
      ok: true,
      lost: [{ entry: 'light/a', pointer: '/name/fr', value: 'Pointe' }],
    });
    await lumbrik(folder, ['migration', 'run']);
    expect(read(folder, a)).toBe('name: { en: Point }\n');
  });

  test('a value that was wrong already still counts where its language goes', async () => {
    const pictures = '  name: { kind: text }\n  photos: { kind: asset, localized: true, many: true }\n';
    const folder = bilingual(pictures, { [a]: 'photos: { fr: [gone.png] }\n' });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, { 'lumbrik.yaml': settings('en') });
    expect((await result(folder, ['diff'])).changes).toMatchObject([{ impact: { hits: 1, of: 1 } }]);
  });

  test('what was wrong already is no fault of a change of form', async () => {
    const picture = (many: boolean): string =>
      model(`${plain}  photo: { kind: asset, localized: true${many ? ', many: true' : ''} }\n`);
    const folder = bilingual('', { [light]: picture(false), [a]: 'name: A\nphoto: { fr: gone.png }\n' });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, { [light]: picture(true) });
    expect((await result(folder, ['diff'])).changes).toMatchObject([{ impact: { hits: 0, of: 1 } }]);
  });

  test('another main language has to be there first', async () => {
    const folder = bilingual(byLanguage, { [a]: 'name: { en: Point }\n' });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, { 'lumbrik.yaml': settings('fr, en') });
    expect((await result(folder, ['diff'])).changes).toEqual([
      expect.objectContaining({ entries: 'migrate', impact: expect.objectContaining({ hits: 1 }) }),
    ]);
  });

  test('a field that becomes required, and a language of it at once, ask together for what neither asks for alone', async () => {
    const languages = (required: string): string =>
      `workspace: Gannet Sound\nlanguages:\n  - en\n  - { language: fr, required: ${required}, fallback: [en] }\n`;
    const field = (required: string): string => model(`  name: { kind: text, localized: true${required} }\n`);
    const folder = workspace({
      'lumbrik.yaml': languages('false'),
      [light]: field(''),
      [a]: 'name: { en: Point }\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, { 'lumbrik.yaml': languages('true'), [light]: field(', required: true') });
    const { changes } = await result(folder, ['diff']);
    expect(changes.map(({ impact }: any) => impact?.hits)).toContain(1);
    const { steps } = await result(folder, ['migration', 'draft']);
    expect(steps.filter(({ open }: any) => open).map(({ address }: any) => address)).toEqual(['light.name']);
  });

  test('a language that is new and required is asked for by its own step, also in a field with another name', async () => {
    const folder = workspace({
      'lumbrik.yaml': settings('en'),
      [light]: model('  name: { kind: text, localized: true, required: true }\n'),
      [a]: 'name: { en: Point }\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, {
      'lumbrik.yaml': settings('en, { language: fr, required: true }'),
      [light]: model('  title: { kind: text, localized: true, required: true }\n').replace('name', 'title'),
    });
    const { steps } = await result(folder, ['migration', 'draft', '--renamed', 'light.name=title']);
    expect(steps.filter(({ open }: any) => open).map(({ address }: any) => address)).toEqual(['languages']);
    const { findingsAfter } = await result(folder, ['migration', 'rehearse']);
    const asking = steps.findIndex(({ address }: any) => address === 'languages') + 1;
    expect(findingsAfter).toMatchObject([{ finding: 'required-missing', pointer: '/title/fr', step: asking }]);
  });
});
