import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { stringify } from 'yaml';
import { png } from './support/pictures.ts';
import { edit, lumbrik, read, result, root, temporary, workspace, write } from './support/program.ts';

const flow = (value: unknown): string => stringify(value, { collectionStyle: 'flow', lineWidth: 0 }).trim();

/** Checks many values at once: entry n of the type light has the n-th value in the n-th field. */
async function verdicts(
  cases: readonly (readonly [field: string, value: string])[],
): Promise<readonly (string | undefined)[]> {
  const fields = cases.map(([field], index) => `  x${index}: ${field}\n`).join('');
  const folder = workspace({
    'model/types/light.yaml': `type: light\nfields:\n  name: { kind: text }\n${fields}`,
    ...Object.fromEntries(cases.map(([, value], index) => [`content/light/a${index}.yaml`, `x${index}: ${value}\n`])),
  });
  const { findings, mistakes } = await result(folder, ['check']);
  expect(mistakes).toEqual([]);
  return cases.map((_, index) => {
    const found = findings.find(({ entry }: { entry: string }) => entry === `light/a${index}`);
    return found && `${found.finding}: ${found.mend}`;
  });
}

describe('every kind [C1]', () => {
  test('is explained with an example that passes its own check [C5]', async () => {
    const { topics } = await result(temporary(), ['explain']);
    const kinds = topics.filter(({ what }: { what: string }) => what === 'kind');
    expect(kinds.length).toBeGreaterThanOrEqual(22);
    const folder = workspace({
      'model/types/light.yaml': `type: light\nfields:\n  name: { kind: text }\n${kinds.map(({ name, example }: any) => `  x${name}: ${flow({ kind: name, ...example.options })}\n`).join('')}`,
      'model/types/keeper.yaml': 'type: keeper\n',
      'model/taxonomies/region.yaml': 'taxonomy: region\nterms: [{ term: north, terms: [skerries] }]\n',
      'content/keeper/ada-rook.yaml': 'status: published\n',
      'assets/photos/skerry-point.png': png(640, 1),
      'content/light/a.yaml': `name: A\n${kinds.map(({ name, example }: any) => `x${name}: ${JSON.stringify(example.value)}\n`).join('')}`,
    });
    expect(await result(folder, ['check'])).toMatchObject({ mistakes: [], findings: [], ok: true });
    // Every option of a kind stands in its example.
    for (const { name, options, example } of kinds)
      expect([name, Object.keys(example.options).sort()]).toEqual([name, options.map((one: any) => one.name).sort()]);
    for (const { name, options } of kinds) {
      const { code, out } = await lumbrik(folder, ['explain', name]);
      expect([code, out]).toEqual([0, expect.stringContaining('In the model')]);
      for (const { about } of options) expect(about).not.toBe('');
    }
  });

  test('every other part of a model has an example that says all it can, and is right', async () => {
    const { topics } = await result(temporary(), ['explain']);
    const whole = (what: string) => topics.find((one: any) => one.what === what);
    for (const what of ['type', 'field', 'kit', 'own kind', 'taxonomy', 'term', 'workspace'])
      for (const { name } of whole(what).options)
        expect([what, Object.keys(whole(what).whole)]).toEqual([what, expect.arrayContaining([name])]);
    const { computed, ...field } = whole('field').whole;
    const { required: _, default: __, ...unasked } = field;
    const yaml = (value: unknown) => JSON.stringify(value);
    const folder = workspace({
      'lumbrik.yaml': yaml({ workspace: 'A', languages: ['en', whole('workspace').whole] }),
      'model/kits/sharing.yaml': yaml(whole('kit').whole),
      'model/kits/crediting.yaml': 'kit: crediting\nfields: { credit: { kind: text } }\n',
      'model/kinds/price.yaml': yaml(whole('own kind').whole),
      'model/types/place.yaml': 'type: place\nfields: { name: { kind: text } }\n',
      'model/types/lighthouse.yaml': yaml({
        ...whole('type').whole,
        fields: {
          ...whole('type').whole.fields,
          steps: field,
          floors: { kind: 'integer', many: true },
          all: { ...unasked, computed },
        },
      }),
      'model/taxonomies/region.yaml': 'taxonomy: region\nterms: [north]\n',
      'model/taxonomies/topic.yaml': yaml({ ...whole('taxonomy').whole, terms: ['repairs', whole('term').whole] }),
    });
    expect((await result(folder, ['check'])).mistakes).toEqual([]);
  });

  test.each(['docs', 'recipes'])('the pages that scripts/%s.mjs writes are up to date', (script) => {
    const ran = spawnSync(process.execPath, [path.join(root, `scripts/${script}.mjs`), '--check'], {
      encoding: 'utf8',
    });
    expect([ran.status, ran.stderr]).toEqual([0, '']);
  });

  test('a word that is none suggests the nearest', async () => {
    expect(await lumbrik(temporary(), ['explain', 'durtion'])).toMatchObject({
      code: 2,
      err: expect.stringContaining('Did you mean `duration`?'),
    });
    expect((await result(temporary(), ['explain', 'too-long'])).topics).toEqual([
      expect.objectContaining({ what: 'finding' }),
    ]);
  });
});

describe('a length of time [C4]', () => {
  test('is never confused with a time of day, and what was meant is said', async () => {
    const minutes = '{ kind: duration, units: [hours, minutes], min: PT15M, max: PT8H }';
    expect(
      await verdicts([
        [minutes, 'PT1H30M'],
        [minutes, 'PT90M'],
        [minutes, '1:30'],
        [minutes, '90'],
        [minutes, '"90"'],
        [minutes, 'an hour'],
        [minutes, '1 hour 30 minutes'],
        [minutes, 'P1D'],
        [minutes, 'PT5M'],
        [minutes, 'PT500M'],
        ['{ kind: duration }', '"1:30"'],
        ['{ kind: duration }', 'P'],
        ['{ kind: duration }', 'PT'],
        ['{ kind: duration }', 'P1.5Y2M'],
        ['{ kind: duration, max: P30D }', 'P4W'],
        ['{ kind: duration, max: P30D }', 'P1M'],
        ['{ kind: duration, max: P32D }', 'P1M'],
        ['{ kind: duration, max: P2Y }', 'P18M'],
        ['{ kind: duration, max: P11M }', 'P1Y'],
      ]),
    ).toEqual([
      undefined,
      undefined,
      'not-a-duration: Probably PT1H30M (1 hour, 30 minutes) is meant.',
      'not-a-duration: Probably PT90M (90 minutes) is meant.',
      'not-a-duration: Probably PT90M (90 minutes) is meant.',
      expect.stringContaining('not-a-duration: Write it as ISO 8601 says'),
      'not-a-duration: Probably PT1H30M (1 hour, 30 minutes) is meant.',
      'unit-not-allowed: Write it in hours or minutes.',
      'too-small: Give PT15M or more.',
      'too-large: Give PT8H or less.',
      'not-a-duration: Probably PT1H30M (1 hour, 30 minutes) or PT1M30S (1 minute, 30 seconds) is meant.',
      expect.stringContaining('not-a-duration'),
      expect.stringContaining('not-a-duration'),
      expect.stringContaining('not-a-duration'),
      undefined,
      'not-comparable: Write it in the units of the limit.',
      undefined,
      undefined,
      'too-large: Give P11M or less.',
    ]);
  });

  test('is read back in words', async () => {
    const folder = workspace({
      'lumbrik.yaml': 'workspace: x\nlanguages: [fr, en]\n',
      'model/types/light.yaml': 'type: light\nfields:\n  x: { kind: duration }\n',
      'content/light/a.yaml': 'x: P4DT2H\n',
    });
    // The language's own data set the spaces, some of them narrow.
    const [value] = (await result(folder, ['show', 'light/a'])).values;
    expect([value.value, value.says.replace(/\s/gu, ' ')]).toEqual(['P4DT2H', '4 jours et 2 heures']);
  });

  test.each<[string, string]>([
    ['{ kind: duration, min: P1M, max: P30D }', 'depends on the calendar'],
    ['{ kind: duration, min: P2M, max: P1M }', 'no length could pass'],
    ['{ kind: duration, units: [hours], max: P1D }', '`units` does not allow that'],
    ['{ kind: duration, max: "90" }', 'ISO 8601 duration such as PT1H30M'],
    ['{ kind: duration, default: "1:30" }', 'breaks the field'],
    ['{ kind: time, min: "12:00", max: "09:00" }', 'no time could pass'],
    ['{ kind: dateTime, min: 2026-02-01T00:00:00Z, max: 2026-02-01T00:00:00+01:00 }', 'no time could pass'],
  ])('a model that says %s is refused', async (field, says) => {
    const { mistakes } = await result(
      workspace({ 'model/types/light.yaml': `type: light\nfields:\n  x: ${field}\n` }),
      ['check'],
    );
    expect(mistakes).toHaveLength(1);
    expect(`${mistakes[0].says} ${mistakes[0].mend}`).toContain(says);
  });

  test('minutes become a duration, and what somebody wrote as a time of day is asked about', async () => {
    const before = 'type: tour\nfields:\n  length: { kind: text }\n';
    const folder = workspace({
      'model/types/tour.yaml': before,
      'content/tour/a.yaml': 'length: "90"\n',
      'content/tour/b.yaml': 'length: 1:30\n',
      'content/tour/c.yaml': 'length: 2 hours\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, { 'model/types/tour.yaml': before.replace('kind: text', 'kind: duration, units: [hours, minutes]') });
    const { file, openQuestions } = await result(folder, ['migration', 'draft']);
    expect(openQuestions).toBe(1);
    expect(read(folder, file)).toContain('written: [ hours-minutes, bare-minutes ]');
    expect(read(folder, file)).toContain('open: Are the texts written as a number of minutes?');
    edit(folder, file, /^ {4}open: .*\n/mu, '    answer: yes\n');
    expect((await result(folder, ['migration', 'rehearse'])).lost).toEqual([]);
    await lumbrik(folder, ['migration', 'run']);
    expect(['a', 'b', 'c'].map((id) => read(folder, `content/tour/${id}.yaml`))).toEqual([
      'length: "PT90M"\n',
      'length: PT1H30M\n',
      'length: PT2H\n',
    ]);
    expect((await result(folder, ['check'])).ok).toBe(true);
  });
});

describe('times, addresses, colours and places [C1]', () => {
  test('of day and of the calendar', async () => {
    expect(
      (
        await verdicts([
          ['{ kind: time }', '"09:30"'],
          ['{ kind: time }', '"24:00"'],
          ['{ kind: time }', 'PT9H'],
          ['{ kind: time, min: "10:00" }', '"09:30"'],
          ['{ kind: time, max: "09:00" }', '"09:30:01"'],
          ['{ kind: dateTime }', '2026-03-01T09:30:00Z'],
          ['{ kind: dateTime }', '2026-03-01T09:30:00'],
          ['{ kind: dateTime }', '2026-02-30T09:30:00Z'],
          ['{ kind: dateTime, offset: none }', '2026-03-01T09:30:00+01:00'],
          ['{ kind: dateTime, offset: optional }', '2026-03-01T09:30'],
          ['{ kind: dateTime, max: 2026-03-01T09:30:00Z }', '2026-03-01T10:00:00+01:00'],
          ['{ kind: dateTime, max: 2026-03-01T09:30:00Z }', '2026-03-01T09:31:00Z'],
        ])
      ).map((one) => one?.split(':')[0]),
    ).toEqual([
      undefined,
      'not-a-time',
      'not-a-time',
      'too-early',
      'too-late',
      undefined,
      'offset',
      'not-a-date-time',
      'offset',
      undefined,
      undefined,
      'too-late',
    ]);
  });

  test('on the web and in the mail', async () => {
    expect(
      (
        await verdicts([
          ['{ kind: email }', 'visits@gannet-sound.example'],
          ['{ kind: email }', 'visits@gannet'],
          ['{ kind: email }', '"Ada <ada@gannet-sound.example>"'],
          ['{ kind: webAddress }', 'https://gannet-sound.example/lights?a=1#b'],
          ['{ kind: webAddress }', 'gannet-sound.example/lights'],
          ['{ kind: webAddress }', 'javascript:alert(1)'],
          ['{ kind: webAddress }', 'ftp://gannet-sound.example/'],
          ['{ kind: webAddress, schemes: [ftp] }', 'ftp://gannet-sound.example/'],
          ['{ kind: webAddress, hosts: [gannet-sound.example] }', 'https://www.gannet-sound.example/'],
          ['{ kind: webAddress, hosts: [gannet-sound.example] }', 'https://notgannet-sound.example/'],
          ['{ kind: webAddress }', '"https://a b/"'],
        ])
      ).map((one) => one?.split(':')[0]),
    ).toEqual([
      undefined,
      'not-an-email',
      'not-an-email',
      undefined,
      'not-a-web-address',
      'not-a-web-address',
      'not-a-web-address',
      undefined,
      undefined,
      'host-not-allowed',
      'not-a-web-address',
    ]);
  });

  test('colours, places, decimals and free JSON', async () => {
    expect(
      (
        await verdicts([
          ['{ kind: colour }', '"#c33"'],
          ['{ kind: colour }', '"#cc333380"'],
          ['{ kind: colour, alpha: true }', '"#cc333380"'],
          ['{ kind: colour }', 'red'],
          ['{ kind: point }', '{ lat: 57.1, lon: -6.3 }'],
          ['{ kind: point }', '[57.1, -6.3]'],
          ['{ kind: point }', '{ lat: 157.1, lon: -6.3 }'],
          ['{ kind: point }', '{ lat: 57.1 }'],
          ['{ kind: point }', '{ lat: 57.1, lon: 1, alt: 3 }'],
          ['{ kind: decimal, places: 2 }', '0.1'],
          ['{ kind: decimal, places: 2 }', '1.005'],
          ['{ kind: decimal, places: 6 }', '1e-7'],
          ['{ kind: json }', '{ a: [1, { b: null }] }'],
          ['{ kind: json, max: 5 }', '{ a: 12345 }'],
        ])
      ).map((one) => one?.split(':')[0]),
    ).toEqual([
      undefined,
      'not-a-colour',
      undefined,
      'not-a-colour',
      undefined,
      'not-a-point',
      'not-a-point',
      'not-a-point',
      'not-a-point',
      undefined,
      'too-many-places',
      'too-many-places',
      undefined,
      'too-long',
    ]);
  });

  test('a place inside a value has a pointer of its own', async () => {
    const folder = workspace({
      'model/types/light.yaml': 'type: light\nfields:\n  at: { kind: point }\n',
      'content/light/a.yaml': 'at:\n  lat: 57.1\n  lon: 200\n',
    });
    expect((await result(folder, ['check'])).findings).toEqual([
      expect.objectContaining({ pointer: '/at/lon', line: 3, column: 8, value: 200, limit: 180 }),
    ]);
  });
});

describe('what a change of an option means [G3]', () => {
  test.each<[string, string, string, string]>([
    ['{ kind: duration, max: PT90M }', '{ kind: duration, max: PT2H }', 'valid', 'notice'],
    ['{ kind: duration, max: P1M }', '{ kind: duration, max: P1W }', 'migrate', 'unaffected'],
    ['{ kind: duration, units: [hours] }', '{ kind: duration, units: [hours, minutes] }', 'valid', 'notice'],
    ['{ kind: webAddress }', '{ kind: webAddress, schemes: [https] }', 'migrate', 'unaffected'],
    ['{ kind: webAddress, hosts: [a.example] }', '{ kind: webAddress }', 'valid', 'notice'],
    ['{ kind: colour, alpha: true }', '{ kind: colour }', 'migrate', 'unaffected'],
    ['{ kind: decimal, places: 2 }', '{ kind: decimal, places: 1 }', 'migrate', 'unaffected'],
    [
      '{ kind: dateTime, min: 2026-01-01T00:00:00Z }',
      '{ kind: dateTime, min: 2026-01-01T00:00:00+01:00 }',
      'valid',
      'notice',
    ],
    ['{ kind: time }', '{ kind: duration }', 'migrate', 'break'],
    ['{ kind: colour }', '{ kind: email }', 'lose', 'break'],
  ])('%s to %s: entries %s, readers %s', async (was, is, entries, readers) => {
    const model = (field: string) => ({ 'model/types/light.yaml': `type: light\nfields:\n  x: ${field}\n` });
    const folder = workspace(model(was));
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, model(is));
    expect((await result(folder, ['diff'])).changes).toEqual([expect.objectContaining({ entries, readers })]);
  });
});
