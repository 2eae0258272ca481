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

describe('what a machine can mend [I1]', () => {
  test('is shown as a difference and not written; what is not sure is told apart', async () => {
    const folder = workspace({ ...model, ...wrong });
    const before = snapshot(folder);
    const { fixes, unsure, waiting, left, written, code } = await result(folder, ['check', '--fix']);
    expect(short(fixes)).toEqual({
      'clock/b/goes': 'PT90M',
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
    // A slug may be known to readers already, and numbers are one digit apart from each other.
    expect(short(unsure)).toEqual({ 'clock/b/slug': 'kleine-uhr', 'clock/c/maker': 'maker-1' });
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
      '{"id":"x","name":"X","slug":"x","height":1}\r\n{ "id": "y", "name": "Ü", "slug": "y",  "goes": "PT2H0M" }\n',
    );
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
