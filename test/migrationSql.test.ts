import fs from 'node:fs';
import path from 'node:path';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { usualFactKeys } from '../src/core/definition/builtIn.ts';
import type { ModelDoc } from '../src/core/definition/model.ts';
import { compare } from '../src/core/diff/compare.ts';
import type { Entry } from '../src/core/entry/entry.ts';
import { sql as entriesAsSql } from '../src/core/export/entries/sql.ts';
import { valuesOf } from '../src/core/export/entries/values.ts';
import { sql } from '../src/core/export/formats/sql.ts';
import { TableChange } from '../src/core/export/tables/changeTables.ts';
import { tablesOf } from '../src/core/export/tables/tablesOf.ts';
import { draftSteps } from '../src/core/migration/draft.ts';
import { entryAfter, newEntries } from '../src/core/migration/entriesAfter.ts';
import { allShown, migrateEntry, planMigration, showEntry, stagesThatSeeAll } from '../src/core/migration/plan.ts';
import { readStep } from '../src/core/migration/read.ts';
import { link, type Model } from '../src/core/model/link.ts';
import { edited, errorsOf, obeying, sketch, wholeOf } from './support/anyModel.ts';
import { hasPostgres, Postgres } from './support/postgres.ts';
import { coast, edit, type Files, lumbrik, read, result, workspace, write } from './support/program.ts';
import { good, others, withEntries } from './support/uhren.ts';

/** All that a database holds and asks for, in an order of its own: names of constraints say nothing. */
const everything = `
  select table_name, column_name, data_type, udt_name, is_nullable, column_default, generation_expression
    from information_schema.columns where table_schema = 'public' order by 1, 2;
  select conrelid::regclass::text, pg_get_constraintdef(oid) from pg_constraint
    where connamespace = 'public'::regnamespace order by 1, 2;
  select indrelid::regclass::text, count(*) from pg_index
    where indrelid::regclass::text !~ '^pg_' group by 1 order by 1;
  select t.typname, string_agg(e.enumlabel, ',' order by e.enumsortorder) from pg_type t join pg_enum e on e.enumtypid = t.oid
    group by 1 order by 1;
  select c.relname, obj_description(c.oid), a.attname, col_description(c.oid, a.attnum) from pg_class c
    join pg_attribute a on a.attrelid = c.oid and a.attnum > 0 and not a.attisdropped
    where c.relnamespace = 'public'::regnamespace and c.relkind = 'r' order by 1, 3;
  select format('select %L, to_jsonb(t) from %I t order by 2;', relname, relname) from pg_class
    where relnamespace = 'public'::regnamespace and relkind = 'r' order by relname \\gexec
`;

const about = (model: Model) => ({
  workspace: 'W',
  model,
  types: [...model.types.values()],
  factKeys: [usualFactKeys],
  call: 'x',
});

function filled(model: Model, entries: readonly Entry[]): string {
  const { begin, put, finish } = entriesAsSql.writing(about(model));
  const pieces = entries.flatMap((entry) =>
    put(
      { ...entry, values: valuesOf(entry, model.types.get(entry.type)), stored: entry },
      () => undefined,
      () => undefined,
    ),
  );
  return [sql.text(about(model)), begin?.().text, ...[...pieces, ...(finish?.() ?? [])].map(({ text }) => text)].join(
    '\n',
  );
}

/** Entries taken through the steps that would be drafted; `undefined` where a question is left open that matters. */
function migrated(
  before: ModelDoc,
  after: ModelDoc,
  entries: readonly Entry[],
): readonly (readonly Entry[])[] | undefined {
  const steps = draftSteps(compare(before, after), after, () => undefined).map(({ data }, index) =>
    readStep(data, ['steps', index]),
  );
  const read = steps.flatMap((step) => ('value' in step ? [step.value] : []));
  const planned = planMigration(read, before);
  if ('problem' in planned) throw new Error(JSON.stringify(planned.problem));
  for (const index of stagesThatSeeAll(planned.value)) {
    for (const entry of entries) showEntry(planned.value, index, entry);
    allShown(planned.value, index);
  }
  const all = entries.map((entry) => {
    const one = migrateEntry(planned.value, entry);
    return [...(one.draft.isDeleted ? [] : [entryAfter(entry, one.draft)]), ...newEntries(one)];
  });
  return errorsOf(link(after), all.flat()).length === 0 ? all : undefined;
}

function script(before: Model, after: Model, was: readonly Entry[], is: readonly (readonly Entry[])[]): string {
  const sides = () => [tablesOf(about(before)), tablesOf(about(after))] as const;
  const renames = compare(before.definition, after.definition).renames.map(({ rename }) => ({
    from: rename.from.split('.').at(-1) ?? '',
    to: rename.to,
  }));
  const change = new TableChange(...sides(), renames);
  const rows = (say: (a: any, b: any) => string): string => {
    const [one, other] = sides();
    return [
      say(one.terms, other.terms),
      ...was.map((entry, index) =>
        say(
          one.rowsOf(entry, () => undefined),
          (is[index] ?? []).flatMap((made) => other.rowsOf(made, () => undefined)),
        ),
      ),
    ].join('');
  };
  const guard = change.guard();
  return [
    "begin; set local time zone 'UTC';\n",
    guard.begin(),
    rows((a) => guard.expect(a)),
    guard.end(),
    change.begin(),
    rows((a, b) => change.deletes(a, b)),
    rows((a, b) => change.inserts(a, b)),
    change.finish(),
    'commit;\n',
  ].join('');
}

describe.skipIf(!hasPostgres)('a migration as statements of SQL [K1]', () => {
  let postgres: Postgres;
  beforeAll(() => {
    postgres = new Postgres();
  });
  afterAll(() => postgres.stop());

  const change = sketch
    .chain((before) => fc.tuple(fc.constant(before), edited(before)))
    .map(([before, after]) => [wholeOf(before), wholeOf(after)] as const)
    .chain(([before, after]) => fc.tuple(fc.constant(before), fc.constant(after), obeying(link(before))));

  test('leaves the tables that the newer model has, with the rows of the migrated entries, whatever the models are', () => {
    let tried = 0;
    fc.assert(
      fc.property(change, ([before, after, entries]) => {
        const is = migrated(before, after, entries);
        if (!is) return;
        tried += 1;
        const [old, young] = [link(before), link(after)];
        const statements = script(old, young, entries, is);
        const anew = postgres.run(filled(young, is.flat()), everything);
        if (anew.refused) throw new Error(`The newer form itself: ${anew.refused}\n${filled(young, is.flat())}`);
        const changed = postgres.run(filled(old, entries), statements, everything);
        if (changed.refused)
          throw new Error(
            `${changed.refused}\n${postgres.run(filled(old, entries)).refused && 'The older form itself:'}\n${filled(old, entries)}\n${statements}`,
          );
        expect(changed.out.split('\n')).toEqual(anew.out.split('\n'));
      }),
      { numRuns: Number(process.env.RUNS ?? 60) },
    );
    expect(tried).toBeGreaterThan(20);
  });

  const exported = async (folder: string, ...args: readonly string[]): Promise<string> => {
    const { code, out } = await lumbrik(folder, ['export', ...args]);
    expect(code).toBe(0);
    return out;
  };
  const all = async (folder: string): Promise<string> =>
    (await exported(folder, 'sql')) + (await exported(folder, 'entries', '--as', 'sql'));

  /** Told as SQL and carried out on what was exported before, a migration leaves what is exported after its run. */
  const leavesTheSame = async (folder: string, before: string): Promise<string> => {
    const told = await lumbrik(folder, ['migration', 'sql']);
    expect([told.code, told.err]).toEqual([0, '']);
    const changed = postgres.run(before, told.out, everything);
    expect((await result(folder, ['migration', 'rehearse'])).openQuestions).toBe(0);
    expect((await lumbrik(folder, ['migration', 'run'])).code).toBe(0);
    const anew = postgres.run(await all(folder), everything);
    expect([changed.refused, changed.out.split('\n')]).toEqual(['', anew.out.split('\n')]);
    return told.out;
  };

  test('of the demo: tables and columns get other names where they stand, and only rows that differ are touched', async () => {
    const folder = coast();
    await lumbrik(folder, ['seal', '-m', 'one']);
    const before = await all(folder);
    await lumbrik(folder, ['rename', 'keeper', 'warden']);
    await lumbrik(folder, ['rename', 'lighthouse.firstLit', 'litSince']);
    await lumbrik(folder, ['rename', 'tour.lights', 'stops']);
    edit(
      folder,
      'model/types/lighthouse.yaml',
      'fields:\n',
      'fields:\n  floors: { kind: integer, required: true, min: 1 }\n',
    );
    edit(
      folder,
      'model/types/tour.yaml',
      '    choices:\n',
      '    choices:\n      - { choice: gentle, label: { en: Gentle, fr: Doux } }\n',
    );
    await lumbrik(folder, ['migration', 'draft']);
    await lumbrik(folder, ['migration', 'answer', '--step', '4', '--value', '3']);
    const statements = await leavesTheSame(folder, before);
    for (const one of [
      'alter table keeper rename to warden;',
      'alter table lighthouse rename column first_lit to lit_since;',
      'alter table tour_lights rename to tour_stops;',
      "update lighthouse set floors = 3 where id = 'far-aldra';",
      'alter table lighthouse alter column floors set not null;',
    ])
      expect(statements).toContain(`${one}\n`);
    expect(statements).not.toMatch(/^(drop table|insert into|delete from)/mu);
  });

  test('of names and forms that a database keeps for itself: what cannot be changed where it stands is made anew', async () => {
    const folder = withEntries([good, ...others, { ...good, id: 'b', slug: 'b', code: 'CD-2', erbe: undefined }]);
    await lumbrik(folder, ['seal', '-m', 'one']);
    const before = await all(folder);
    await lumbrik(folder, ['rename', 'uhr', 'user']);
    await lumbrik(folder, ['rename', 'user.teile', 'select']);
    await lumbrik(folder, ['rename', 'werk:pendel', 'lot']);
    await lumbrik(folder, ['rename', 'order.table', 'from']);
    await lumbrik(folder, ['rename', 'order', 'group']);
    edit(folder, 'lumbrik.yaml', '[de, fr]', '[de, fr, en]');
    const file = 'model/types/user.yaml';
    edit(
      folder,
      file,
      'hoehe-in-cm: { kind: decimal, min: 1, max: 300, places: 1 }',
      'hoehe-in-cm: { kind: decimal, min: 2, max: 400, places: 2 }',
    );
    edit(folder, file, 'choices: [alt, neu]', 'choices: [alt, "sehr alt", neu]');
    edit(folder, file, 'roh: { kind: json }', 'roh: { kind: json, many: true }');
    edit(folder, file, "pattern: { match: '^[A-Z]{2}-\\d+$' }", 'max: 5');
    await lumbrik(folder, ['migration', 'draft']);
    expect(await leavesTheSame(folder, before)).toMatch(/^drop table/mu);
  });

  test('a word in a text of a condition is no name of a column', async () => {
    const folder = workspace({
      'model/types/note.yaml':
        "type: note\nfields:\n  a: { kind: text, pattern: { match: '^[a-z ]+ a$' } }\n  code: { kind: choice, choices: [a b, b] }\n  b: { kind: text }\n",
      'content/note/one.yaml': 'a: x a\ncode: a b\nb: gone\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    const before = await all(folder);
    await lumbrik(folder, ['rename', 'note.a', 'c']);
    edit(folder, 'model/types/note.yaml', '  b: { kind: text }\n', '');
    await lumbrik(folder, ['migration', 'draft']);
    await lumbrik(folder, ['migration', 'answer', '--yes']);
    const statements = await leavesTheSame(folder, before);
    expect(statements).toContain('alter table note rename column a to c;\n');
    expect(statements.match(/drop column \w+/gu)).toEqual(['drop column b']);
  });

  const holding = {
    'model/types/note.yaml': 'type: note\nfields:\n  a: { kind: text }\n  b: { kind: text }\n',
    'content/note/one.yaml': 'a: x\nb: gone\n',
  };

  test.each([
    ['another row', "insert into note (id, status, a, b) values ('two', 'published', 'y', 'z');"],
    ['another value in a column that goes', "update note set b = 'edited' where id = 'one';"],
    ['a row less', "delete from note where id = 'one';"],
  ])('stops where the table holds %s, and changes nothing', async (_what, edited) => {
    const folder = workspace(holding);
    await lumbrik(folder, ['seal', '-m', 'one']);
    const before = await all(folder);
    edit(folder, 'model/types/note.yaml', '  b: { kind: text }\n', '');
    await lumbrik(folder, ['migration', 'draft']);
    await lumbrik(folder, ['migration', 'answer', '--yes']);
    const { out: statements } = await lumbrik(folder, ['migration', 'sql']);
    const { refused } = postgres.run(before, edited, statements);
    expect(refused).toContain('table note holds other rows than the entries had');
  });

  /** A piece with a value of each kind, before and after the kinds of its fields change. */
  const pieces: Files = {
    'model/types/piece.yaml':
      'type: piece\nfields:\n  form: { kind: text, required: true, max: 10, unique: true }\n  size: { kind: choice, choices: [big, small, tiny] }\n  count: { kind: integer, min: 1 }\n  weight: { kind: text }\n  note: { kind: text, max: 20 }\n',
    'content/piece/a.yaml': 'form: round\nsize: big\ncount: 3\nweight: "12"\nnote: n\n',
    'content/piece/b.yaml': 'form: flat\nsize: small\nweight: "7"\n',
  };

  test('columns of another type are converted where they stand: indexes and grants of others stay', async () => {
    const folder = workspace(pieces);
    await lumbrik(folder, ['seal', '-m', 'one']);
    const before = await all(folder);
    write(folder, {
      'model/types/piece.yaml':
        'type: piece\nfields:\n  form: { kind: choice, required: true, choices: [round, flat] }\n  size: { kind: choice, choices: [small, big] }\n  count: { kind: decimal, min: 0 }\n  weight: { kind: integer }\n  note: { kind: text, max: 30 }\n',
    });
    await lumbrik(folder, ['migration', 'draft']);
    await lumbrik(folder, ['migration', 'answer', '--yes']);
    const theirs =
      "do $$ begin if not exists (select from pg_roles where rolname = 'reader') then create role reader; end if; end $$;\n" +
      'create index theirs on piece (form, weight); grant select (form, size) on piece to reader;\n';
    const statements = await leavesTheSame(folder, before);
    expect(statements).not.toMatch(/drop column|add column|drop table piece|insert into piece/u);
    const { refused, out } = postgres.run(
      before,
      theirs,
      statements,
      "select indexname from pg_indexes where indexname = 'theirs';",
      "select column_name from information_schema.column_privileges where grantee = 'reader' order by 1;",
      'select id, form, size, count, weight from piece order by id;',
    );
    expect([refused, out.trim().split('\n').slice(-5)]).toEqual([
      '',
      ['theirs', 'form', 'size', 'a|round|big|3|12', 'b|flat|small||7'],
    ]);
    expect(postgres.run(before, 'create view shapes as select form from piece;', statements).refused).toContain(
      'shapes',
    );
  });

  test('conditions of others stay where ours are said no more', async () => {
    const folder = workspace(pieces);
    await lumbrik(folder, ['seal', '-m', 'one']);
    const before = await all(folder);
    edit(folder, 'model/types/piece.yaml', 'max: 20', 'max: 40');
    edit(folder, 'model/types/piece.yaml', 'max: 10, unique: true', 'max: 12');
    await lumbrik(folder, ['migration', 'draft']);
    const { out } = await lumbrik(folder, ['migration', 'sql']);
    const theirs = "alter table piece add constraint theirs check (note <> 'no');";
    const left =
      "select conname, pg_get_constraintdef(oid) from pg_constraint where conrelid = 'piece'::regclass and contype <> 'p' order by 1;";
    expect(postgres.run(before, theirs, out, left)).toMatchObject({
      refused: '',
      out: expect.stringMatching(/char_length\(form\).*12[\s\S]*char_length\(note\).*40[\s\S]*theirs\|/u),
    });
    expect(postgres.run(before, theirs, out, left).out).not.toMatch(/20\)|10\)|UNIQUE/u);
  });

  test('stops where a view of others depends on what goes, and the database names it', async () => {
    const folder = workspace({
      ...holding,
      'model/types/more.yaml': 'type: more\nfields:\n  n: { kind: reference, to: note }\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    const before = await all(folder);
    fs.rmSync(path.join(folder, 'model/types/note.yaml'));
    fs.rmSync(path.join(folder, 'model/types/more.yaml'));
    await lumbrik(folder, ['migration', 'draft']);
    for (const step of ['1', '2', '3', '4']) await lumbrik(folder, ['migration', 'answer', '--step', step, '--yes']);
    const { code, out: statements } = await lumbrik(folder, ['migration', 'sql']);
    expect(code).toBe(0);
    expect(postgres.run(before, statements).refused).toBe('');
    const { refused } = postgres.run(before, 'create view theirs as select b from note;', statements);
    expect(refused).toContain('theirs');
  });

  test('of steps that make and remove entries, over lines and tables, with types that extend others', async () => {
    const entries = [
      { type: 'work', id: 'a', name: 'A', by: 'Ann Lee', parts: [{ label: 'one' }, { label: 'two' }], in: 'shed' },
      { type: 'work', id: 'b', name: 'B', by: 'Bo', in: 'yard', kind: 'print' },
      { type: 'print', id: 'p', name: 'P', by: 'Ann Lee', in: 'shed', edition: 3 },
      { type: 'note', id: 'n', text: 'gone', about: 'work/a' },
    ];
    const types = (work: string, others: Files): Files => ({
      'model/types/work.yaml': `type: work\nfields:\n  name: { kind: text, required: true }\n${work}`,
      'model/types/print.yaml': 'type: print\nextends: work\nfields:\n  edition: { kind: integer }\n',
      ...others,
    });
    const note = 'type: note\nfields:\n  text: { kind: text }\n  about: { kind: reference, to: work }\n';
    const parts = 'parts: { kind: object, many: true, fields: { label: { kind: text } } }';
    const folder = workspace({
      'lumbrik.yaml':
        'workspace: W\ncontent: [{ lines: content/all.ndjson }, { csv: content/shop.csv, type: shop, keys: { id: No } }]\n',
      ...types(
        `  by: { kind: text }\n  in: { kind: text }\n  kind: { kind: choice, choices: [print, cast] }\n  ${parts}\n`,
        {
          'model/types/note.yaml': note,
          'model/types/shop.yaml':
            'type: shop\nfields:\n  "e-mail": { kind: text, required: true }\n  open: { kind: boolean }\n',
        },
      ),
      'content/all.ndjson': entries.map((one) => `${JSON.stringify(one)}\n`).join(''),
      'content/shop.csv': 'No,e-mail,open\ns1,"a ""b""@x.example",true\ns2,c@x.example,\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    const before = await all(folder);
    write(
      folder,
      types(
        `  by: { kind: reference, to: person }\n  place: { kind: text }\n  kind: { kind: choice, choices: [print, cast] }\n  ${parts.replace('label', 'title')}\n`,
        {
          'model/types/person.yaml': 'type: person\nfields:\n  name: { kind: text, required: true }\n',
          'model/types/shop.yaml':
            'type: shop\nfields:\n  mail: { kind: text, required: true }\n  open: { kind: boolean, required: true }\n',
        },
      ),
    );
    fs.rmSync(path.join(folder, 'model/types/note.yaml'));
    const renamed = ['work.in=place', 'work.parts.label=title', 'shop.e-mail=mail'].flatMap((one) => [
      '--renamed',
      one,
    ]);
    const { steps } = await result(folder, ['migration', 'draft', ...renamed]);
    expect(steps.map(({ verb }: { verb: string }) => verb)).toEqual(expect.arrayContaining(['pull', 'drop', 'rename']));
    for (;;) {
      const [question] = (await result(folder, ['migration', 'answer', '--no-ask'])).questions;
      if (!question) break;
      const how = question.answers.includes('value') ? ['--value', 'false'] : ['--yes'];
      await lumbrik(folder, ['migration', 'answer', '--step', String(question.step), ...how]);
    }
    const statements = await leavesTheSame(folder, before);
    expect(statements).toMatch(/^drop table (?:\w+, )*note[,;]/mu);
    expect(statements).not.toContain('cascade');
    expect(statements).toContain("update shop set open = false where id = 's2';\n");
  });

  test('goes into a file, is told, and is refused where a question is open or the entries are elsewhere', async () => {
    const folder = coast();
    await lumbrik(folder, ['seal', '-m', 'one']);
    expect(await lumbrik(folder, ['migration', 'sql'])).toMatchObject({ code: 2 });
    edit(folder, 'model/types/lighthouse.yaml', 'fields:\n', 'fields:\n  floors: { kind: integer, required: true }\n');
    await lumbrik(folder, ['migration', 'draft']);
    const open = await lumbrik(folder, ['migration', 'sql', '--out', 'a.sql']);
    expect(open).toMatchObject({ code: 3, err: expect.stringContaining('1 open question') });
    await lumbrik(folder, ['migration', 'answer', '--step', '1', '--cel', '6 / (entry.range - entry.range)']);
    expect(await lumbrik(folder, ['migration', 'sql', '--out', 'a.sql'])).toMatchObject({ code: 2 });
    expect(fs.readdirSync(folder).filter((name) => name.includes('a.sql'))).toEqual([]);
    const file = 'migrations/0001-add-floors.yaml';
    edit(folder, file, '6 / (entry.range - entry.range)', '3 * 2');
    const { out } = await lumbrik(folder, ['migration', 'sql', '--out', 'a.sql']);
    expect(out).toContain(
      'a.sql is written: SQL from revision 1 to the working files\n  migrations/0001-add-floors.yaml\n',
    );
    expect(read(folder, 'a.sql')).toMatch(/^-- The content of [\s\S]*commit;\n$/u);
    expect(await result(folder, ['migration', 'sql', '--out', 'b.sql'])).toMatchObject({
      entries: 72,
      tables: { kept: 1, made: 0, gone: 0 },
      lost: [],
      unreadable: 0,
    });
    write(folder, { 'content/lighthouse/torn.yaml': '{' });
    const torn = await lumbrik(folder, ['migration', 'sql']);
    expect([torn.code, torn.err]).toEqual([1, expect.stringContaining('1 file')]);
    fs.rmSync(path.join(folder, 'content/lighthouse/torn.yaml'));
    expect(await lumbrik(folder, ['migration', 'sql', '--out', 'a.sql'])).toMatchObject({ code: 3 });
    await lumbrik(folder, ['migration', 'rehearse']);
    await lumbrik(folder, ['migration', 'run']);
    expect(await lumbrik(folder, ['migration', 'sql'])).toMatchObject({ code: 3, out: '' });
  });
});
