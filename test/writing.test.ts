import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { parse } from 'yaml';
import { link, linkField } from '../src/core/model/link.ts';
import { readField } from '../src/core/model/readField.ts';
import { meaningOf } from '../src/core/model/writtenTexts.ts';
import type { Json } from '../src/core/plain/json.ts';
import { writeYaml } from '../src/core/source/write.ts';
import { choices, styleNames, writingStyles } from '../src/core/writing/index.ts';
import { otherWriting } from '../src/core/writing/others.ts';
import { readerBy } from '../src/core/writing/readings.ts';
import { Weighing } from '../src/core/writing/weighing.ts';
import { type Files, lumbrik, read, result, snapshot, workspace, write } from './support/program.ts';

const modelIn = (languages: readonly string[]) =>
  link({ languages: [...languages], types: { x: { fields: {} } }, taxonomies: {} });

function fieldOf(options: Record<string, Json>) {
  const { field, mistakes } = readField(options);
  const linked = field && linkField({ type: 'x' }, 'y', field);
  if (!linked) throw new Error(JSON.stringify(mistakes));
  return linked;
}

/** What a text may mean in a field, and whether there is no doubt. */
function meant(text: string, options: Record<string, Json>, languages: readonly string[] = ['en']) {
  const { values, isSure } = meaningOf(text, fieldOf(options), modelIn(languages).context);
  return isSure ? values[0] : values;
}

describe('one text, read as a value of a field [G6]', () => {
  const cm = { kind: 'decimal', unit: 'cm' };
  const eur = { kind: 'decimal', unit: 'EUR' };
  const german = ['de'];
  const french = ['fr'];

  test.each<[text: string, field: Record<string, Json>, languages: readonly string[], meant: Json | undefined]>([
    // numbers
    ['1,234.5', { kind: 'decimal' }, german, 1234.5],
    ['1.234,5', { kind: 'decimal' }, ['en'], 1234.5],
    ['12 345', { kind: 'integer' }, ['en'], 12345],
    ["1'234.50", { kind: 'decimal' }, ['en'], 1234.5],
    ['1.234', { kind: 'decimal' }, german, [1234, 1.234]],
    ['1.234', { kind: 'decimal' }, ['en'], [1.234, 1234]],
    ['1.234', { kind: 'integer' }, ['en'], 1234],
    ['1.234', { kind: 'decimal', max: 100 }, german, 1.234],
    ['−3,5', { kind: 'decimal' }, german, -3.5],
    // what is no number
    ['007', { kind: 'integer' }, ['en'], []],
    ['1.2.3', { kind: 'decimal' }, ['en'], []],
    ['+49 351 12345', { kind: 'integer' }, german, []],
    ['978-3-16-148410-0', { kind: 'integer' }, german, []],
    ['12345678901234567', { kind: 'integer' }, ['en'], []],
    // units
    ['6 cm', cm, ['en'], 6],
    ['0.06 m', cm, ['en'], 6],
    ['60mm', cm, ['en'], 6],
    ['2 Zentimeter', cm, german, 2],
    ['2 centimètres', cm, french, 2],
    ['3 feet', { kind: 'decimal', unit: 'm', places: 4 }, ['en'], 0.9144],
    ['1 m 20', cm, german, 120],
    ['6 kg', cm, ['en'], []],
    ['6 constructor', cm, ['en'], []],
    ['€ 12,50', eur, german, 12.5],
    ['12,– €', eur, german, 12],
    ['12 Euro', eur, german, 12],
    ['$ 12', eur, ['en'], []],
    ['$12', { kind: 'decimal', unit: 'USD' }, ['en'], 12],
    ['45 %', { kind: 'decimal', unit: '%' }, ['en'], 45],
    ['45 %', { kind: 'decimal', max: 1 }, ['en'], 0.45],
    ['45 %', { kind: 'decimal' }, ['en'], [45, 0.45]],
    // a word that the field has no place for is dropped by a person alone
    ['48 pages', { kind: 'integer' }, ['en'], [48]],
    // fractions
    ['1/2', { kind: 'decimal' }, ['en'], 0.5],
    ['2½', { kind: 'decimal' }, ['en'], 2.5],
    ['1 3/4', { kind: 'decimal' }, ['en'], 1.75],
    ['1/0', { kind: 'decimal' }, ['en'], []],
    // days
    ['8.10.2014', { kind: 'date' }, german, ['2014-10-08', '2014-08-10']],
    ['31.12.1999', { kind: 'date' }, german, '1999-12-31'],
    ['12/31/1999', { kind: 'date' }, ['en'], '1999-12-31'],
    ['31.02.2014', { kind: 'date' }, german, []],
    ['Oct 8, 2014', { kind: 'date' }, ['en'], '2014-10-08'],
    ['Sept 8, 2014', { kind: 'date' }, ['en'], '2014-09-08'],
    ['8 octobre 2014', { kind: 'date' }, french, '2014-10-08'],
    ['1er août 2014', { kind: 'date' }, french, '2014-08-01'],
    ['mercredi 8 octobre 2014', { kind: 'date' }, french, '2014-10-08'],
    ['8. März 2014', { kind: 'date' }, german, '2014-03-08'],
    ['8 de octubre de 2014', { kind: 'date' }, ['es'], '2014-10-08'],
    ['8 октября 2014', { kind: 'date' }, ['ru'], '2014-10-08'],
    ['8 Foo 2014', { kind: 'date' }, ['en'], []],
    ['Ju 8, 2014', { kind: 'date' }, ['en'], []],
    ['2014/10/8', { kind: 'date' }, ['en'], '2014-10-08'],
    ['20141008', { kind: 'date' }, ['en'], '2014-10-08'],
    ['31.12.99', { kind: 'date' }, german, ['1999-12-31']],
    [
      '8.10.2014 14:30',
      { kind: 'dateTime', offset: 'none', min: '2014-09-01T00:00:00' },
      german,
      '2014-10-08T14:30:00',
    ],
    ['31.12.2014, 9 pm', { kind: 'dateTime', offset: 'optional' }, german, '2014-12-31T21:00:00'],
    ['31.12.2014 14:30', { kind: 'dateTime' }, german, []],
    ['31.12.2014 14:30 +01:00', { kind: 'dateTime' }, german, '2014-12-31T14:30:00+01:00'],
    ['31.12.2014, 14:30 Uhr Z', { kind: 'dateTime', offset: 'optional' }, german, '2014-12-31T14:30:00Z'],
    ['8 octobre 2014 9h30 +0200', { kind: 'dateTime' }, french, '2014-10-08T09:30:00+02:00'],
    ['31.12.2014 14:30 +25:00', { kind: 'dateTime' }, german, []],
    ['31.12.2014 14:30 +01:00', { kind: 'dateTime', offset: 'none' }, german, []],
    // times
    ['9.30', { kind: 'time' }, german, '09:30'],
    ['9 pm', { kind: 'time' }, ['en'], '21:00'],
    ['12 a.m.', { kind: 'time' }, ['en'], '00:00'],
    ['21 Uhr', { kind: 'time' }, german, '21:00'],
    ['9h30', { kind: 'time' }, french, '09:30'],
    ['13 pm', { kind: 'time' }, ['en'], []],
    ['25:00', { kind: 'time' }, ['en'], []],
    ['9', { kind: 'time' }, ['en'], []],
    // lengths of time
    ['45 min', { kind: 'duration' }, ['en'], 'PT45M'],
    ['1 h 30', { kind: 'duration' }, ['en'], 'PT1H30M'],
    ['1h30', { kind: 'duration' }, french, 'PT1H30M'],
    ['3 Tage', { kind: 'duration' }, german, 'P3D'],
    ['2 Stunden und 10 Minuten', { kind: 'duration' }, german, 'PT2H10M'],
    ['1,5 Stunden', { kind: 'duration' }, german, 'PT1H30M'],
    ['1.5 h', { kind: 'duration', units: ['hours'] }, ['en'], 'PT1.5H'],
    ['1:30', { kind: 'duration' }, ['en'], ['PT1H30M', 'PT1M30S']],
    ['1:30', { kind: 'duration', units: ['hours', 'minutes'] }, ['en'], 'PT1H30M'],
    ['8:30', { kind: 'duration', units: ['hours', 'days'] }, ['en'], []],
    ['1 month', { kind: 'duration', units: ['hours', 'days'] }, ['en'], []],
    ['00:35:00', { kind: 'duration' }, ['en'], 'PT35M'],
    ['90', { kind: 'duration', units: ['minutes'] }, ['en'], 'PT90M'],
    ['90', { kind: 'duration', units: ['hours', 'minutes'] }, ['en'], ['PT90M', 'PT90H']],
    ['90', { kind: 'duration', units: ['hours', 'minutes'], max: 'PT8H' }, ['en'], 'PT90M'],
    // yes and no
    ['Ja', { kind: 'boolean' }, german, true],
    ['non', { kind: 'boolean' }, french, false],
    ['ja', { kind: 'boolean' }, ['en'], []],
    ['x', { kind: 'boolean' }, ['en'], [true]],
    ['no', { kind: 'boolean' }, german, false],
    // addresses
    ['www.garden.example/rose', { kind: 'webAddress' }, ['en'], ['https://www.garden.example/rose']],
    ['ada@garden.example', { kind: 'webAddress' }, ['en'], []],
    ['rose', { kind: 'webAddress' }, ['en'], []],
  ])('%j for %j in %j', (text, field, languages, wanted) => {
    expect(meant(text, field, languages)).toEqual(wanted);
    expect(meant(`  ${text} `, field, languages)).toEqual(wanted);
  });

  test('whatever it is, and by whichever style, no value is made that the kind does not store', () => {
    const fields = [
      { kind: 'integer' },
      { kind: 'decimal', unit: 'm' },
      { kind: 'date' },
      { kind: 'dateTime', offset: 'none' },
      { kind: 'time' },
      { kind: 'duration' },
      { kind: 'boolean' },
      { kind: 'webAddress' },
    ].map(fieldOf);
    const { context } = modelIn(['de', 'en']);
    const part = fc.constantFrom(
      '1',
      '31',
      '2014',
      '0',
      '.',
      ',',
      ':',
      '/',
      ' ',
      '-',
      'm',
      'cm',
      '€',
      '%',
      'h',
      'min',
      'Okt',
      'pm',
      'ja',
      'x',
      'a.example',
      'und',
      '½',
      '\u00a0',
    );
    const text = fc.oneof(
      fc.array(part, { maxLength: 8 }).map((parts) => parts.join('')),
      fc.string({ maxLength: 20 }),
    );
    fc.assert(
      fc.property(text, fc.constantFrom(...fields), (written, field) => {
        const check = field.kind.check(field.options, context);
        for (const value of meaningOf(written, field, context).values)
          check(value, (message) => {
            throw new Error(`${JSON.stringify(written)} gave ${JSON.stringify(value)}: ${message}`);
          });
      }),
      { numRuns: 5000 },
    );
  });
});

describe('all texts of a field together [G6]', () => {
  const weigh = (texts: readonly string[], kind: string, options: Record<string, Json> = {}, languages = ['en']) => {
    const own = (text: string) => (/^\d+(?:\.\d+)?$/u.test(text) && kind === 'decimal' ? Number(text) : undefined);
    const weighing = new Weighing({ kind, options, languages }, { ownReading: own, passes: () => true });
    for (const text of texts) weighing.read(text);
    return weighing.weighed;
  };

  test('the order of day and month that some prove holds for those that could be either', () => {
    const either = ['3/4/2014', '5/6/2014', '10/10/2014'];
    const first = weigh([...either, '31/1/2014'], 'date');
    expect(first?.written).toEqual(['day-first']);
    expect(first?.says).toContain('2 of 4 texts, such as “3/4/2014”, can be read in more than one way');
    expect(first?.says).toContain('1 text proves that they are written day before month, none proves the contrary');
    expect(first?.asks).toBe('Are the texts written day before month?');
    expect(weigh([...either, '1/31/2014'], 'date', {}, ['de'])?.written).toEqual(['month-first']);
    expect(weigh(either, 'date', {}, ['de'])?.written).toEqual(['day-first']);
    expect(weigh(either, 'date', {}, ['de'])?.says).toContain('no text proves which is right');
    expect(weigh(['31/1/2014', '30/1/2014', '1/31/2014', '1/2/2014'], 'date')?.written).toEqual([
      'day-first',
      'month-first',
    ]);
  });

  test('nothing is asked where each text has one reading, nor said where the kind reads all by itself', () => {
    expect(weigh(['31/1/2014', '30/1/2014'], 'date')).toMatchObject({ written: ['day-first'], asks: undefined });
    expect(weigh(['1', '2.5'], 'decimal')).toBeUndefined();
    expect(weigh([], 'date')).toBeUndefined();
    expect(weigh(['soon', '?'], 'date')).toBeUndefined();
  });

  test('a point that the kind reads by itself gives way where commas are proved', () => {
    const weighed = weigh(['12,50', '9,90', '1.234'], 'decimal', {}, ['en']);
    expect(weighed?.written).toEqual(['decimal-comma']);
    expect(weighed?.asks).toBe('Are the texts written with a decimal comma?');
    const target = { kind: 'decimal', options: {}, languages: ['en'] };
    const by = readerBy(weighed?.written ?? [], target, { ownReading: Number, passes: () => true });
    expect(by('1.234')).toBe(1234);
  });

  test('every style can be named in a migration, belongs to a known choice, and is found by some text', () => {
    for (const { name, choice, says, about } of writingStyles) {
      expect(styleNames).toContain(name);
      if (choice !== undefined) expect(choices.has(choice)).toBe(true);
      expect([says, about].every((words) => words.length > 3)).toBe(true);
    }
  });

  test('what else could be meant is offered: one other way as a no, several by name', () => {
    expect(otherWriting(['day-first', 'day-first-short-year', 'month-names'], { kind: 'date' })).toEqual([
      ['month-first', 'month-first-short-year', 'month-names'],
    ]);
    expect(otherWriting(['bare-minutes'], { kind: 'duration', units: ['days', 'hours', 'minutes'] })).toEqual([
      ['bare-days'],
      ['bare-hours'],
    ]);
    expect(otherWriting(['with-unit'], { kind: 'decimal', unit: 'm' })).toEqual([]);
  });
});

describe('a field that becomes another kind [G6, H8]', () => {
  const garden = (fields: Record<string, Json>, entries: Readonly<Record<string, Json>>): Files => ({
    'lumbrik.yaml': 'workspace: Garten\nlanguages: [de, en]\n',
    'model/types/plant.yaml': writeYaml({ type: 'plant', fields } as Json),
    ...Object.fromEntries(Object.entries(entries).map(([id, entry]) => [`content/plant/${id}.yaml`, writeYaml(entry)])),
  });

  test.each<
    [name: string, field: Record<string, Json>, texts: readonly string[], values: readonly Json[], open: number]
  >([
    ['centimetres', { kind: 'decimal', unit: 'cm' }, ['6 cm', '0,5 m', '12 Zentimeter'], [6, 50, 12], 0],
    ['prices', { kind: 'decimal', unit: 'EUR' }, ['€ 12,50', '1.234,00 €', '1.500 €'], [12.5, 1234, 1500], 1],
    [
      'days',
      { kind: 'date' },
      ['31.12.2014', '1. März 1999', '2020-01-02'],
      ['2014-12-31', '1999-03-01', '2020-01-02'],
      0,
    ],
    [
      'lengths',
      { kind: 'duration', units: ['days', 'hours', 'minutes'] },
      ['45 min', '1 h 30', '3 Tage'],
      ['PT45M', 'PT1H30M', 'P3D'],
      0,
    ],
    ['times', { kind: 'time' }, ['9.30', '21 Uhr', '08:15'], ['09:30', '21:00', '08:15'], 0],
    ['truths', { kind: 'boolean' }, ['ja', 'Nein', 'n'], [true, false, false], 0],
    ['pages', { kind: 'integer' }, ['48 Seiten', '1.200 Seiten', '7'], [48, 1200, 7], 1],
    [
      'addresses',
      { kind: 'webAddress' },
      ['garten.example', 'https://b.example/x'],
      ['https://garten.example', 'https://b.example/x'],
      1,
    ],
    ['several sizes', { kind: 'decimal', unit: 'cm', many: true }, ['6 cm; 1 m', '7 cm'], [[6, 100], [7]], 1],
  ])('%s are carried over, taken back to the byte, and counted before', async (_name, field, texts, values, open) => {
    const entries = Object.fromEntries(texts.map((text, index) => [`p${index}`, { x: text }]));
    const folder = workspace(garden({ x: { kind: 'text' } }, entries));
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, { 'model/types/plant.yaml': writeYaml({ type: 'plant', fields: { x: field } } as Json) });
    const [change] = (await result(folder, ['diff'])).changes;
    expect(change.impact.hits).toBe(0);
    const { openQuestions } = await result(folder, ['migration', 'draft']);
    expect(openQuestions).toBe(open);
    if (open > 0) await result(folder, ['migration', 'answer', '1', '--yes']);
    const before = snapshot(folder, 'content/plant');
    const rehearsal = await result(folder, ['migration', 'rehearse']);
    expect([rehearsal.lost, rehearsal.files]).toEqual([[], change.impact.changed]);
    await lumbrik(folder, ['migration', 'run']);
    const { findings } = await result(folder, ['check']);
    expect(findings).toEqual([]);
    const stored = texts.map((_, index) => parse(read(folder, `content/plant/p${index}.yaml`)).x);
    expect(stored).toEqual(values);
    await lumbrik(folder, ['migration', 'undo']);
    expect(snapshot(folder, 'content/plant')).toEqual(before);
  });

  test('a no takes the other way, and a name any; what is no name is refused', async () => {
    const entries = { a: { day: '3/4/2014', long: '90' }, b: { day: '5/6/2014', long: '30' } };
    const folder = workspace(garden({ day: { kind: 'text' }, long: { kind: 'text' } }, entries));
    await lumbrik(folder, ['seal', '-m', 'one']);
    const after = { day: { kind: 'date' }, long: { kind: 'duration', units: ['days', 'hours', 'minutes'] } };
    write(folder, { 'model/types/plant.yaml': writeYaml({ type: 'plant', fields: after } as Json) });
    const { file } = await result(folder, ['migration', 'draft']);
    const { questions } = await result(folder, ['migration', 'answer', '--no-ask']);
    expect(questions.map(({ answers }: { answers: string[] }) => answers)).toEqual([
      ['yes', 'no', 'value', 'cel'],
      ['yes', 'written', 'value', 'cel'],
    ]);
    expect(
      (await result(folder, ['migration', 'answer', '--step', '2', '--written', 'bare-hoors'])).error,
    ).toBeDefined();
    for (const answer of ['--no', '--no', '--yes', '--no'])
      await result(folder, ['migration', 'answer', '--step', '1', answer]);
    await result(folder, ['migration', 'answer', '--step', '2', '--written', 'bare-hours']);
    const [day] = parse(read(folder, file)).steps;
    expect(day).toMatchObject({
      written: ['day-first'],
      open: 'Are the texts written day before month?',
      answer: 'no',
    });
    await result(folder, ['migration', 'rehearse']);
    await lumbrik(folder, ['migration', 'run']);
    expect(read(folder, 'content/plant/a.yaml')).toContain('2014-03-04');
    expect(read(folder, 'content/plant/a.yaml')).toContain('PT90H');
  });

  test('what other changes mean is counted on the values that texts become', async () => {
    const folder = workspace(
      garden({ height: { kind: 'text' } }, { a: { height: '6 cm' }, b: { height: '0.06 m' }, c: { height: '7 cm' } }),
    );
    await lumbrik(folder, ['seal', '-m', 'one']);
    const is = { kind: 'decimal', unit: 'cm', unique: true };
    write(folder, { 'model/types/plant.yaml': writeYaml({ type: 'plant', fields: { heightCm: is } } as Json) });
    const { changes } = await result(folder, ['diff']);
    const said = Object.fromEntries(changes.map(({ change, option, impact }: any) => [option ?? change, impact?.hits]));
    expect(said).toMatchObject({ renamed: 3, unique: 1 });
    const { file } = await result(folder, ['migration', 'draft']);
    expect(read(folder, file)).toContain('rename: plant.height');
  });

  test('a length that was kept as a time of day becomes a length', async () => {
    const folder = workspace(garden({ x: { kind: 'time' } }, { a: { x: '01:41' }, b: { x: '00:35:00' } }));
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, {
      'model/types/plant.yaml': writeYaml({ type: 'plant', fields: { x: { kind: 'duration' } } } as Json),
    });
    await result(folder, ['migration', 'draft']);
    expect((await result(folder, ['migration', 'answer', '1', '--yes'])).questions).toEqual([]);
    await result(folder, ['migration', 'rehearse']);
    await lumbrik(folder, ['migration', 'run']);
    expect(read(folder, 'content/plant/a.yaml')).toContain('PT1H41M');
    expect(read(folder, 'content/plant/b.yaml')).toContain('PT35M');
  });

  test('a list in a sentence is split before the word for “and”, too', async () => {
    const choice = { kind: 'choice', choices: ['oak', 'elm', 'ash'], many: true };
    const folder = workspace(
      garden({ x: { kind: 'text' } }, { a: { x: 'oak, elm und ash' }, b: { x: 'oak' }, c: { x: 'elm & ash' } }),
    );
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, { 'model/types/plant.yaml': writeYaml({ type: 'plant', fields: { x: choice } } as Json) });
    const { file } = await result(folder, ['migration', 'draft']);
    expect(read(folder, file)).toContain('split: [ ", ", " und ", " & " ]');
    await result(folder, ['migration', 'answer', '1', '--yes']);
    await result(folder, ['migration', 'rehearse']);
    await lumbrik(folder, ['migration', 'run']);
    expect(read(folder, 'content/plant/a.yaml')).toBe('x:\n  - oak\n  - elm\n  - ash\n');
  });
});

describe('what reads texts beside conversions [G6, I1]', () => {
  const texts = ['6 cm', '12,5 cm', '0,5 m', '30 cm', '45 cm', '7 cm', '8 cm', '9 cm', '1 m', '2 m'];
  const lines = (values: Readonly<Record<string, readonly string[]>>): string =>
    texts
      .map((_, index) => Object.fromEntries(Object.entries(values).map(([key, all]) => [key, all[index % all.length]])))
      .map((entry, index) => `${JSON.stringify({ id: `p${index}`, ...entry })}\n`)
      .join('');

  test('advice names the kind that texts are written as, and lengths that are kept as times of day', async () => {
    const days = ['31.12.2014', '1. März 1999', '30.1.2001', '28.2.2003', '17.4.2005'];
    const folder = workspace({
      'lumbrik.yaml': 'workspace: Garten\nlanguages: [de]\ncontent: [{ lines: content/plants.ndjson, type: plant }]\n',
      'model/types/plant.yaml':
        'type: plant\nfields:\n  height: { kind: text }\n  planted: { kind: text }\n  duration: { kind: time }\n  opens: { kind: time }\n  isbn: { kind: text }\n  version: { kind: text }\n  hardy: { kind: text }\n',
      'content/plants.ndjson': lines({
        height: texts,
        planted: days,
        duration: ['00:35:00', '01:10:00'],
        opens: ['09:00', '10:30'],
        isbn: ['978-3-16-148410-0', '978-0-306-40615-7', '978-1-86197-876-9', '978-3-12-732320-7', '978-0-00-000000-2'],
        version: ['1.2.3', '1.2.4', '1.3.0', '2.0.0', '2.0.1'],
        hardy: ['ja', 'nein'],
      }),
    });
    const { advice } = await result(folder, ['advice']);
    const written = advice.filter((one: { advice: string }) => one.advice === 'text-is-written');
    expect(Object.fromEntries(written.map((one: { at: string; mend: string }) => [one.at, one.mend]))).toEqual({
      'plant.height': 'Give it `kind: decimal, unit: cm`: a migration converts them.',
      'plant.planted': 'Give it `kind: date`: a migration converts them.',
      'plant.duration': 'Give it `kind: duration`: a migration converts them.',
      'plant.hardy': 'Give it `kind: boolean`: a migration converts them.',
    });
  });

  test('a fix is sure where one reading is left and the check passes afterwards; else it is asked for', async () => {
    const folder = workspace({
      'lumbrik.yaml': 'workspace: Garten\nlanguages: [de]\n',
      'model/types/plant.yaml':
        'type: plant\nfields:\n  height: { kind: decimal, unit: cm }\n  day: { kind: date, max: 2020-01-01 }\n  long: { kind: duration, units: [hours, days] }\n  hardy: { kind: boolean }\n  site: { kind: webAddress }\n  code: { kind: integer }\n',
      'content/plant/a.yaml':
        'height: 12,5 cm\nday: 31.12.2014\nlong: 3 Tage\nhardy: ja\nsite: garten.example\ncode: "007"\n',
      'content/plant/b.yaml': 'height: "1.200"\nday: 3.4.2014\nlong: 8:30\n',
      'content/plant/c.yaml': 'day: 31.12.2021\nlong: 1 Monat\ncode: "12"\n',
    });
    const { fixes, unsure } = await result(folder, ['check', '--fix']);
    const short = (all: readonly { entry: string; pointer: string; choices: readonly Json[] }[]) =>
      Object.fromEntries(all.map(({ entry, pointer, choices }) => [`${entry}${pointer}`, choices]));
    expect(short(fixes)).toEqual({
      'plant/a/height': [12.5],
      'plant/a/day': ['2014-12-31'],
      'plant/a/long': ['P3D'],
      'plant/a/hardy': [true],
      'plant/c/code': [12],
    });
    expect(short(unsure)).toEqual({
      'plant/a/site': ['https://garten.example'],
      'plant/b/height': [1200, 1.2],
      'plant/b/day': ['2014-04-03', '2014-03-04'],
    });
    await result(folder, ['check', '--fix', '--yes']);
    const left = (await result(folder, ['check', '--fix'])).fixes;
    expect(left).toEqual([]);
  });

  test('functions read by a style, and say what is not written so', async () => {
    const folder = workspace({
      'model/types/plant.yaml': 'type: plant\nfields: { price: { kind: text } }\n',
      'content/plant/a.yaml': 'price: 1.234,50 €\n',
    });
    const tried = async (expression: string) => (await result(folder, ['try', expression, 'plant/a'])).rows[0];
    expect(await tried("readNumber(entry.price, 'decimal-comma', 'EUR')")).toMatchObject({ value: 1234.5 });
    expect(await tried("readNumber('soon', 'decimal-comma')")).toMatchObject({
      failed: expect.stringContaining('“soon” is not written with a decimal comma'),
    });
    expect(await tried("readDay('1.2.2014', 'day-frist')")).toMatchObject({
      failed: expect.stringContaining('“day-frist” is no way of writing'),
    });
  });
});

describe('a text that becomes several fields is read as people write its parts [G6, H8]', () => {
  test('days, and lengths in several units', async () => {
    const numbers = [1, 2, 3, 4, 5, 6];
    const folder = workspace({
      'lumbrik.yaml': 'workspace: Feste\nlanguages: [de]\n',
      'model/types/fest.yaml': 'type: fest\nfields:\n  zeit: { kind: text }\n  mass: { kind: text }\n',
      ...Object.fromEntries(
        numbers.map((n) => [
          `content/fest/f${n}.yaml`,
          `zeit: "1${n}.8.2024 - 2${n}.9.2024"\nmass: "3,5 m x 1${n} cm"\n`,
        ]),
      ),
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    const before = snapshot(folder, 'content');
    write(folder, {
      'model/types/fest.yaml':
        'type: fest\nfields:\n  zeitVon: { kind: date }\n  zeitBis: { kind: date }\n  massBreit: { kind: decimal, unit: cm }\n  massHoch: { kind: decimal, unit: cm }\n',
    });
    await lumbrik(folder, ['migration', 'draft']);
    const { questions } = await result(folder, ['migration', 'answer', '--no-ask']);
    expect(questions).toHaveLength(2);
    for (const step of ['1', '2']) await lumbrik(folder, ['migration', 'answer', '--step', step, '--yes']);
    expect(await result(folder, ['migration', 'rehearse', '--prove'])).toMatchObject({
      ok: true,
      lost: [],
      changed: 6,
    });
    await lumbrik(folder, ['migration', 'run']);
    expect(parse(read(folder, 'content/fest/f1.yaml'))).toEqual({
      zeitVon: '2024-08-11',
      zeitBis: '2024-09-21',
      massBreit: 350,
      massHoch: 11,
    });
    expect((await result(folder, ['check'])).ok).toBe(true);
    await lumbrik(folder, ['migration', 'undo']);
    expect(snapshot(folder, 'content')).toEqual(before);
  });
});

test('a value that is given to a question may be written as people write, where it has one meaning alone', async () => {
  const folder = workspace({
    'lumbrik.yaml': 'workspace: Feste\nlanguages: [de]\n',
    'model/types/fest.yaml': 'type: fest\nfields:\n  name: { kind: text }\n',
    'content/fest/f.yaml': 'name: F\n',
  });
  await lumbrik(folder, ['seal', '-m', 'one']);
  write(folder, {
    'model/types/fest.yaml':
      'type: fest\nfields:\n  name: { kind: text }\n  a: { kind: boolean, required: true }\n  b: { kind: date, required: true }\n  c: { kind: decimal, unit: cm, required: true }\n',
  });
  await lumbrik(folder, ['migration', 'draft']);
  const answered = async (step: number, text: string) =>
    result(folder, ['migration', 'answer', '--step', String(step), '--value', text]);
  expect((await answered(2, '8.10.2014')).error).toMatchObject({ code: 'step-does-not-fit' });
  expect([
    (await answered(1, 'ja')).readAs,
    (await answered(2, '13.10.2014')).readAs,
    (await answered(3, '3,5 m')).readAs,
    (await answered(3, '12')).readAs,
  ]).toEqual([true, '2014-10-13', 350, undefined]);
  expect((await result(folder, ['migration', 'rehearse'])).errorsAfter).toBe(0);
});
