import fs from 'node:fs';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { parse } from 'yaml';
import { usualFactKeys } from '../src/core/definition/builtIn.ts';
import type { Entry } from '../src/core/entry/entry.ts';
import { sql as entriesAsSql } from '../src/core/export/entries/sql.ts';
import { valuesOf } from '../src/core/export/entries/values.ts';
import { sql } from '../src/core/export/formats/sql.ts';
import { link, type Model } from '../src/core/model/link.ts';
import { postgresPattern } from '../src/core/patterns/pattern.ts';
import { obeying, sketch, wholeOf } from './support/anyModel.ts';
import { hasPostgres, Postgres } from './support/postgres.ts';
import { lumbrik, read, result, temporary, workspace } from './support/program.ts';
import { good, others, withEntries } from './support/uhren.ts';

const exported = async (folder: string, ...args: readonly string[]): Promise<string> => {
  const { code, out, err } = await lumbrik(folder, ['export', ...args]);
  expect([code, err]).toEqual([0, '']);
  return out;
};

describe.skipIf(!hasPostgres)('in a real PostgreSQL', () => {
  let postgres: Postgres;
  beforeAll(() => {
    postgres = new Postgres();
  });
  afterAll(() => postgres.stop());

  test('the tables of the demo take every entry, and give back what was in them', async () => {
    const folder = temporary();
    await lumbrik(folder, ['new', 'coast', '--starter', 'lighthouses']);
    const coast = `${folder}/coast`;
    const [tables, rows] = [await exported(coast, 'sql'), await exported(coast, 'entries', '--as', 'sql')];
    const { types } = await result(coast, ['show']);
    const counts = types.map(({ name }: { name: string }) => `select '${name}', count(*) from ${name};`);
    const { out, refused } = postgres.run(tables, rows, ...counts);
    expect([refused, out]).toEqual([
      '',
      types.map(({ name, entries }: { name: string; entries: number }) => `${name}|${entries}`).join('\n'),
    ]);
    const { rows: lights } = await result(coast, ['list', 'lighthouse']);
    const asked =
      "select json_agg(json_build_object('id', id, 'fr', name_fr, 'lit', first_lit, 'range', range, 'lat', position_lat) order by id) from lighthouse;";
    expect(JSON.parse(postgres.run(tables, rows, asked).out)).toEqual(
      lights.map(({ entry, values }: any) => ({
        id: entry.slice('lighthouse/'.length),
        fr: values.name.fr ?? null,
        lit: values.firstLit ?? null,
        range: values.range ?? null,
        lat: values.position?.lat ?? null,
      })),
    );
    const joined =
      "select string_agg(k.name, ', ' order by l.position) from lighthouse_keepers l join keeper k on k.id = l.keeper where l.lighthouse_id = 'far-aldra';";
    expect(postgres.run(tables, rows, joined).out).toBe('Silas Orm, Maren Holt');
  });

  test('every form of field, under names that a database keeps for itself', async () => {
    const folder = withEntries([good, ...others]);
    expect((await lumbrik(folder, ['check'])).code).toBe(0);
    const [tables, rows] = [await exported(folder, 'sql'), await exported(folder, 'entries', '--as', 'sql')];
    const ask = [
      "select id, name_de, hoehe_in_cm, form, werk, erbe_lehrling, kasten_holz, roh->'a'->>2 from uhr;",
      'select position, meister, lehrling from uhr_von order by 1;',
      'select t.position, t.name, m.position, m.value from uhr_teile t left join uhr_teile_masse m on t.uhr_id = m.uhr_id and t.position = m.teile_position order by 1, 3;',
      'select language, position, value from uhr_zeilen order by 1, 2;',
      'select key, value from uhr_preise;',
      'select o.term, t.label_de from uhr_orte o join ort_term t on t.term = o.term order by 1;',
      'select term, broader from werk_term_broader order by 1, 2;',
      'select "table" from "order";',
    ];
    const { out, refused } = postgres.run(tables, rows, ...ask);
    expect(refused).toBe('');
    expect(out).toBe(
      [
        'o\'hara|Große "Uhr"|12.5|stand|halb|bert|Nuss|it\'s',
        '1|anna|\n2||bert',
        '1|Zeiger|1|1\n1|Zeiger|2|2\n2|Blatt||',
        'de|1|a\nde|2|b\nfr|1|c',
        'de|5',
        'bern|Bern\nchur|',
        'halb|pendel\nhalb|x\nsekunden|pendel',
        't',
      ].join('\n'),
    );
  });

  const wrong: readonly (readonly [string, object])[] = [
    ['a required text is missing', { name: { fr: 'x' } }],
    ['a text is too long', { name: { de: 'x'.repeat(41) } }],
    ['a text is of two lines', { name: { de: 'a\nb' } }],
    ['a number is too large', { 'hoehe-in-cm': 301 }],
    ['a number has too many places', { 'hoehe-in-cm': 1.25 }],
    ['a number is none of those', { zahl: 4 }],
    ['a day is too early', { gebaut: '1499-12-31' }],
    ['a time is too early', { schlaegt: '05:59' }],
    ['a length is too long', { dauer: 'PT49H' }],
    ['a moment is too early', { gesehen: '1999-12-31T23:59:59Z' }],
    ['a latitude is none', { ort: { lat: 91, lon: 0 } }],
    ['a term is no leaf', { werk: 'pendel' }],
    ['an entry does not exist', { von: ['anna', 'meister/niemand'] }],
    ['a list is too short', { von: ['anna'] }],
    ['a list is too long', { notiz: ['a', 'b', 'c'] }],
    ['an item stands twice', { von: ['anna', 'anna'] }],
    ['a term stands twice', { orte: ['bern', 'bern'] }],
    ['what is needed once published is missing', { art: undefined }],
    ['a list that is needed once published is missing', { notiz: undefined }],
    ['a part of a list misses what it needs', { teile: [{ masse: [1] }] }],
    ['a list inside a list is too long', { teile: [{ name: 'x', masse: [1, 2, 3] }] }],
    ['a group misses what it needs', { kasten: { farbe: '#aabbcc' } }],
    ['a colour is none', { kasten: { holz: 'x', farbe: 'red' } }],
    ['a value under a key is too small', { preise: { de: 0 } }],
    ['a pattern does not match', { code: 'ab-1' }],
    ['a slug has capitals', { slug: 'Uhr' }],
  ];
  test.each(wrong)('what the check refuses is refused: %s', async (_what, values) => {
    const folder = withEntries([{ ...good, ...values }, ...others]);
    expect((await lumbrik(folder, ['check'])).code).toBe(1);
    const tables = await exported(folder, 'sql');
    const { out } = await lumbrik(folder, ['export', 'entries', '--as', 'sql']);
    expect(postgres.run(tables, out).refused).toMatch(/violates|invalid/u);
  });

  test('two entries that share what is unique, or a target that one may have, are refused', async () => {
    for (const second of [
      { ...good, id: 'b', slug: 'b', erbe: undefined },
      { ...good, id: 'b', code: 'AB-2', erbe: undefined },
      { ...good, id: 'b', slug: 'b', code: 'AB-2' },
    ]) {
      const folder = withEntries([good, second, ...others]);
      expect((await lumbrik(folder, ['check'])).code).toBe(1);
      const [tables, rows] = [await exported(folder, 'sql'), await exported(folder, 'entries', '--as', 'sql')];
      expect(postgres.run(tables, rows).refused).toContain('duplicate key');
    }
  });

  test('drafts may lack what is needed once published', async () => {
    const folder = withEntries([{ ...good, status: 'draft', art: undefined, notiz: undefined }, ...others]);
    expect((await lumbrik(folder, ['check'])).code).toBe(0);
    const [tables, rows] = [await exported(folder, 'sql'), await exported(folder, 'entries', '--as', 'sql')];
    expect(postgres.run(tables, rows).refused).toBe('');
  });

  test('so may the parts of a list: whether their entry is published does not stand beside them', async () => {
    const folder = workspace({
      'model/types/note.yaml':
        'type: note\nfields:\n  parts: { kind: object, many: true, fields: { name: { kind: text }, words: { kind: text, many: true, required: published } } }\n',
      'content/note/a.yaml': 'status: draft\nparts: [{ name: x }]\n',
      'content/note/b.yaml': 'parts: [{ words: [y] }]\n',
    });
    const [tables, rows] = [await exported(folder, 'sql'), await exported(folder, 'entries', '--as', 'sql')];
    const { out, refused } = postgres.run(tables, rows, 'select note_id, value from note_parts_words;');
    expect([refused, out]).toEqual(['', 'b|y']);
    expect(tables).toContain('words has to be there');
  });

  test('a group that may be empty is there with nothing in it, which no column can say', async () => {
    const group = 'kind: object, mayBeEmpty: true, fields: { seen: { kind: date }, by: { kind: text } }';
    const folder = workspace({
      'model/types/note.yaml': `type: note\nfields:\n  always: { ${group}, required: true }\n  once: { ${group}, required: published }\n`,
      'content/note/a.yaml': 'always: {}\nonce: {}\n',
      'content/note/b.yaml': 'always: { seen: 2026-03-01 }\nonce: { by: Ada }\n',
    });
    expect((await lumbrik(folder, ['check'])).code).toBe(0);
    const tables = await exported(folder, 'sql');
    const { out: rows, err } = await lumbrik(folder, ['export', 'entries', '--as', 'sql']);
    expect(err).toMatch(/always is there, and empty .*once is there, and empty /su);
    const { out, refused } = postgres.run(tables, rows, 'select id, once_by from note order by id;');
    expect([refused, out]).toEqual(['', 'a|\nb|Ada']);
    for (const name of ['always', 'once']) expect(tables).toContain(`${name} has to be there`);
  });

  test('what no column holds is left out and said, and the rest is taken', async () => {
    const folder = withEntries([
      {
        ...good,
        zahl: 'zwei',
        neu: 1,
        created: 'gestern',
        gebaut: '12.5.1800',
        code: 'A\u0000B',
        zeilen: { de: ['a', 7], it: ['x'] },
      },
      ...others,
    ]);
    const { out, err } = await lumbrik(folder, ['export', 'entries', '--as', 'sql']);
    for (const says of [
      'zahl is not what a column of integer holds',
      'neu is no field of uhr',
      'created is not what a column of timestamptz holds',
      'gebaut is not what a column of date holds',
      'code is not what a column of text holds',
      'zeilen is not what a column of text holds',
      'zeilen: it is no language here',
    ])
      expect(err).toContain(`  ${says} · 1 entry, such as uhr/o'hara`);
    expect(postgres.run(await exported(folder, 'sql'), out).refused).toBe('');
  });

  test('of any model, with the entries that obey it', () => {
    const whole = sketch.map(wholeOf).map((document) => link(document));
    fc.assert(
      fc.property(
        whole.chain((model) => fc.tuple(fc.constant(model), obeying(model))),
        ([model, entries]) => {
          const about = {
            workspace: 'W',
            model,
            types: [...model.types.values()],
            factKeys: [usualFactKeys],
            call: 'x',
          };
          const { refused } = postgres.run(sql.text(about), rowsOf(model, entries));
          expect(refused).toBe('');
        },
      ),
      { numRuns: Number(process.env.RUNS ?? 60) },
    );
  });

  test('a model learnt from its tables: kinds, limits, references, choices, joins, comments', async () => {
    const { refused } = postgres.run(`
      create type clock_form as enum ('stand', 'wall');
      create table maker (id serial primary key, name varchar(40) not null unique, born date);
      create table clock (
        no text primary key, form clock_form not null, maker_id integer not null references maker,
        height_cm numeric(6,1) check (height_cm between 1 and 300), tags text[], strikes time, built_at timestamptz,
        "order" integer, extra jsonb, area point, loud boolean default false, check (height_cm > 2 or loud));
      comment on table clock is 'What tells the time.';
      comment on column clock.height_cm is 'With the case.';
      create table clock_owners (clock text references clock, owner integer references maker, position integer, primary key (clock, position));
      create table visit (clock text references clock, day date, primary key (clock, day));
    `);
    expect(refused).toBe('');
    const folder = temporary();
    const { types, unsaid, code } = await result(folder, ['learn', '--database', postgres.address, '--out', 'new']);
    expect([code, types]).toEqual([
      0,
      [
        { type: 'clock', fields: 11 },
        { type: 'maker', fields: 2 },
        { type: 'visit', fields: 2 },
      ],
    ]);
    expect((await lumbrik(`${folder}/new`, ['check'])).code).toBe(0);
    expect(parse(read(folder, 'new/model/types/clock.yaml'))).toEqual({
      type: 'clock',
      about: 'What tells the time.',
      fields: {
        form: { kind: 'choice', choices: ['stand', 'wall'], required: true },
        makerId: { kind: 'reference', to: 'maker', required: true },
        heightCm: { kind: 'decimal', places: 1, min: 1, max: 300, help: 'With the case.' },
        tags: { kind: 'longText', many: true },
        strikes: { kind: 'time' },
        builtAt: { kind: 'dateTime' },
        order: { kind: 'integer' },
        extra: { kind: 'json' },
        area: { kind: 'text' },
        loud: { kind: 'boolean' },
        owners: { kind: 'reference', to: 'maker', many: true },
      },
    });
    expect(unsaid.map(({ at, says }: any) => `${at} ${says}`)).toEqual([
      'clock.area is of the type point',
      'visit is told apart by clock, day together',
      expect.stringMatching(/^clock holds only where .*loud/u),
    ]);
  });

  test('tables and columns of any name are read, harm nothing, and are told where no model can call them so', async () => {
    const names = [
      'x"; drop table canary; --',
      "o'clock",
      '$(touch pwn)',
      '../../up',
      'con',
      'two\nlines',
      'tab\there',
      'select',
      '__proto__',
      'constructor',
      'Ünïcode',
      '-- x',
      '\u202Eback',
      '1st',
      ' ',
    ];
    const quoted = (name: string): string => `"${name.replaceAll('"', '""')}"`;
    const tables = names.map(
      (name) =>
        `create table ${quoted(name)} (id text primary key, ${names.map((column) => `${quoted(column)} text`).join(', ')});` +
        `comment on table ${quoted(name)} is ${`'${name.replaceAll("'", "''")}'`};`,
    );
    const { refused } = postgres.run('create table canary (id text primary key, name text);', ...tables);
    expect(refused).toBe('');
    const folder = temporary();
    const { types, unsaid, error } = await result(folder, ['learn', '--database', postgres.address, '--out', 'new']);
    expect(error).toBeUndefined();
    expect(types.map(({ type }: { type: string }) => type)).toContain('canary');
    expect((await lumbrik(`${folder}/new`, ['check'])).code).toBe(0);
    // Nothing came of a name but files of the model, and what got another name is told.
    expect(fs.readdirSync(folder)).toEqual(['new']);
    const files = fs.readdirSync(`${folder}/new/model/types`);
    expect(files).toHaveLength(types.length);
    for (const file of files) expect(file).toMatch(/^[\p{L}\p{N}_-]+\.yaml$/u);
    expect(types.length + unsaid.length).toBeGreaterThanOrEqual(names.length + 1);
    expect(postgres.ask('select count(*) from canary').out.trim()).toBe('0');
  });

  test('a pattern means there what it means here', () => {
    const patterns = [
      ...['^a.c$', '^\\d+$', '\\bx', 'x\\B', '^[^\\s]+$', '^\\w{2,3}$', 'a|b$', '^(?:ab)+$', '^\\S*$', '[\\W]', '^\\D'],
      ...[
        '^(?=.*\\d).{3,}$',
        '^(?!x)',
        '(?<=a)b',
        '^[\\u{1F600}-\\u{1F64F}]$',
        '^\\p{Lu}',
        '[^]',
        '^[-.]$',
        '^\\/$',
        '^a{300}$',
      ],
      ...['^[\\]\\\\^]$', '^(a|b)?c$', '\\.$', '^é+$', '^a??b', '^$', '[]', '^.{2}$'],
    ];
    const texts = [
      '',
      'a',
      'abc',
      'a\nc',
      'é1',
      'ÉA',
      'x',
      'ax',
      'xx',
      '12',
      'ab',
      'abab',
      ' ',
      '\u00a0',
      '😀',
      '-',
      '.',
      '/',
      ']',
      '\\',
      '^',
      'a1b',
      'c',
      'bc',
      'a'.repeat(300),
      '\u2028',
      'Ωx',
      '_',
    ];
    const quoted = (text: string): string => `'${text.replaceAll("'", "''")}'`;
    const asked = patterns.flatMap((pattern) =>
      texts.map((text) => `(${quoted(text)} ~ ${quoted(postgresPattern(pattern) ?? '')})`),
    );
    const { out, refused } = postgres.run(`select unnest(array[${asked.join(',\n')}]);`);
    const meant = patterns.flatMap((pattern) =>
      texts.map((text) => [pattern, text, new RegExp(pattern, 'u').test(text)]),
    );
    expect(refused).toBe('');
    expect(out.split('\n').map((is, index) => [...(meant[index] ?? []).slice(0, 2), is === 't'])).toEqual(meant);
  });

  const rowsOf = (model: Model, entries: readonly Entry[]): string => {
    const about = { workspace: 'W', model, types: [...model.types.values()], factKeys: [usualFactKeys], call: 'x' };
    const { begin, put, finish } = entriesAsSql.writing(about);
    const pieces = entries.flatMap((entry) => {
      const values = valuesOf(entry, model.types.get(entry.type));
      return put(
        { ...entry, values, stored: entry },
        () => undefined,
        () => undefined,
      );
    });
    return [begin?.(), ...pieces, ...(finish?.() ?? [])].map((piece) => piece?.text ?? '').join('\n');
  };
});
