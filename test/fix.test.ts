import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { edit, lumbrik, read, result, snapshot, workspace } from './support/program.ts';

const model = {
  'lumbrik.yaml': 'workspace: Clocks\nlanguages: [de, en]\n',
  'model/types/clock.yaml':
    'type: clock\ntitled: name\nfields:\n  name: { kind: text, required: true }\n  slug: { kind: slug, from: name, required: true }\n  height: { kind: decimal }\n  goes: { kind: duration, units: [hours, minutes] }\n  maker: { kind: reference, to: maker }\n  shows: { kind: reference, to: [clock, maker], many: true }\n  sort: { kind: choice, choices: [{ choice: pendulum, label: Pendeluhr }, { choice: sun, label: Sonnenuhr }] }\n  age: { kind: term, taxonomy: age }\n  made: { kind: object, fields: { wood: { kind: text }, dial: { kind: text } } }\n  text: { kind: markdown, body: true }\n',
  'model/types/maker.yaml':
    'type: maker\nfields:\n  name: { kind: text }\n  clocks: { kind: integer, computed: { count: clock.maker } }\n',
  'model/taxonomies/age.yaml':
    'taxonomy: age\nterms:\n  - { term: baroque, label: { de: Barock, en: Baroque } }\n  - { term: biedermeier, label: { de: Biedermeier, en: Biedermeier }, synonyms: { de: [Vormärz] } }\n',
  'content/maker/grünwald.yaml': 'name: G\nclocks: 5\n',
  'content/maker/maker-1.yaml': 'name: M\n',
};
const wrong = {
  'content/clock/große uhr.md':
    '---\n# written by hand\nname: Große Uhr\nheight: "2.5"   # in metres\ngoes: 1:30\nmaekr: grünwald\nage: Biedermeier\nstatsu: published\nmade: { wodo: oak, dail: enamel }\n---\n\nProse stays.\n',
  'content/clock/b.yaml':
    'name: Kleine Uhr\nslug: Kleine Uhr\ngoes: 90\nmaker: grunwald\nshows: [große uhr, maker-2, maker/maker-1]\nage: vormärz\nsort: pendulm\nstatus: publishd\n',
  'content/clock/c.json': '{"name": "C", "slug": "c", "maker": "maker-2"}\n',
};

interface Fix {
  readonly entry: string;
  readonly pointer: string;
  readonly choices: readonly unknown[];
}
const short = (fixes: readonly Fix[]): Readonly<Record<string, unknown>> =>
  Object.fromEntries(
    fixes.map(({ entry, pointer, choices }) => [`${entry}${pointer}`, choices.length > 1 ? choices : choices[0]]),
  );

describe('what a machine can mend [I1, I6]', () => {
  test('is shown as a difference and not written; what is not sure is told apart', async () => {
    const folder = workspace({ ...model, ...wrong });
    const before = snapshot(folder);
    const { fixes, unsure, waiting, left, written, code } = await result(folder, ['check', '--fix']);
    expect(short(fixes)).toEqual({
      'clock/b/maker': 'grünwald',
      'clock/b/shows/0': 'clock/große uhr',
      'clock/b/age': 'biedermeier',
      'clock/b/sort': 'pendulum',
      'clock/b/status': 'published',
      'clock/große uhr/height': 2.5,
      'clock/große uhr/goes': 'PT1H30M',
      'clock/große uhr/maekr': 'maker',
      'clock/große uhr/age': 'biedermeier',
      'clock/große uhr/statsu': 'status',
      'clock/große uhr/made/wodo': 'wood',
      'clock/große uhr/made/dail': 'dial',
      'clock/große uhr/slug': 'grosse-uhr',
    });
    // A slug may be known to readers already, numbers are one digit apart, and a bare number counts hours or minutes.
    expect(short(unsure)).toEqual({
      'clock/b/slug': 'kleine-uhr',
      'clock/b/goes': ['PT90M', 'PT90H'],
      'clock/c/maker': 'maker-1',
    });
    expect([waiting, left, written, code]).toEqual([1, 1, false, 1]);
    expect(snapshot(folder)).toEqual(before);
    const { out } = await lumbrik(folder, ['check', '--fix']);
    expect(out).toContain('maekr  called maekr → maker');
    expect(out).toContain('lumbrik check --fix --yes');
  });

  test('is written where that is asked for, byte for byte beside it, and taken back', async () => {
    const folder = workspace({ ...model, ...wrong });
    const before = snapshot(folder);
    expect(await result(folder, ['check', '--fix', '--yes'])).toMatchObject({ written: true, files: 2 });
    expect(read(folder, 'content/clock/große uhr.md')).toBe(
      '---\n# written by hand\nname: Große Uhr\nheight: 2.5   # in metres\ngoes: PT1H30M\nmaker: grünwald\nage: biedermeier\nstatus: published\nmade: { wood: oak, dial: enamel }\nslug: grosse-uhr\n---\n\nProse stays.\n',
    );
    const { findings } = await result(folder, ['check']);
    expect(findings.map(({ finding }: { finding: string }) => finding)).toEqual([
      'malformed-slug',
      'not-a-duration',
      'malformed-reference',
      'dangling-reference',
      'not-computed',
    ]);
    // Stored counts come last, once all references lead somewhere.
    expect(short((await result(folder, ['check', '--fix'])).fixes)).toEqual({});
    const undone = await lumbrik(folder, ['migration', 'undo']);
    expect(undone.out).toContain('Taken back');
    expect(undone.out).not.toContain('model');
    expect(snapshot(folder)).toEqual(before);
  });

  test('a stored count is mended once nothing else is left', async () => {
    const folder = workspace({ ...model, 'content/clock/a.yaml': 'name: A\nslug: a\nmaker: grünwald\n' });
    expect(short((await result(folder, ['check', '--fix', '--yes'])).fixes)).toEqual({ 'maker/grünwald/clocks': 1 });
    expect((await result(folder, ['check'])).findings).toEqual([]);
    expect((await lumbrik(folder, ['check', '--fix'])).out).toContain('All fine');
  });

  test('edits since are kept when it is taken back', async () => {
    const folder = workspace({ ...model, ...wrong });
    await lumbrik(folder, ['check', '--fix', '--yes']);
    edit(folder, 'content/clock/b.yaml', 'name: Kleine Uhr', 'name: Kleinste Uhr');
    expect(await result(folder, ['migration', 'undo'])).toMatchObject({
      ok: true,
      number: 0,
      kept: [{ entry: 'clock/b', fields: ['name'] }],
    });
    expect(read(folder, 'content/clock/b.yaml')).toBe(
      wrong['content/clock/b.yaml'].replace('Kleine Uhr', 'Kleinste Uhr'),
    );
  });

  test('lines of a file are mended where they stand', async () => {
    const folder = workspace({
      ...model,
      'lumbrik.yaml':
        'workspace: Clocks\nlanguages: [de, en]\ncontent: [{ folder: content }, { lines: content/more.ndjson, type: clock }]\n',
      'content/more.ndjson':
        '{"id":"x","name":"X","slug":"x","height":"1"}\r\n{ "id": "y", "name": "Ü", "slug": "y",  "goes": "2:00" }\n',
    });
    expect(await result(folder, ['check', '--fix', '--yes'])).toMatchObject({ written: true, files: 1 });
    expect(read(folder, 'content/more.ndjson')).toBe(
      '{"id":"x","name":"X","slug":"x","height":1}\r\n{ "id": "y", "name": "Ü", "slug": "y",  "goes": "PT2H" }\n',
    );
  });

  test('of two entries of one address, neither is touched', async () => {
    const lines =
      '{"id":"x","name":"X","slug":"x","goes":"PT5M"}\n{"id":"x","name":"X","slug":"y","goes":90,"height":"1"}\n';
    const folder = workspace({
      ...model,
      'lumbrik.yaml':
        'workspace: Clocks\nlanguages: [de, en]\ncontent: [{ lines: content/more.ndjson, type: clock }]\n',
      'content/more.ndjson': lines,
    });
    expect(await result(folder, ['check', '--fix', '--yes'])).toMatchObject({ written: false, fixes: [], left: 5 });
    expect(read(folder, 'content/more.ndjson')).toBe(lines);
  });

  test('what is declined or ignored stays; what is known already is mended, and else not told', async () => {
    const folder = workspace({
      ...model,
      'lumbrik.yaml':
        'workspace: Clocks\nlanguages: [de, en]\nfindings: { severity: { number-in-quotes: ignore }, declined: [{ finding: not-a-duration, entry: clock/a, because: old }] }\n',
      'content/clock/a.yaml': 'name: A\nslug: a\ngoes: 90\nheight: "2"\n',
      'content/clock/b.yaml': 'name: B\nslug: b\ngoes: 30 min\nage: nothing like it\n',
      'content/maker/grünwald.yaml': 'name: G\nclocks: 0\n',
    });
    await lumbrik(folder, ['check', '--baseline']);
    expect(await result(folder, ['check', '--fix', '--yes'])).toMatchObject({
      fixes: [{ entry: 'clock/b', choices: ['PT30M'] }],
      left: 0,
    });
    expect(read(folder, 'content/clock/a.yaml')).toBe('name: A\nslug: a\ngoes: 90\nheight: "2"\n');
    expect(await result(folder, ['check', '--fix'])).toMatchObject({ left: 0, code: 0 });
  });

  test('whatever a check tells is counted: of files as well', async () => {
    const folder = workspace({ ...model, 'content/clock/a.yaml': 'name: [\n', 'assets/a.txt': 'unused\n' });
    const { findings } = await result(folder, ['check']);
    expect(findings.map(({ finding }: { finding: string }) => finding)).toEqual(
      expect.arrayContaining(['unreadable-file', 'unused-asset']),
    );
    expect(await result(folder, ['check', '--fix'])).toMatchObject({ left: findings.length - 1, code: 1 });
  });

  test('a slug that is made is one that nobody has', async () => {
    const folder = workspace({
      ...model,
      'content/clock/a.yaml': 'name: Grandfather\nslug: grandfather\n',
      'content/clock/b.yaml': 'name: Grandfather\n',
      'content/clock/c.yaml': 'name: Grandfather\n',
      'content/clock/d.yaml': 'name: D\nslug: Grandfather\n',
    });
    const { fixes, unsure } = await result(folder, ['check', '--fix', '--yes']);
    expect(short(fixes)).toMatchObject({
      'clock/b/slug': 'grandfather-2',
      'clock/c/slug': 'grandfather-3',
    });
    expect(short(unsure)).toEqual({ 'clock/d/slug': 'grandfather-4' });
    const { findings } = await result(folder, ['check']);
    expect(findings.map(({ finding }: { finding: string }) => finding)).not.toContain('not-unique');
  });

  test('where an identifier may be that of several entries, a person says which', async () => {
    const folder = workspace({
      ...model,
      'content/clock/a.yaml': 'name: A\nslug: a\nshows: [same]\n',
      'content/clock/same.yaml': 'name: S\nslug: s\n',
      'content/maker/same.yaml': 'name: S\n',
    });
    const [found] = (await result(folder, ['check'])).findings;
    expect([found.fix, found.mend]).toEqual([
      undefined,
      'Write clock/same or maker/same: with several types, a value says which it is.',
    ]);
    const { unsure } = await result(folder, ['check', '--fix']);
    expect(short(unsure)).toEqual({ 'clock/a/shows/0': ['clock/same', 'maker/same'] });
  });

  test('nothing is written where nothing is sure, nor where the model has mistakes', async () => {
    const folder = workspace({ ...model, 'content/clock/c.json': '{"name": "C", "slug": "C c"}\n' });
    expect(await result(folder, ['check', '--fix', '--yes'])).toMatchObject({
      written: false,
      fixes: [],
      unsure: [{ pointer: '/slug' }],
    });
    expect(fs.existsSync(path.join(folder, '.lumbrik/runs'))).toBe(false);
    edit(folder, 'model/types/maker.yaml', 'kind: text', 'kind: txt');
    expect((await lumbrik(folder, ['check', '--fix'])).code).toBe(2);
    expect((await lumbrik(folder, ['check', '--yes'])).code).toBe(2);
  });
});
