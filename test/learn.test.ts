import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { gzipSync } from 'node:zlib';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { parse } from 'yaml';
import { usualFactKeys } from '../src/core/definition/builtIn.ts';
import { EntryStatistics } from '../src/core/learn/entryStatistics.ts';
import { learnModel } from '../src/core/learn/learnModel.ts';
import type { LearntModel } from '../src/core/learn/learntModel.ts';
import { isProven } from '../src/core/learn/proven.ts';
import type { JsonObject } from '../src/core/plain/json.ts';
import { copyOf } from './support/migrated.ts';
import {
  edit,
  type Files,
  lumbrik,
  plainEnv,
  program,
  read,
  result,
  root,
  snapshot,
  temporary,
  write,
} from './support/program.ts';
import { allStops, halfWritten } from './support/stops.ts';

const lines = (items: readonly unknown[]): string => items.map((item) => `${JSON.stringify(item)}\n`).join('');

/** The files of a folder, but for the name of the workspace, which is that of the folder. */
const unnamed = (folder: string): readonly (readonly [string, string])[] =>
  [...snapshot(folder)].map(([file, bytes]) => [
    file,
    Buffer.from(bytes, 'hex')
      .toString()
      .replace(/^workspace: .*/u, ''),
  ]);

/** A folder with some files, which is no workspace yet. */
const folderOf = (files: Files): string => {
  const folder = temporary();
  write(folder, files);
  return folder;
};

/** What was learnt of each field, in short: `integer`, `many reference → a | b`. */
const learnt = (all: any): Record<string, string> =>
  Object.fromEntries(
    all.types.flatMap(({ type, fields }: any) =>
      fields.map(({ field, says }: any) => [
        `${type}.${field}`,
        [
          says.many ? 'many' : '',
          says.kind,
          says.to ? `→ ${[says.to].flat().join(' | ')}` : '',
          says.taxonomy ? `of ${says.taxonomy}` : '',
          says.localized ? 'localized' : '',
          says.required ? '!' : '',
        ]
          .filter(Boolean)
          .join(' '),
      ]),
    ),
  );

describe('a model learnt from entries [K2]', () => {
  test('of the demo: kinds, references and languages as its architect drew them, and every entry obeys it', async () => {
    const folder = temporary();
    const demo = path.join(root, 'starters/lighthouses');
    for (const part of ['content', 'assets'])
      fs.cpSync(path.join(demo, part), path.join(folder, part), { recursive: true });
    fs.rmSync(path.join(folder, 'content/topic.terms.yaml'), { force: true });
    const all = await result(folder, ['learn']);
    expect(all).toMatchObject({ code: 0, languages: ['en', 'fr'], errors: 0, unreadable: 0, unfit: [], left: [] });
    expect(learnt(all)).toMatchObject({
      'departure.tour': 'reference → tour !',
      'departure.day': 'date !',
      'departure.guide': 'reference → keeper',
      'departure.places': 'integer !',
      'home.featured': 'many reference → lighthouse | tour | page',
      'keeper.slug': 'slug !',
      'lighthouse.name': 'text localized !',
      'lighthouse.height': 'decimal !',
      'lighthouse.position': 'point',
      'lighthouse.photos': 'many asset',
      'lighthouse.keepers': 'many reference → keeper',
      'lighthouse.visitable': 'boolean !',
      'notice.about': 'many reference → lighthouse | tour',
      'page.text': 'richText',
      'page.parts': 'many object !',
      'settings.office': 'email',
      'settings.hours.opens': 'time',
      'settings.colour': 'colour',
      'tour.lights': 'many reference → lighthouse !',
      'tour.text': 'markdown !',
    });
    expect(read(folder, 'model/types/keeper.yaml')).toContain(
      '  # 14 of 14 have one; it is the identifier of its entry; such as “ada-rook”; 14 of 14 entries have it from name.\n  slug: { kind: slug, from: name, required: true }\n',
    );
    expect((await lumbrik(folder, ['check'])).code).toBe(0);
    // The other side of a reference is called by the type that points there.
    const { inverses } = await result(folder, ['show', 'keeper']);
    expect(inverses.map(({ name, field }: any) => [name, field])).toEqual([
      ['departure', 'departure.guide'],
      ['lighthouse', 'lighthouse.keepers'],
      [undefined, 'page.text'],
    ]);
  });

  test('what entries have just where another field says so is under that condition', async () => {
    const arts = ['concert', 'talk', 'tour'];
    const event = (number: number) => ({
      id: `e${number}`,
      name: `Event ${number}`,
      art: arts[number % 3],
      free: number % 2 === 0,
      ...(number % 3 === 0 ? { orchestra: `O ${number}` } : {}),
      ...(number % 3 !== 1 ? { seats: 10 + number } : {}),
      ...(number % 2 === 1 ? { price: number } : {}),
      ...(number % 5 === 0 ? { note: `N ${number}` } : {}),
      // One of forty is otherwise.
      ...(number % 3 === 2 || number === 6 ? { guide: `G ${number}` } : {}),
    });
    const says = async (count: number, ...args: string[]) => {
      const folder = temporary();
      write(folder, {
        'content/event.ndjson': Array.from({ length: count }, (_, number) => `${JSON.stringify(event(number))}\n`).join(
          '',
        ),
      });
      const { types } = await result(folder, ['learn', ...args]);
      expect((await result(folder, ['check'])).mistakes).toEqual([]);
      return Object.fromEntries(types[0].fields.map(({ field, says: said }: any) => [field, said.when]));
    };
    const sure = {
      name: undefined,
      art: undefined,
      free: undefined,
      orchestra: 'entry.art == "concert"',
      seats: 'entry.art in ["concert", "tour"]',
      price: 'entry.free == false',
      note: undefined,
    };
    expect(await says(180)).toEqual({ ...sure, guide: 'entry.art == "tour"' });
    expect(await says(180, '--tolerate', '0')).toEqual({ ...sure, guide: undefined });
    // Of few entries nobody knows.
    expect(Object.values(await says(12)).filter((when) => when !== undefined)).toEqual([]);
  });

  test.each([
    ['in', 'entry["in"] == "bag"'],
    ['null', 'entry["null"] == "bag"'],
    ['true', 'entry["true"] == "bag"'],
    ['package', 'entry.package == "bag"'],
    ['blog-art', 'entry.blog_art == "bag"'],
  ])('a condition on a field that is called %s', async (name, when) => {
    const folder = temporary();
    const line = (number: number) =>
      JSON.stringify({
        id: `e${number}`,
        [name]: ['box', 'bag'][number % 2],
        ...(number % 2 ? { weight: number } : {}),
      });
    write(folder, { 'content/event.ndjson': Array.from({ length: 60 }, (_, number) => `${line(number)}\n`).join('') });
    const { types, errors } = await result(folder, ['learn']);
    expect([types[0].fields.find(({ field }: any) => field === 'weight').says.when, errors]).toEqual([when, 0]);
  });

  test('of keys that are called alike in expressions one gets another name', async () => {
    const folder = temporary();
    const line = (number: number) => JSON.stringify({ id: `e${number}`, name: `E ${number}`, 'a-b': 'x', a_b: number });
    write(folder, { 'content/event.ndjson': Array.from({ length: 60 }, (_, number) => `${line(number)}\n`).join('') });
    const { types, keys, errors } = await result(folder, ['learn']);
    expect([types[0].fields.map(({ field }: any) => field), keys, errors]).toEqual([
      ['name', 'a-b', 'aB'],
      [{ field: 'aB', key: 'a_b' }],
      0,
    ]);
  });

  test('the other side of references: one name for each, and none that is there already', async () => {
    const folder = temporary();
    write(folder, {
      ...Object.fromEntries(
        Array.from({ length: 12 }, (_, number) => [
          `content/person/p${number}.yaml`,
          `name: P ${number}\nboss: p${(number + 1) % 12}\nclub: c${(number + 1) % 12}\nhome-club: c${number % 12}\n`,
        ]),
      ),
      ...Object.fromEntries(
        Array.from({ length: 12 }, (_, number) => [
          `content/club/c${number}.yaml`,
          `name: C ${number}\nperson: [p${number}]\nhead: p${(number + 3) % 12}\nbackup: p${(number + 5) % 12}\n`,
        ]),
      ),
    });
    await result(folder, ['learn']);
    expect((await lumbrik(folder, ['check'])).code).toBe(0);
    const names = async (type: string) => (await result(folder, ['show', type])).inverses.map(({ name }: any) => name);
    expect((await names('person')).sort()).toEqual(['clubByBackup', 'clubByHead', 'clubByPerson', 'person']);
    expect(await names('club')).toEqual(['personByClub', 'personByHomeClub']);
  });

  test('the odd ones out are findings, and no reason for a loose model', async () => {
    const items = Array.from({ length: 200 }, (_, number) => ({
      id: `w${number}`,
      jahr: number === 7 ? 'alt' : 1900 + number,
      ...(number === 9 ? {} : { name: `Wein ${number}` }),
    }));
    const folder = folderOf({ 'content/wein.ndjson': lines(items) });
    const all = await result(folder, ['learn']);
    expect([learnt(all), all.errors, all.code]).toEqual([{ 'wein.jahr': 'integer !', 'wein.name': 'text !' }, 2, 1]);
    expect(all.summary).toMatchObject([{ example: expect.stringMatching(/wein\/w[79]/u) }, { count: 1 }]);
    const strict = folderOf({ 'content/wein.ndjson': lines(items) });
    const loose = await result(strict, ['learn', '--tolerate', '0']);
    expect([learnt(loose), loose.errors]).toEqual([{ 'wein.jahr': 'json !', 'wein.name': 'text' }, 0]);
  });

  test('choices, terms, codes, one or a list, and what differs by language', async () => {
    const folder = folderOf({
      'content/uhr.ndjson': lines(
        Array.from({ length: 120 }, (_, number) => ({
          id: `u${number}`,
          farbe: ['rot', 'blau', 'grün'][number % 3],
          tags: [`t${number % 20}`, `t${(number * 7) % 20}`],
          // Words that stand again are a vocabulary in lists, where alone they would be texts.
          themen: [`m${number % 75}`],
          thema: `m${number % 75}`,
          // One list of such words says that there may be several.
          art: number === 7 ? ['alt', 'neu'] : ['alt', 'neu', 'lang'][number % 3],
          nummer: `X-${number}`,
          name: { de: `Uhr ${number}`, fr: `Horloge ${number}` },
          teil: number % 2 ? 'Feder' : ['Feder', 'Rad'],
          wert: number / 4,
          gebaut: `18${10 + (number % 80)}-01-0${1 + (number % 9)}`,
        })),
      ),
    });
    const all = await result(folder, ['learn']);
    expect(learnt(all)).toEqual({
      'uhr.farbe': 'choice !',
      'uhr.tags': 'many term of tags !',
      'uhr.themen': 'many term of themen !',
      'uhr.thema': 'text !',
      'uhr.art': 'many term of art !',
      'uhr.nummer': 'text !',
      'uhr.name': 'text localized !',
      'uhr.teil': expect.stringMatching(/^many (term of teil|text) !$/u),
      'uhr.wert': 'decimal !',
      'uhr.gebaut': 'date !',
    });
    const { fields } = all.types[0];
    expect(fields.find((one: any) => one.field === 'teil').says.many).toEqual({ orOne: true });
    expect(fields.find((one: any) => one.field === 'nummer').says.unique).toBe(true);
    expect(fields.find((one: any) => one.field === 'farbe').says.choices).toEqual(['blau', 'grün', 'rot']);
    expect(all).toMatchObject({ errors: 0, warnings: 0, languages: ['de', 'fr'] });
    expect(read(folder, 'content/tags.terms.yaml')).toContain('taxonomy: tags\nterms:\n  - t0\n');
  });

  test('folders that are called as no type can be, and references of which there are very many', async () => {
    const folder = folderOf({
      'content/blog-posts/2024/erster.md': '---\ntitle: Eins\nautor: n7\n---\n\nText\n',
      'content/blog-posts/zweiter.yaml': 'title: Zwei\nautor: n8\n',
      'content/nutzer.ndjson': lines(
        Array.from({ length: 9000 }, (_, number) => ({ id: `n${number}`, freund: `n${(number * 7) % 9000}` })),
      ),
    });
    const all = await result(folder, ['learn']);
    expect(learnt(all)).toMatchObject({ 'nutzer.freund': 'reference → nutzer !', 'blogPosts.title': 'text' });
    expect(read(folder, 'lumbrik.yaml')).toContain('  - { folder: content/blog-posts, type: blogPosts }\n');
    expect(all).toMatchObject({ errors: 0, unfit: [] });
    // A new entry goes there, and one that becomes of another type says so.
    await lumbrik(folder, ['entry', 'new', 'blogPosts', '--title', 'Drei']);
    expect(fs.existsSync(path.join(folder, 'content/blog-posts/drei.md'))).toBe(true);
  });

  test('tables, lists and maps of JSON, each read where and as it is', async () => {
    const folder = folderOf({
      'content/weine.csv':
        'Nr;Name;Bio;Preis;Rebsorten;Preis (€)\n1;Kabinett;true;9.50;"Riesling; Silvaner";9\n2;Auslese;false;14;Riesling;14\n3;Sekt;true;8;"Riesling; Elbling";8\n',
      'content/winzer.json':
        '{ "mueller": { "name": "M", "beste": "1" }, "schmitt": { "name": "S", "beste": "2" }, "huber": { "name": "H", "beste": "1" } }',
      'content/liste.json': '[{ "code": "a", "n": 1 }, { "code": "b", "n": 2 }]',
      'content/rest.txt': 'x',
      'content/ohne.md': 'x',
    });
    const all = await result(folder, ['learn']);
    expect(learnt(all)).toMatchObject({
      'weine.Name': 'text !',
      'weine.Bio': 'boolean !',
      'weine.Preis': 'decimal !',
      'weine.Rebsorten': 'many text !',
      'winzer.beste': 'reference → weine !',
      'liste.n': 'integer',
    });
    expect(read(folder, 'lumbrik.yaml')).toContain(
      '  - { csv: content/weine.csv, separator: "; ", type: weine, keys: { id: Nr }, fields: { preis2: Preis (€) } }\n',
    );
    expect(read(folder, 'lumbrik.yaml')).toContain(
      '  - { json: content/liste.json, type: liste, keys: { id: code } }\n',
    );
    // What no field can be called has another name there, and is known to people by its own.
    expect(all.keys).toEqual([{ field: 'preis2', key: 'Preis (€)' }]);
    expect(read(folder, 'model/types/weine.yaml')).toContain(
      '  preis2: { label: Preis (€), kind: integer, required: true }',
    );
    expect(all.left).toEqual([
      { file: 'content/ohne.md', because: 'it lies in no folder that would tell its type' },
      { file: 'content/rest.txt', because: 'it is of no format that holds entries' },
    ]);
    expect(all.summary.map(({ finding, count }: any) => [finding, count])).toEqual([['unread-file', 2]]);
  });

  test('what only looks like what every entry has of itself is a field', async () => {
    const folder = folderOf({
      'content/ding.ndjson': lines([
        { id: 'a', type: 'Blog Post', status: 'active', created: 'Spring' },
        { id: 'b', type: 'Page', status: 'gone', created: 'Autumn' },
        { id: 'c', type: 'Page', status: 'gone', created: 'Autumn' },
      ]),
    });
    const all = await result(folder, ['learn']);
    expect(learnt(all)).toEqual({ 'ding.type': 'text !', 'ding.status': 'text !', 'ding.created': 'text !' });
    expect(read(folder, 'lumbrik.yaml')).toContain('builtIn: { type: false, status: false, created: false }\n');
    expect(all.errors).toBe(0);
  });

  describe('what it makes of objects and numbers', () => {
    const says = async (entries: readonly object[], ...args: readonly string[]) => {
      const folder = folderOf({ 'content/land.ndjson': lines(entries) });
      const all = await result(folder, ['learn', ...args]);
      const { titled, fields } = all.types[0];
      return { all, titled, fields: Object.fromEntries(fields.map((one: any) => [one.field, one.says])) };
    };
    const land = (at: number) => ({
      id: `l${at}`,
      code: `c${at}`,
      name: { common: `Land ${at}`, official: `The land ${at}` },
      called: { eng: { f: 'a', m: `b${at}` }, fra: { f: `c${at}`, m: 'd' } },
      offices: {
        north: { street: 'a', town: `b${at}` },
        south: { street: 'c', town: 'd' },
        west: { street: 'e', town: 'f' },
      },
      home: { street: 'a', town: 'b' },
      of: { street: 'a', since: 1900 + at },
      area: at === 7 ? 2.5 : 100 + at,
      people: 1000 + at,
      under: at === 0 ? undefined : `l${Math.floor(at / 2)}`,
    });

    test('the same objects under each key are a map, and a name may stand inside one', async () => {
      const { titled, fields } = await says(Array.from({ length: 60 }, (_, at) => land(at)));
      expect(titled).toBe('name.common');
      const object = (...names: string[]) => ({
        kind: 'object',
        fields: Object.fromEntries(names.map((name) => [name, expect.objectContaining({ required: true })])),
      });
      const keys = { kind: 'text' };
      expect(fields.called).toEqual({ kind: 'map', keys, value: object('f', 'm'), required: true });
      expect(fields.offices).toEqual({ kind: 'map', keys, value: object('street', 'town'), required: true });
      expect([fields.home.kind, fields.of.kind]).toEqual(['object', 'object']);
    });

    test('one number with a fraction says that there may be more, and what leads to its own type ends somewhere', async () => {
      const entries = Array.from({ length: 60 }, (_, at) => land(at));
      const { all, fields } = await says(entries);
      expect([fields.area.kind, fields.people.kind]).toEqual(['decimal', 'integer']);
      expect([fields.under.to, fields.under.required]).toEqual(['land', undefined]);
      expect(all.errors).toBe(0);
      expect(all.questions.map(({ address, asks }: any) => [address, asks])).toEqual(
        expect.arrayContaining([
          ['land.area', 'Is the one that is not whole a mistake?'],
          ['land.under', '1 of 60 have none: must every one have one?'],
        ]),
      );
      const said = await says(entries, '--as', 'land.area=integer', '--as', 'land.under=required');
      expect([said.fields.area.kind, said.fields.under.required, said.all.errors]).toEqual(['integer', true, 2]);
    });
  });

  describe('a key `type` beside which stands the same in all entries', () => {
    const plant = (id: number) => ({
      id: `p${id}`,
      type: id % 3 === 0 ? 'wild' : 'grown',
      bed: id % 4 === 0 ? 'north' : 'south',
    });
    const plants = Array.from({ length: 36 }, (_, id) => plant(id));
    const types = async (entries: readonly object[], ...args: readonly string[]) => {
      const folder = folderOf({ 'content/plant.ndjson': lines(entries) });
      const all = await result(folder, ['learn', ...args]);
      expect(all.errors).toBe(0);
      return {
        types: all.types.map(({ type }: { type: string }) => type),
        alike: all.alikeTypes,
        says: /builtIn: .*/u.exec(read(folder, 'lumbrik.yaml'))?.[0],
      };
    };

    test('is a field, and that is said', async () => {
      const field = { types: ['plant'], alike: ['wild', 'grown'], says: 'builtIn: { type: false }' };
      expect(await types(plants)).toEqual(field);
      const { out } = await lumbrik(folderOf({ 'content/plant.ndjson': lines(plants) }), ['learn', '--no-ask']);
      expect(out.replace(/\s+/gu, ' ')).toContain(
        '`type` is a field here: entries with wild and grown have the same keys. Where these are types, take what was written away, and learn anew with --type type.',
      );
    });

    test('is what a person says it is', async () => {
      expect(await types(plants, '--type', 'type')).toEqual({ types: ['wild', 'grown'], alike: [], says: undefined });
      expect(await types(plants, '--no-type')).toMatchObject({ types: ['plant'], alike: [] });
      expect(await types(plants, '--type', 'bed')).toEqual({
        types: ['north', 'south'],
        alike: [],
        says: 'builtIn: { type: bed }',
      });
    });

    test('names types where a key belongs to some of them, and where entries are too few to tell', async () => {
      const named = plants.map((one) => (one.type === 'wild' ? { ...one, found: 'by the sea' } : one));
      expect(await types(named)).toEqual({ types: ['wild', 'grown'], alike: [], says: undefined });
      expect((await types(plants.slice(0, 12))).types).toEqual(['wild', 'grown']);
    });

    test('names types where each has a file of its own', async () => {
      const of = (type: string) => lines(plants.filter((one) => one.type === type));
      const folder = folderOf({ 'content/a.ndjson': of('wild'), 'content/b.ndjson': of('grown') });
      const all = await result(folder, ['learn']);
      expect([all.types.map(({ type }: any) => type).sort(), all.alikeTypes]).toEqual([['grown', 'wild'], []]);
    });

    test.each(['id', 'type'])('a key that no entry has is no --%s', async (option) => {
      const folder = folderOf({ 'content/plant.ndjson': lines(plants) });
      const { code, err } = await lumbrik(folder, ['learn', `--${option}`, 'bad']);
      expect([code, err]).toEqual([
        2,
        `✗ --${option} bad: no entry has a key that is called so\n  Did you mean \`bed\`?\n`,
      ]);
    });
  });

  test('what was copied for nothing does not stay, and the next try finds no trace of it', async () => {
    const folder = temporary();
    write(folder, { 'export/post.ndjson': '{"a":1}\n{"a":1}\n' });
    const call = ['learn', 'export/post.ndjson', '--out', 'blog', '--copy'];
    const refused = await lumbrik(folder, call);
    expect([refused.code, refused.err]).toEqual([2, expect.stringContaining('Nothing tells the entries')]);
    expect(fs.existsSync(path.join(folder, 'blog/content/post.ndjson'))).toBe(false);
    write(folder, { 'export/post.ndjson': '{"id":"a","a":1}\n{"id":"b","a":1}\n' });
    expect((await lumbrik(folder, call)).code).toBe(0);
  });

  test.each([
    ['entries that lie there', { 'content/post.ndjson': lines([{ id: 'a', tags: ['x', 'y'] }]) }, ['learn']],
    [
      'entries that are copied',
      { 'export/a.yaml': 'title: A\n', 'export/b.yaml': 'title: B\n' },
      ['learn', 'export', '--copy', '--type', 'post'],
    ],
    [
      'a schema',
      { 's.json': '{"title":"post","properties":{"a":{"type":"string"}}}' },
      ['learn', '--schema', 's.json'],
    ],
  ])(
    'of %s is done whole or not at all, and can be repeated after a stop at any change of the disk [A5]',
    async (_what, files, call) => {
      const start = folderOf(files);
      const finished = copyOf(start);
      expect((await lumbrik(finished, call)).code).toBe(0);
      await allStops(start, call, async (folder, stopAt) => {
        // Whatever stopped call left, no other command takes it for more than it is.
        const before = await lumbrik(folder, ['check']);
        expect([stopAt, [0, 2].includes(before.code ?? 70)]).toEqual([stopAt, true]);
        const { code, out, err } = await lumbrik(folder, call);
        const isDone = err.includes('is a workspace already');
        expect([stopAt, code === 0 || isDone, out + err]).toEqual([stopAt, true, expect.anything()]);
        expect([stopAt, unnamed(folder)]).toEqual([stopAt, unnamed(finished)]);
        expect([stopAt, halfWritten(folder)]).toEqual([stopAt, []]);
      });
    },
  );

  test('a copy that is there already is used where it is the same, and refused where it is not', async () => {
    const folder = folderOf({ 'export/a.yaml': 'title: A\n', 'content/export/a.yaml': 'title: A\n' });
    expect((await lumbrik(folder, ['learn', 'export', '--copy'])).code).toBe(0);
    const other = folderOf({ 'export/a.yaml': 'title: A\n', 'content/export/a.yaml': 'title: B\n' });
    const { code, err } = await lumbrik(other, ['learn', 'export', '--copy']);
    expect([code, err]).toEqual([3, expect.stringContaining('it is not what export holds')]);
    expect(read(other, 'content/export/a.yaml')).toBe('title: B\n');
  });

  test('terms that lie among the entries without their taxonomy make one; with a mistake they are named', async () => {
    const files = {
      'content/topic.terms.yaml': 'taxonomy: topic\nterms: [birds]\n',
      'content/post/a.yaml': 'title: A\n',
    };
    const folder = folderOf(files);
    expect((await result(folder, ['learn'])).taxonomies).toMatchObject([{ name: 'topic' }]);
    expect(read(folder, 'content/topic.terms.yaml')).toBe(files['content/topic.terms.yaml']);
    expect(await result(folder, ['check'])).toMatchObject({ code: 0, taxonomies: 1 });
    const broken = folderOf({ ...files, 'content/topic.terms.yaml': 'terms: [birds]\n' });
    const { code, error } = await result(broken, ['learn']);
    expect([code, error.code, error.where.file]).toEqual([2, 'unusable-terms', 'content/topic.terms.yaml']);
    expect(fs.existsSync(path.join(broken, 'model'))).toBe(false);
  });

  test('from elsewhere only where copying is asked for', async () => {
    const folder = folderOf({ 'export/post.ndjson': lines([{ id: 'a', title: 'A' }]) });
    const refused = await lumbrik(folder, ['learn', 'export/post.ndjson', '--out', 'blog']);
    expect([refused.code, refused.err]).toEqual([2, expect.stringContaining('let it be copied: --copy')]);
    expect(fs.existsSync(path.join(folder, 'blog'))).toBe(false);
    expect((await lumbrik(folder, ['learn', 'export/post.ndjson', '--out', 'blog', '--copy'])).code).toBe(0);
    expect(read(folder, 'blog/content/post.ndjson')).toBe(read(folder, 'export/post.ndjson'));
    expect((await lumbrik(path.join(folder, 'blog'), ['check'])).code).toBe(0);
  });

  test.each<[string, Record<string, string>, readonly string[], number, string]>([
    [
      'a workspace already',
      { 'lumbrik.yaml': 'workspace: W\n', 'content/a.ndjson': '{"id":"a"}\n' },
      [],
      3,
      'is a workspace already',
    ],
    ['a model already', { 'model/x.yaml': '', 'content/a.ndjson': '{"id":"a"}\n' }, [], 3, 'there is a folder model'],
    ['nothing to learn from', {}, [], 2, 'there are no entries to learn from'],
    ['a source that is not there', {}, ['content/x'], 2, 'there is no file and no folder content/x'],
    [
      'nothing that tells entries apart',
      { 'content/a.ndjson': '{"n":[]}\n{"n":[]}\n' },
      [],
      2,
      'nothing tells the entries of content/a.ndjson apart',
    ],
    ['no share', { 'content/a.ndjson': '{"id":"a"}\n' }, ['--tolerate', 'much'], 2, 'is no share of values'],
  ])('%s is told, and nothing is written', async (_, files, args, code, told) => {
    const folder = folderOf(files);
    const before = fs.readdirSync(folder, { recursive: true }).sort();
    const ran = await lumbrik(folder, ['learn', ...args]);
    expect([ran.code, ran.err.toLowerCase()]).toEqual([code, expect.stringContaining(told.toLowerCase())]);
    expect(fs.readdirSync(folder, { recursive: true }).sort()).toEqual(before);
  });

  test('fields that recur are a kit, as loose as all of its types need it, and each asks for what it asks for', async () => {
    const linesOf = (make: (number: number) => object): string =>
      Array.from({ length: 30 }, (_, number) => `${JSON.stringify({ id: `x-${number}`, ...make(number) })}\n`).join('');
    const seo = (number: number) => ({
      'seo-title': `About ${number} ${'and so on '.repeat(number % 3)}`,
      ...(number % 3 === 0 ? {} : { 'seo-description': 'What it is.'.repeat(1 + (number % 4)) }),
      'seo-of': `talk/x-${number}`,
    });
    const place = (number: number) => ({ street: `Way ${number}`, number, town: `T ${number}`, in: number % 2 === 0 });
    const folder = temporary();
    write(folder, {
      'content/talk.ndjson': linesOf((number) => ({ title: `Talk ${number}`, ...seo(number), ...place(number) })),
      'content/show.ndjson': linesOf((number) => ({
        title: `Show ${number}`,
        ...seo(number + 2),
        ...place(number * 40),
      })),
      'content/note.ndjson': linesOf((number) => ({
        title: `Note ${number}`,
        ...(number === 4 ? {} : { 'seo-title': 'x'.repeat(200) }),
        'seo-description': 'y',
        number: `no. ${number}`,
      })),
      // What has few of them leaves the kit as it is.
      'content/stop.ndjson': linesOf((number) => ({ title: `Stop ${number}`, street: 'Way', number })),
    });
    const told = await result(folder, ['learn']);
    expect([told.code, told.errors, told.kits]).toEqual([
      0,
      0,
      [
        { kit: 'seo', fields: ['seo-title', 'seo-description'], types: ['note', 'show', 'talk'] },
        { kit: 'street', fields: ['street', 'number', 'town', 'in'], types: ['show', 'talk'] },
      ],
    ]);
    const kit = parse(read(folder, 'model/kits/seo.yaml'));
    expect(kit).toEqual({
      kit: 'seo',
      fields: { 'seo-title': expect.objectContaining({ max: 300 }), 'seo-description': expect.anything() },
    });
    expect(Object.values(kit.fields).every((field: any) => field.required === undefined)).toBe(true);
    // Narrower where a type has it always, and nothing of what the kit says already.
    const talk = parse(read(folder, 'model/types/talk.yaml'));
    expect([talk.kits, talk.fields['seo-title'], Object.keys(talk.fields)]).toEqual([
      ['seo', 'street'],
      { required: true },
      ['title', 'seo-title', 'seo-of'],
    ]);
    expect((await result(folder, ['show', 'talk.street'])).field.kit ?? 'street').toBe('street');
    expect(await result(folder, ['check'])).toMatchObject({ code: 0, entries: 120, findings: [] });
  });

  // Each was found by random entries.
  test.each<readonly [string, readonly object[]]>([
    ['objects without a key in lists', [{ a: { de: [{}] }, b: [{}, {}] }]],
    ['languages inside languages', [{ a: { de: { de: 'rot' } } }]],
    ['no latitude, or none at all', [{ a: { lat: 90.5, lon: 0 }, b: { lat: 0, lon: null } }, {}]],
    [
      'identifiers of their own in lists, objects and maps',
      [{}, { a: ['w1'], b: { c: 'w1' }, d: { 'x y': 'w1' } }, {}],
    ],
    ['maps by language', [{ a: { de: { 'x y': 1 }, fr: { 'z!': 2 } } }]],
  ])('%s give a model that is one, and that they obey', async (_what, entries) => {
    const folder = folderOf({ 'content/ding.ndjson': lines(entries.map((one, at) => ({ ...one, id: `w${at}` }))) });
    expect(await result(folder, ['learn', '--tolerate', '0'])).toMatchObject({ code: 0, errors: 0 });
    expect(await result(folder, ['check'])).toMatchObject({ code: 0, findings: [], mistakes: [] });
  });

  test('whatever things are called, the model has no mistake', async () => {
    // Names of devices, names that differ by large and small letters alone, and names that types, kits and taxonomies could share.
    const name = fc.constantFrom('con', 'aux', 'topic', 'toPic', 'tag', 'share', 'post', 'poSt', 'lpt1', 'type', 'id');
    const word = fc.constantFrom('red', 'blue', 'green');
    const entry = fc.dictionary(
      fc.oneof(
        name,
        fc.constantFrom('shareTitle', 'shareText', 'sharePicture', 'topicTitle', 'topicText', 'conName', 'conTitle'),
      ),
      fc.oneof(word, fc.array(word, { maxLength: 3 })),
      { maxKeys: 7 },
    );
    const types = fc.uniqueArray(name, { minLength: 1, maxLength: 4 });
    await fc.assert(
      fc.asyncProperty(types, fc.array(entry, { minLength: 1, maxLength: 12 }), async (named, entries) => {
        const files = named.map((type): readonly [string, string] => [
          `content/${type}.ndjson`,
          lines([...entries, ...entries].map((values, at) => ({ ...values, id: `${type}${at}` }))),
        ]);
        const folder = folderOf(Object.fromEntries(files));
        const { code, error } = await result(folder, ['learn']);
        if (code !== 0) expect([code, error?.code]).not.toContain('fault');
        else expect((await result(folder, ['check'])).mistakes).toEqual([]);
        fs.rmSync(folder, { recursive: true });
      }),
      { numRuns: Number(process.env.RUNS ?? 60) },
    );
  });

  test('whatever the entries are, all of them obey a model that tolerates none odd', async () => {
    const word = fc.stringMatching(/^[a-z]{1,8}$/u);
    const value = fc.letrec((tie) => ({
      any: fc.oneof(
        { depthSize: 'small' },
        fc.constantFrom(
          'rot',
          'blau',
          '2026-01-01',
          '10:30',
          'PT1H',
          'a@b.example',
          '#aabbcc',
          'w1',
          'ding/w1',
          'x\ny',
          '# T\n\n**b**',
        ),
        fc.string({ maxLength: 12 }),
        fc.integer(),
        fc.double({ noNaN: true, noDefaultInfinity: true }),
        fc.boolean(),
        fc.constant(null),
        fc.array(tie('any'), { maxLength: 3 }),
        fc.dictionary(
          fc.constantFrom('de', 'fr', 'lat', 'lon', 'file', 'alt', 'type', 'children', 'a-b', 'x y'),
          tie('any'),
          { maxKeys: 3 },
        ),
      ),
    })).any;
    const entry = fc.dictionary(word, value, { maxKeys: 5 });
    await fc.assert(
      fc.asyncProperty(fc.array(entry, { minLength: 1, maxLength: 25 }), async (entries) => {
        const items = entries.map((one, number) => ({ ...one, id: `w${number}` }));
        // Of two types that have the same, what they have in common is kept once.
        const half = items.filter((_, number) => number % 2 === 0);
        const folder = folderOf({
          'content/ding.ndjson': lines(items),
          ...(entries.length > 8 ? { 'content/sache.ndjson': lines(half) } : {}),
        });
        const all = await result(folder, ['learn', '--tolerate', '0']);
        const { findings, mistakes } = await result(folder, ['check']);
        expect([mistakes, findings.filter(({ severity }: any) => severity === 'error')]).toEqual([[], []]);
        expect(all.errors).toBe(0);
        fs.rmSync(folder, { recursive: true });
        // Whatever else may be answered is a model as well.
        if (all.questions.length === 0) return;
        const said = all.questions.flatMap(({ address, answers }: any) => ['--as', `${address}=${answers.at(-1).as}`]);
        const other = folderOf({
          'content/ding.ndjson': lines(items),
          ...(entries.length > 8 ? { 'content/sache.ndjson': lines(half) } : {}),
        });
        const again = await result(other, ['learn', '--tolerate', '0', ...said]);
        for (const { address, about, answers } of all.questions)
          if (about === 'kind') expect(learnt(again)[address]).toContain(answers.at(-1).as);
        expect((await result(other, ['check'])).mistakes).toEqual([]);
        fs.rmSync(other, { recursive: true });
      }),
      { numRuns: Number(process.env.RUNS ?? 60) },
    );
  });
});

describe('what was counted can prove that all entries obey the model, and then no check looks at them again [K2]', () => {
  /** An entry of which each value is of one plain kind; its number decides which. */
  const plain = (number: number, all: number) => ({
    id: `w${number}`,
    title: `Werk ${number} ${'x'.repeat(number % 5)}`,
    key: `k-${number}`,
    pages: number,
    weight: number / 4,
    isNew: number % 2 === 0,
    day: `2026-0${1 + (number % 9)}-11`,
    form: ['bild', 'text', 'ton'][number % 3],
    after: `w${(number * 7) % all}`,
    marks: ['rot', 'blau', 'gelb'].slice(0, 1 + (number % 3)),
    size: { width: number, unit: ['cm', 'mm'][number % 2] },
    ...(number % 4 ? { note: 'Zwei\nZeilen' } : {}),
  });
  const odd = [
    ...([
      null,
      '',
      [],
      {},
      [null],
      [''],
      'x\ny',
      'x\u2028y',
      '<fill in: x>',
      'w999',
      'ding/w1',
      'Bild',
      ' w1',
      '2026-02-30',
    ] as const),
    ...([1.5, -3, true, '12', ['bild'], [['bild']], { width: 1 }, { width: 'x', 'a b': 1 }, 'x'.repeat(250)] as const),
  ];

  test('it is told what a check tells, whatever is odd in the entries', async () => {
    const keys = [...Object.keys(plain(1, 1)), 'status', 'created', 'publicFrom', 'new', 'type', '$schema'];
    const disturbance = fc.record({
      at: fc.nat(),
      key: fc.constantFrom(...keys),
      value: fc.oneof(
        fc.constantFrom<unknown>(...odd, 'published', 'draft', '2026-01-01'),
        fc.string({ maxLength: 6 }),
      ),
    });
    const toAll = fc.option(fc.constantFrom<unknown>('published', 'draft', 'x', 4, null), { nil: undefined });
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 1, max: 60 }),
        fc.array(disturbance, { maxLength: 2 }),
        toAll,
        fc.constantFrom('0', '2%'),
        async (count, disturbances, status, tolerated) => {
          const entries: Record<string, unknown>[] = Array.from({ length: count }, (_, number) => ({
            ...plain(number, count),
            ...(status === undefined ? {} : { status }),
          }));
          for (const { at, key, value } of disturbances) Object.assign(entries[at % count] ?? {}, { [key]: value });
          const folder = folderOf({ 'content/ding.ndjson': lines(entries) });
          const run = await lumbrik(folder, ['learn', '--tolerate', tolerated, '--format', 'json']);
          // Of a single one its identifier may be none.
          if (run.code !== 0 && run.code !== 1) return;
          const { errors, warnings } = JSON.parse(run.out);
          const { findings, mistakes } = await result(folder, ['check']);
          const counted = (severity: string) => findings.filter((one: any) => one.severity === severity).length;
          expect({ mistakes, errors, warnings }).toEqual({
            mistakes: [],
            errors: counted('error'),
            warnings: counted('warning'),
          });
          fs.rmSync(folder, { recursive: true });
        },
      ),
      { numRuns: Number(process.env.RUNS ?? 60) },
    );
  });

  const provenOf = (entries: readonly Record<string, unknown>[]): boolean => {
    const seen = new EntryStatistics();
    for (const { id, ...values } of entries)
      seen.see({ type: 'ding', id: String(id), values: values as JsonObject }, false);
    return isProven(learnModel(seen, 0.02, { factKeys: usualFactKeys, isAsset: () => false }), seen, usualFactKeys);
  };
  const many = Array.from({ length: 1500 }, (_, number) => plain(number, 1500));

  test('of plain entries it does; of those with one that is odd, or twice there, it does not', () => {
    expect(provenOf(many.slice(0, 40))).toBe(true);
    expect(provenOf(many)).toBe(true);
    expect(provenOf([...many, { ...plain(1500, 1500), after: 'w9999' }])).toBe(false);
    expect(provenOf([...many, { ...plain(1500, 1500), day: 'Mai' }])).toBe(false);
    expect(provenOf([...many, { ...plain(1500, 1500), form: ['bild'] }])).toBe(false);
    expect(provenOf([...many, { ...plain(1500, 1500), title: '<fill in: a title>' }])).toBe(false);
    expect(provenOf([...many, { ...plain(1500, 1500), id: 'w7' }])).toBe(false);
    expect(provenOf([...many, { ...plain(1500, 1500), status: 'draft' }])).toBe(false);
  });

  test('what was seen in parts is what was seen at once', () => {
    const whole = new EntryStatistics();
    const parts = Array.from({ length: 7 }, () => new EntryStatistics());
    for (const [number, { id, ...values }] of many.entries())
      for (const seen of [whole, parts[Math.floor(number / 215)]])
        seen?.see({ type: 'ding', id, values: values as JsonObject }, false);
    const joined = new EntryStatistics();
    for (const part of parts) joined.take(structuredClone(part.gathered()));
    const [one, other] = [whole, joined].map((seen) =>
      learnModel(seen, 0.02, { factKeys: usualFactKeys, isAsset: () => false }),
    );
    expect(other).toEqual(one);
    expect(isProven(other as LearntModel, joined, usualFactKeys)).toBe(true);
  });
});

describe('tables as people have them [K2]', () => {
  const learntFrom = async (files: Files, ...args: string[]) => {
    const folder = folderOf(files);
    return { folder, all: await result(folder, ['learn', ...args]) };
  };
  const evidence = (all: any, name: string): string =>
    all.types[0].fields.find(({ field }: any) => field === name).evidence;

  test.each([
    ['1,Ann,3\n2,Bob,4\n', '1'],
    ['a,2026-01-02\nb,2026-01-03\n', '2026-01-02'],
    ['a,a@b.example\nb,c@d.example\n', 'a@b.example'],
    ['"1.234,5",b\n"2.000,1",c\n', '1.234,5'],
  ])('one whose first row is none of names is told: %j', async (text, cell) => {
    const { all, folder } = await learntFrom({ 'content/p.csv': text });
    expect(all.error.also.join()).toContain(`content/p.csv: its first row names no columns: “${cell}” is a value`);
    expect(fs.readdirSync(folder)).toEqual(['content']);
  });

  test.each([
    ['land,2019,2020\nA,1,2\nB,3,4\n', ['field2020', 'field2019'], 'land'],
    ['Frage,1,2,3\nA,1,2,3\nB,4,5,6\n', ['field1', 'field2', 'field3'], 'Frage'],
    ['paid,Artist ID,Name\n1,a,Ann\n2,b,Bob\n', ['paid', 'Name'], 'Artist ID'],
    ['paid,artistID\n1,a\n2,b\n', ['paid'], 'artistID'],
    ['Name , Nr. \nAnn,1\nAnn,2\n', ['Name'], 'Nr.'],
  ])('years and numbers in a row are names, and what tells rows apart is found: %j', async (text, fields, id) => {
    const { all, folder } = await learntFrom({ 'content/p.csv': text });
    expect(all.types[0].fields.map(({ field }: any) => field).sort()).toEqual(fields.toSorted());
    expect(read(folder, 'lumbrik.yaml')).toContain(`keys: { id: ${id} }`);
    expect(all.errors).toBe(0);
  });

  test('in other encodings: said, and read as is said', async () => {
    const files = { 'content/p.csv': 'id,name\n1,Anna\n2,Bert\n', 'content/q.csv': '' };
    const folder = folderOf(files);
    fs.writeFileSync(path.join(folder, 'content/q.csv'), Buffer.from('id,name\n1,Gr\xfc\xdfe\n2,B\n', 'latin1'));
    const first = await result(folder, ['learn']);
    expect(first.left).toEqual([
      { file: 'content/q.csv', because: 'it is not in UTF-8; say what it is in: --encoding windows-1252' },
    ]);
    for (const made of ['model', 'lumbrik.yaml']) fs.rmSync(path.join(folder, made), { recursive: true });
    const all = await result(folder, ['learn', '--encoding', 'windows-1252']);
    expect([all.left, all.errors, all.warnings]).toEqual([[], 0, 0]);
    expect(read(folder, 'lumbrik.yaml')).toContain('{ csv: content/p.csv, type: p }');
    expect(read(folder, 'lumbrik.yaml')).toContain('{ csv: content/q.csv, encoding: windows-1252, type: q }');
    expect((await result(folder, ['list', 'q'])).rows[0].values.name).toBe('Grüße');
    const utf16 = folderOf({});
    write(utf16, { 'content/p.csv': '' });
    fs.writeFileSync(path.join(utf16, 'content/p.csv'), Buffer.from('\ufeffid,name\n1,A\n', 'utf16le'));
    expect((await result(utf16, ['learn'])).error.also.join()).toContain('it is in UTF-16');
  });

  test('numbers with separators and dates in other forms are said, never taken for others', async () => {
    const { all } = await learntFrom({
      'content/p.csv':
        'id;price;size;weight;when\n1;1.234,50;3,5;1.234;2.1.2026\n2;2.000,00;4,5;2.345;02.01.2026\n3;7,00;1,5;3.000;01/02/26\n',
    });
    expect(learnt(all)).toEqual({
      'p.price': 'text !',
      'p.size': 'text !',
      'p.weight': 'decimal !',
      'p.when': 'text !',
    });
    expect(evidence(all, 'price')).toContain('3 look like numbers, which are written 1234.5 here');
    expect(evidence(all, 'size')).toContain('3 look like numbers');
    expect(evidence(all, 'when')).toContain('3 look like dates, which are written 2026-03-01 here');
    expect(all.questions.map(({ address, asks }: any) => [address, asks])).toEqual([
      ['p.weight', 'Does the point part thousands there, so that they are no such numbers?'],
    ]);
  });

  test('identifiers that clash are told, and found where they are said', async () => {
    const files = {
      'content/p.ndjson': lines([
        { id: 'a', n: 1 },
        { id: 'a', n: 1 },
        { id: 'b', n: 2 },
      ]),
    };
    const { all, folder } = await learntFrom(files);
    expect(all.error).toMatchObject({ code: 'no-identifier', says: expect.stringContaining('`id` is “a” in several') });
    expect((await result(folder, ['learn', '--id', 'id'])).summary).toMatchObject([
      { finding: 'duplicate-entry', count: 1 },
    ]);
  });
});

describe('an export in one file [K2]', () => {
  test('of compressed lines is read by the key that tells its entries apart', async () => {
    const zipped = gzipSync(
      lines(Array.from({ length: 3000 }, (_, at) => ({ code: `c${at}`, 'Full name': `N ${at}` }))),
    );
    const folder = folderOf({ 'content/p.ndjson.gz': zipped });
    expect(await result(folder, ['learn'])).toMatchObject({ errors: 0, unreadable: 0, types: [{ entries: 3000 }] });
    expect(read(folder, 'lumbrik.yaml')).toContain('type: p, keys: { id: code }, fields: { fullName: Full name } }');
    const broken = folderOf({ 'content/p.ndjson.gz': zipped.subarray(5), 'content/q.ndjson.gz': gzipSync('') });
    const { error } = await result(broken, ['learn']);
    expect(error.also).toEqual([
      'content/p.ndjson.gz: it cannot be unpacked as gzip',
      'content/q.ndjson.gz: none of its lines is an object of JSON',
    ]);
  });

  const posts = Array.from({ length: 12 }, (_, at) => ({
    id: `p${at}`,
    title: `Post ${at}`,
    by: `a${at % 3}`,
    'Main text': `Text ${at}`,
  }));
  const authors = [0, 1, 2].map((at) => ({ id: `a${at}`, name: `Ann ${at}` }));

  test('has a list for each type: read, migrated and taken back where they are, all in one file', async () => {
    const before = `${JSON.stringify({ version: 2, data: { note: 'x', posts, authors }, end: true }, undefined, 1)}\n`;
    const folder = folderOf({ 'content/export.json': before });
    const all = await result(folder, ['learn']);
    expect(learnt(all)).toEqual({
      'posts.title': 'text !',
      'posts.by': 'reference → authors !',
      'posts.mainText': 'text !',
      'authors.name': 'text !',
    });
    expect(all).toMatchObject({
      errors: 0,
      warnings: 0,
      left: [
        {
          file: 'content/export.json',
          keys: ['version', 'data.note', 'end'],
          because: 'entries are in data.posts and data.authors',
        },
      ],
    });
    // What is remembered of one list is not taken for the other.
    for (let time = 0; time < 2; time += 1) {
      expect(await result(folder, ['check'])).toMatchObject({ ok: true, entries: 15, findings: [] });
      fs.utimesSync(path.join(folder, 'content/export.json'), 1e9, 1e9);
    }
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/posts.yaml', /^ {2}title:/mu, '  heading:');
    edit(folder, 'model/types/posts.yaml', 'titled: title', 'titled: heading');
    edit(folder, 'model/types/authors.yaml', /^ {2}name:/mu, '  calledSo:');
    edit(folder, 'model/types/authors.yaml', 'titled: name', 'titled: calledSo');
    const renamed = ['--renamed', 'posts.title=heading', '--renamed', 'authors.name=calledSo'];
    await lumbrik(folder, ['migration', 'draft', ...renamed]);
    await lumbrik(folder, ['migration', 'rehearse']);
    expect((await result(folder, ['migration', 'run'])).error).toBeUndefined();
    expect(read(folder, 'content/export.json')).toBe(
      before.replaceAll('"title"', '"heading"').replaceAll('"name"', '"calledSo"'),
    );
    expect(await result(folder, ['check'])).toMatchObject({ ok: true, findings: [] });
    await lumbrik(folder, ['migration', 'undo']);
    expect(read(folder, 'content/export.json')).toBe(before);
  });

  test.each([
    ['one list under a key', { authors }, '{ json: content/x.json, at: authors, type: authors }'],
    ['a list under a key that says nothing', { data: authors }, '{ json: content/x.json, at: data, type: x }'],
    [
      'a map under a key',
      { byId: { a: authors[0], b: authors[1], c: authors[2] } },
      '{ json: content/x.json, at: byId, type: byId }',
    ],
    ['a map whose entries hold lists', { a: { n: 1, of: posts }, b: { n: 2 } }, '{ json: content/x.json, type: x }'],
    ['a map of one', { a: { n: 1 } }, '{ json: content/x.json, type: x }'],
    [
      'maps side by side',
      { p: { a: { n: 1 }, b: { n: 2 }, c: { n: 3 } }, q: { d: { m: 1 }, e: { m: 2 }, f: { m: 1 } } },
      '{ json: content/x.json, at: p, type: p }\n  - { json: content/x.json, at: q, type: q }',
    ],
  ])('%s', async (_what, data, says) => {
    const folder = folderOf({ 'content/x.json': JSON.stringify(data) });
    expect(await result(folder, ['learn'])).toMatchObject({ errors: 0, left: [] });
    expect(read(folder, 'lumbrik.yaml')).toContain(`content:\n  - ${says}\n`);
  });

  test('of more megabytes than are read is told with what to do; and read where that is said', async () => {
    const row = (at: number): object => ({ id: `p${at}`, text: 'x'.repeat(60_000) });
    const folder = folderOf({ 'content/x.json': JSON.stringify(Array.from({ length: 600 }, (_, at) => row(at))) });
    expect((await result(folder, ['learn'])).error.also.join()).toContain(
      'content/x.json: it has 35 megabytes, more than the 32 that are read: let it be larger (--file-megabytes)',
    );
    expect((await lumbrik(folder, ['learn', '--file-megabytes', '2000'])).err).toContain('is more than files may have');
    expect(await result(folder, ['learn', '--file-megabytes', '40'])).toMatchObject({ errors: 0, unreadable: 0 });
    expect(read(folder, 'lumbrik.yaml')).toContain('limits: { fileMegabytes: 40 }\n');
    expect(await result(folder, ['check'])).toMatchObject({ ok: true, entries: 600 });
  });

  test('things without identifiers are no entries', async () => {
    const folder = folderOf({ 'content/site.json': '{"title":"X","links":[{"url":"https://a.example/"}]}' });
    expect((await result(folder, ['learn'])).error.code).toBe('no-entries');
  });

  test('two places that hold the same entries are refused, and nothing is lost', async () => {
    const folder = folderOf({
      'lumbrik.yaml':
        'workspace: A\ncontent: [{ json: content/x.json, at: a, type: one }, { json: content/x.json, at: a, type: other }]\n',
      'model/types/one.yaml': 'type: one\nfields: { n: { kind: integer } }\n',
      'model/types/other.yaml': 'type: other\nfields: { n: { kind: integer } }\n',
      'content/x.json': '{"a":[{"id":"x","n":1}]}',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    for (const type of ['one', 'other']) edit(folder, `model/types/${type}.yaml`, 'n:', `${type}:`);
    await lumbrik(folder, ['migration', 'draft', '--renamed', 'one.n=one', '--renamed', 'other.n=other']);
    await lumbrik(folder, ['migration', 'rehearse']);
    expect((await result(folder, ['migration', 'run'])).error).toMatchObject({ code: 'shared-part' });
    expect(read(folder, 'content/x.json')).toBe('{"a":[{"id":"x","n":1}]}');
  });
});

describe('whatever a file holds, it is learnt as a check finds it, or told, and stays as it is [K2]', () => {
  const key = fc.oneof(
    fc.constantFrom('id', 'name', 'data', 'a b', 'Größe', 'x.y', '', 'type', 'status', '__proto__', '$schema', '1'),
    fc.constantFrom('a-b', 'a_b', 'ID', 'Id', 'constructor'),
    fc.string({ maxLength: 5 }),
  );
  const leaf = fc.oneof(
    fc.constantFrom('a', 'b', '2026-01-01', '1.234', '1,5', 'https://a.example/', 'x\ny', null, true),
    fc.integer(),
    fc.string({ maxLength: 8 }),
  );
  const inside = fc.oneof(leaf, fc.array(leaf, { maxLength: 3 }), fc.dictionary(key, leaf, { maxKeys: 3 }));
  const entry = fc.dictionary(key, fc.oneof(leaf, leaf, inside), { maxKeys: 6 });
  const data = fc.letrec((tie) => ({
    any: fc.oneof(
      { depthSize: 'small' },
      leaf,
      fc.array(entry, { maxLength: 6 }),
      fc.array(tie('any'), { maxLength: 4 }),
      fc.dictionary(key, tie('any'), { maxKeys: 4 }),
      fc.dictionary(key, entry, { maxKeys: 5 }),
    ),
  })).any;
  const quoted = (cell: string): string => (/[",\n;]/u.test(cell) ? `"${cell.replaceAll('"', '""')}"` : cell);
  const table = fc
    .tuple(fc.array(key, { minLength: 1, maxLength: 6 }), fc.array(fc.array(leaf, { maxLength: 6 }), { maxLength: 8 }))
    .map(([head, rows]) =>
      [['id', ...head], ...rows.map((row, at) => [`r${at}`, ...row])]
        .map((row) => row.map((cell) => quoted(String(cell))).join(','))
        .join('\n'),
    );

  test.each([
    ['JSON', 'content/x.json', data.map((one) => JSON.stringify(one))],
    ['a table', 'content/x.csv', table],
  ] as const)('%s', async (_what, file, texts) => {
    await fc.assert(
      fc.asyncProperty(texts, fc.constantFrom('0', '2%'), async (text, tolerated) => {
        const folder = folderOf({ [file]: text });
        const run = await lumbrik(folder, ['learn', '--tolerate', tolerated, '--format', 'json']);
        expect(run.err).not.toMatch(/^ +at /mu);
        expect(read(folder, file)).toBe(text);
        if (run.code === 2) return;
        const { errors } = JSON.parse(run.out);
        const { findings, mistakes } = await result(folder, ['check']);
        expect([mistakes, findings.filter(({ severity }: any) => severity === 'error').length]).toEqual([[], errors]);
        fs.rmSync(folder, { recursive: true });
      }),
      { numRuns: Number(process.env.RUNS ?? 80) },
    );
  });
});

describe('what entries leave open is asked [K2]', () => {
  const states = ['new', 'old', 'lost', 'sunk', 'sold', 'spare', 'hulk', 'let'];
  const voyages = Array.from({ length: 40 }, (_, i) => ({
    id: `v${i}`,
    title: `Voyage ${i} of the season`,
    state: states[i % 8],
    when: i % 5 === 4 ? 'in spring' : `2024-0${1 + (i % 9)}-12`,
    mate: i % 8 === 7 ? 'none' : `m${i % 9}`,
    cargo: i % 3 ? i * 7 : String(i),
    hold: { deck: ['fore', 'aft'][i % 7 ? 0 : 1], ...(i % 20 ? { sealed: true } : {}) },
    ...(i % 20 ? { master: `Ann ${i}` } : {}),
  }));
  const files = {
    'content/voyage.ndjson': lines(voyages),
    'content/mate.ndjson': lines(Array.from({ length: 9 }, (_, i) => ({ id: `m${i}`, name: `Mate ${i}` }))),
  };

  test('told with what is taken and what it may be as well, above its field too', async () => {
    const folder = folderOf(files);
    const { questions } = await result(folder, ['learn']);
    expect(questions.map(({ address, answers }: any) => [address, ...answers.map(({ as }: any) => as)])).toEqual([
      ['voyage.state', 'choice', 'text'],
      ['voyage.when', 'text', 'date', 'choice'],
      ['voyage.mate', 'choice', 'reference', 'text'],
      ['voyage.cargo', 'json', 'integer'],
      ['voyage.hold.sealed', 'optional', 'required'],
      ['voyage.master', 'optional', 'required'],
    ]);
    const text = read(folder, 'model/types/voyage.yaml');
    for (const one of [
      '# Open: Are these 8 all that there can be? Taken is choice; else write `{ kind: text, max: 10, required: true }`.',
      '# Open: Is it of the kind choice, reference or text? Taken is choice; else write `{ kind: reference, to: mate, required: true }` or',
      '# Open: 2 of 40 have none: must every one have one? Taken is optional; else write `required: true`.',
    ])
      expect(text).toContain(one);
    const other = folderOf(files);
    expect((await lumbrik(other, ['learn'])).out).toContain('learn anew with --as voyage.state=text');
  });

  test('answered in the call, also of what was not asked; the values that are otherwise are findings', async () => {
    const folder = folderOf(files);
    const as = ['state=text', 'when=date', 'mate=reference', 'cargo=integer', 'title=longText', 'hold.deck=choice'];
    const required = ['master=required', 'hold.sealed=required', 'title=optional'];
    const all = await result(folder, ['learn', ...[...as, ...required].flatMap((one) => ['--as', `voyage.${one}`])]);
    expect(all.questions).toEqual([]);
    expect(learnt(all)).toMatchObject({
      'voyage.state': 'text !',
      'voyage.when': 'date !',
      'voyage.mate': 'reference → mate !',
      'voyage.cargo': 'integer !',
      'voyage.title': 'longText',
      'voyage.hold.deck': 'choice !',
      'voyage.hold.sealed': 'boolean !',
      'voyage.master': 'text !',
    });
    const counts = Object.fromEntries(all.summary.map(({ finding, count }: any) => [finding, count]));
    expect(counts).toEqual({
      'not-a-date': 8,
      'dangling-reference': 5,
      'number-in-quotes': 14,
      'required-missing': 4,
    });
  });

  test('asked one after the other, before anything is written; what is left is taken as it seems', async () => {
    const folder = folderOf(files);
    const ran = spawnSync(process.execPath, [program, 'learn', '--ask'], {
      cwd: folder,
      encoding: 'utf8',
      input: 'text\nno\ndate\n\ninteger\n',
      env: plainEnv,
    });
    expect(ran.status).toBe(1);
    expect(ran.stderr).toContain('6 questions\nvoyage.state\nAre these 8 all that there can be?\n');
    expect(ran.stderr).toContain('“no” is none of them');
    expect(ran.stderr).toContain(
      'the same without questions: lumbrik learn --as voyage.state=text --as voyage.when=date --as voyage.cargo=integer\n',
    );
    const types = parse(read(folder, 'model/types/voyage.yaml')).fields;
    expect([types.state.kind, types.when.kind, types.mate.kind, types.cargo.kind]).toEqual([
      'text',
      'date',
      'choice',
      'integer',
    ]);
  });

  test.each([
    ['voyage.stat=text', 'Did you mean `voyage.state`?'],
    ['voyage.title=date', '`voyage.title` cannot be of the kind date'],
    ['voyage.title=reference', 'It can be text, longText, markdown'],
    ['state=text', 'does not say what a field is'],
    ['voyage.state', 'does not say what a field is'],
    ['voyage.state=a b', 'does not say what a field is'],
  ])('--as %s is refused, and nothing is written', async (as, told) => {
    const folder = folderOf({ ...files, 'content/voyage.ndjson': lines(voyages.map((one) => ({ ...one, höhe: 1 }))) });
    const ran = await lumbrik(folder, ['learn', '--as', as]);
    expect([ran.code, ran.err]).toEqual([2, expect.stringContaining(told)]);
    expect(fs.readdirSync(folder)).toEqual(['content']);
  });
});

describe('learnt into a model that stands [K2]', () => {
  const files: Files = {
    'lumbrik.yaml': 'workspace: Uhren\nlanguages: [de]\ncontent: [{ lines: content/alle.ndjson }]\n',
    'model/types/uhr.yaml':
      '# mit Bedacht\ntype: uhr\nfields:\n  name: { kind: text, required: true } # steht fest\n  art: { kind: choice, choices: [stand] }\n',
    'content/alle.ndjson': lines([
      ...Array.from({ length: 12 }, (_, index) => ({
        type: 'uhr',
        id: `u${index}`,
        name: `Uhr ${index}`,
        art: index < 5 ? 'wand' : 'stand',
        hoehe: index * 2.5,
        teile: { zeiger: index },
      })),
      ...Array.from({ length: 4 }, (_, index) => ({
        type: 'meister',
        id: `m${index}`,
        name: `M ${index}`,
        uhr: `u${index}`,
      })),
    ]),
  };

  test('what the entries show and the model does not say is proposed as a difference, and written when asked', async () => {
    const folder = folderOf(files);
    const before = read(folder, 'model/types/uhr.yaml');
    const told = await result(folder, ['learn', '--into']);
    expect(told.proposals.map(({ address, says }: any) => [address, says])).toEqual([
      ['uhr.art', 'more choices: “wand”'],
      ['uhr.hoehe', 'a field: decimal'],
      ['uhr.teile', 'a field: object'],
      ['meister', 'a type of 2 fields'],
    ]);
    expect([told.isWritten, read(folder, 'model/types/uhr.yaml')]).toEqual([false, before]);
    expect((await lumbrik(folder, ['learn', '--into'])).out).toMatch(
      /^\+ {2}hoehe: \{ kind: decimal, required: true \}$/mu,
    );
    const { out } = await lumbrik(folder, ['learn', '--into', '--write']);
    expect(out).toContain('✓ 2 files changed');
    const after = read(folder, 'model/types/uhr.yaml');
    expect(after).toContain('# mit Bedacht\n');
    expect(after).toContain(
      'name: { kind: text, required: true } # steht fest\n  art: { kind: choice, choices: [stand, wand] }\n',
    );
    expect((await lumbrik(folder, ['check'])).code).toBe(0);
    expect((await lumbrik(folder, ['learn', '--into'])).out).toBe('✓ The model says all that the entries show\n');
  });

  test('of a table: what cells stand for, and a column that no field can be called is told with what to write', async () => {
    const folder = folderOf({ 'content/p.csv': 'id,Name\n1,Ann\n2,Bob\n3,Cy\n' });
    await lumbrik(folder, ['learn']);
    write(folder, { 'content/p.csv': 'id,Name,Tel. no.,Age\n1,Ann,31,4\n2,Bob,41,5\n3,Cy,51,6\n' });
    const { proposals } = await result(folder, ['learn', '--into', '--write']);
    expect(proposals.map(({ address, says, open }: any) => [address, says, open])).toEqual([
      ['p.telNo', 'a field: integer', expect.stringContaining('`fields: { telNo: "Tel. no." }`')],
      ['p.Age', 'a field: integer', undefined],
    ]);
    edit(folder, 'lumbrik.yaml', 'type: p', 'type: p, fields: { telNo: "Tel. no." }');
    await lumbrik(folder, ['learn', '--into', '--write']);
    expect(await result(folder, ['check'])).toMatchObject({ ok: true, findings: [] });
    expect(read(folder, 'model/types/p.yaml')).toContain('  telNo: { kind: integer');
  });

  test('of the demo there is nothing to say', async () => {
    const folder = temporary();
    await lumbrik(folder, ['new', 'coast', '--starter', 'lighthouses']);
    expect((await result(path.join(folder, 'coast'), ['learn', '--into'])).proposals).toEqual([]);
  });

  test('a choice that a kit brings is told, and not written into the type', async () => {
    const folder = folderOf({
      ...files,
      'model/types/uhr.yaml': 'type: uhr\nkits: [art]\nfields:\n  name: { kind: text }\n',
      'model/kits/art.yaml': 'kit: art\nfields:\n  art: { kind: choice, choices: [stand] }\n',
    });
    const { proposals } = await result(folder, ['learn', '--into']);
    expect(proposals[0]).toMatchObject({ address: 'uhr.art', open: 'the field is defined elsewhere: add them there' });
  });

  test.each([
    [['content/alle.ndjson'], 2],
    [['--copy'], 2],
    [['--schema', 'x.json'], 2],
  ])('not beside %j', async (args, code) => {
    expect((await lumbrik(folderOf(files), ['learn', '--into', ...args])).code).toBe(code);
  });
});

test('keys that are data make a map, of what stands under all of them [K2]', async () => {
  const stock = (index: number): Record<string, { menge: number; ort: string }> =>
    Object.fromEntries([0, 1].map((nr) => [`ware${index * 2 + nr}`, { menge: index, ort: `Regal ${nr}` }]));
  const folder = folderOf({
    'content/lager.ndjson': lines(
      Array.from({ length: 30 }, (_, index) => ({
        id: `l${index}`,
        bestand: stock(index),
        marken: index % 2 === 0 ? [] : ['a', 'b'],
      })),
    ),
  });
  const all = await result(folder, ['learn']);
  expect(all).toMatchObject({ errors: 0 });
  expect(all.types[0].fields.map(({ field, says }: any) => [field, says])).toEqual([
    [
      'bestand',
      {
        kind: 'map',
        keys: { kind: 'text' },
        value: {
          kind: 'object',
          fields: {
            menge: { kind: 'integer', required: true },
            ort: { kind: 'choice', choices: ['Regal 0', 'Regal 1'], required: true },
          },
        },
        required: true,
      },
    ],
    ['marken', expect.objectContaining({ many: { max: 10 }, required: true, mayBeEmpty: true })],
  ]);
});
