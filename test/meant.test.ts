import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { parse, stringify } from 'yaml';
import type { Json } from '../src/core/plain/json.ts';
import { type Files, lumbrik, read, result, workspace, write } from './support/program.ts';

type Fields = Readonly<Record<string, Json>>;
type Entries = Readonly<Record<string, Fields>>;

const plant = (fields: Fields, more: Fields = {}): Files => ({
  'model/types/plant.yaml': stringify({ type: 'plant', ...more, fields }),
});
const content = (entries: Entries): Files =>
  Object.fromEntries(Object.entries(entries).map(([id, entry]) => [`content/plant/${id}.yaml`, stringify(entry)]));

/** A workspace whose model was recorded with one set of files, and changed to another. */
async function changed(before: Files, entries: Entries, after: Files): Promise<string> {
  const folder = workspace({
    'lumbrik.yaml': 'workspace: Garden\nlanguages: [en, de]\n',
    ...before,
    ...content(entries),
  });
  await lumbrik(folder, ['seal', '-m', 'one']);
  write(folder, after);
  return folder;
}

const changesIn = async (folder: string): Promise<Readonly<Record<string, string>>> => {
  const { changes } = await result(folder, ['diff']);
  return Object.fromEntries(changes.map((one: { address: string; says: string }) => [one.address, one.says]));
};

describe('what was meant [G2, G6]', () => {
  test('the field that names entries before is the one that does after, whatever names say', async () => {
    const folder = await changed(
      plant({ label: { kind: 'text', required: true }, heading2: { kind: 'text' } }, { titled: 'label' }),
      { a: { label: 'Rose', heading2: 'x' }, b: { label: 'Elm', heading2: 'y' } },
      plant({ heading: { kind: 'text', required: true } }, { titled: 'heading' }),
    );
    const { changes } = await result(folder, ['diff']);
    const renamed = changes.find((one: { change: string }) => one.change === 'renamed');
    expect(renamed).toMatchObject({ address: 'plant.label', says: 'renamed to heading' });
    expect(renamed.reasons[0]).toBe('both name their entries (`titled`)');
    expect(renamed.sure).toBeGreaterThan(0.9);
  });

  test('the same rename inside objects and lists counts for each', async () => {
    const inside = (name: string): Json => ({
      kind: 'object',
      fields: { [name]: { kind: 'webAddress' }, text: { kind: 'text' } },
    });
    const before = {
      at: inside('href'),
      href: { kind: 'webAddress' },
      links: { ...(inside('href') as object), many: true },
    };
    const after = {
      at: inside('url'),
      url: { kind: 'webAddress' },
      links: { ...(inside('url') as object), many: true },
    };
    const address = 'https://garden.example';
    const entry = { at: { href: address }, href: address, links: [{ href: address, text: 'x' }] };
    const folder = await changed(plant(before as Fields), { a: entry, b: entry }, plant(after as Fields));
    const said = await changesIn(folder);
    expect(said).toMatchObject({
      'plant.href': 'renamed to url',
      'plant.at.href': 'renamed to url',
      'plant.links.href': 'renamed to url',
    });
  });

  test('a condition that names what was renamed for sure says the same', async () => {
    const fields = (kind: string, depth: string): Fields => ({
      [kind]: { kind: 'choice', choices: ['tree', 'pond'], required: true },
      [depth]: { kind: 'decimal', when: `entry.${kind} == 'pond'` },
    });
    const entries = { a: { type_of: 'pond', deep: 2 }, b: { type_of: 'tree' } };
    const folder = await changed(plant(fields('type_of', 'deep')), entries, plant(fields('typeOf', 'depth')));
    const { changes } = await result(folder, ['diff']);
    const deep = changes.find((one: { address: string }) => one.address === 'plant.deep');
    expect(deep).toMatchObject({ change: 'renamed', says: 'renamed to depth' });
    expect(deep.reasons).toContain('with the same options');
  });

  test('where two fit nearly alike both are named, and a no goes on to the second', async () => {
    const folder = await changed(
      plant({ phon: { kind: 'text' }, fone: { kind: 'text' } }),
      { a: { phon: '1', fone: '2' }, b: { fone: '3' } },
      plant({ phone: { kind: 'text', required: true } }),
    );
    const { changes } = await result(folder, ['diff']);
    const [first] = changes.filter((one: { change: string }) => one.change === 'renamed');
    expect(first.sure).toBeLessThan(0.7);
    const second = first.address === 'plant.phon' ? 'fone' : 'phon';
    expect(first.reasons.at(-1)).toContain(`\`${second}\` would fit as well`);

    const { file } = await result(folder, ['migration', 'draft']);
    const { questions } = await result(folder, ['migration', 'answer', '--no-ask']);
    const rename = questions.find((one: { verb: string }) => one.verb === 'rename');
    expect(rename.address).toBe(first.address);
    await result(folder, ['migration', 'answer', '--step', String(rename.step), '--no']);
    expect(read(folder, file)).toContain(`apart: [ ${first.address}=phone ]`);
    expect(read(folder, file)).toContain(`- rename: plant.${second}`);
    const again = await result(folder, ['migration', 'answer', '--no-ask']);
    expect(again.questions.map((one: { open: string }) => one.open)).not.toContainEqual(
      expect.stringMatching(/^What do the/u),
    );
    // Once more no: then the field is new, and both are gone.
    const other = again.questions.find((one: { verb: string }) => one.verb === 'rename');
    await result(folder, ['migration', 'answer', '--step', String(other.step), '--no']);
    expect(read(folder, file)).not.toContain('- rename:');
    expect(read(folder, file)).toContain('- add: plant.phone');
  });
});

interface Asked {
  readonly step: number;
  readonly verb: string;
  readonly address: string;
  readonly open: string;
  readonly answers: readonly string[];
  readonly yes: string;
  readonly suggest?: Fields;
}

const askedIn = async (folder: string): Promise<readonly Asked[]> =>
  (await result(folder, ['migration', 'answer', '--no-ask'])).questions;

describe('what is asked [H8]', () => {
  test('a question says what a yes does, and what can be offered is suggested first', async () => {
    const folder = await changed(
      plant({ name: { kind: 'text' }, site: { kind: 'text' } }, { titled: 'name' }),
      {
        a: { name: 'Rose', site: 'bed' },
        b: { name: 'Elm', site: 'bed' },
        c: { name: 'Ash', site: 'bed' },
        d: { name: 'Oak' },
      },
      plant(
        {
          name: { kind: 'text' },
          slug: { kind: 'slug', from: 'name', required: true },
          hardy: { kind: 'boolean', required: true },
          notes: { kind: 'text', many: true, required: true, mayBeEmpty: true },
          level: { kind: 'integer', required: true, default: 3 },
          site: { kind: 'text', required: true },
          count: { kind: 'integer', required: true },
        },
        { titled: 'name' },
      ),
    );
    await result(folder, ['migration', 'draft']);
    const asked = await askedIn(folder);
    const suggested = Object.fromEntries(asked.map((one) => [one.address, [one.suggest, one.yes]]));
    expect(suggested).toEqual({
      'plant.slug': [{ cel: 'entry.name.slug()' }, 'accept'],
      'plant.hardy': [{ value: false }, 'accept'],
      'plant.level': [{ value: 3 }, 'accept'],
      'plant.notes': [{ value: [] }, 'accept'],
      'plant.site': [{ value: 'bed' }, 'accept'],
      'plant.count': [undefined, 'leave'],
    });
    for (const { open } of asked) expect(open).toMatch(/Yes gives them |Yes leaves them to their authors/u);
    for (const { step } of asked) await result(folder, ['migration', 'answer', '--step', String(step), '--yes']);
    const { ok, findings, findingsAfter } = await result(folder, ['migration', 'rehearse']);
    expect(ok).toBe(false);
    expect(findings.new).toBe(4);
    expect(new Set(findingsAfter.map((one: { pointer: string }) => one.pointer))).toEqual(new Set(['/count']));
    await lumbrik(folder, ['migration', 'run', '--allow-errors']);
  });

  test('an answer can be replaced, whatever it was', async () => {
    const folder = await changed(
      plant({ name: { kind: 'text' } }),
      { a: { name: 'Rose' } },
      plant({ name: { kind: 'text' }, hardy: { kind: 'boolean', required: true } }),
    );
    const { file } = await result(folder, ['migration', 'draft']);
    const answers: readonly (readonly [answer: readonly string[], written: Fields])[] = [
      [['--yes'], { suggest: { value: false }, answer: 'yes' }],
      [['--value', 'true'], { suggest: { value: false }, value: true, answer: 'yes' }],
      [['--cel', 'size(entry.name) > 3'], { suggest: { value: false }, cel: 'size(entry.name) > 3', answer: 'yes' }],
      [['--no'], { suggest: { value: false }, answer: 'no' }],
      [['--no'], { suggest: { value: false }, answer: 'no' }],
      [['--yes'], { suggest: { value: false }, answer: 'yes' }],
    ];
    for (const [answer, written] of answers) {
      await result(folder, ['migration', 'answer', '--step', '1', ...answer]);
      const { steps } = parse(read(folder, file));
      const { add: _add, field: _field, open: _open, ...said } = steps[0];
      expect(said).toEqual(written);
    }
  });

  test('a no to how values are carried over can be taken back, and goes for alike fields', async () => {
    const kit = (more: Fields): Files => ({
      'model/kits/care.yaml': stringify({ kit: 'care', fields: { needs: { kind: 'text', ...more } } }),
    });
    const types = ['plant', 'bed'].map((type) => [`model/types/${type}.yaml`, stringify({ type, kits: ['care'] })]);
    const folder = workspace({
      'lumbrik.yaml': 'workspace: Garden\n',
      ...Object.fromEntries(types),
      ...kit({}),
      'content/plant/a.yaml': 'needs: sun, rain\n',
      'content/plant/b.yaml': 'needs: sun, shade\n',
      'content/bed/c.yaml': 'needs: frost, rain\n',
      'content/bed/d.yaml': 'needs: frost, sun\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, kit({ many: true }));
    await result(folder, ['migration', 'draft']);
    const becomes = async (answer: string): Promise<readonly unknown[]> => {
      await result(folder, ['migration', 'answer', '--step', '1', answer]);
      const { steps } = await result(folder, ['migration', 'rehearse']);
      return steps.flatMap(({ samples }: any) => samples.slice(0, 1).map(({ after }: any) => after));
    };
    const [asked] = await askedIn(folder);
    expect(asked?.answers).toContain('no');
    expect(await becomes('--no')).toEqual([['frost, rain'], ['sun, rain']]);
    expect(await becomes('--yes')).toEqual([
      ['frost', 'rain'],
      ['sun', 'rain'],
    ]);
    expect(await becomes('--no')).toEqual([['frost, rain'], ['sun, rain']]);
  });

  test('a no in the file is refused where no step follows from it', async () => {
    const folder = await changed(
      plant({ name: { kind: 'text' }, height: { kind: 'integer' }, note: { kind: 'text' } }),
      { a: { name: 'A', height: 3, note: 'x' }, b: { name: 'B', height: 4, note: 'y' } },
      plant({ name: { kind: 'text' }, heightCm: { kind: 'integer' } }),
    );
    const { file } = await result(folder, ['migration', 'draft']);
    const text = read(folder, file);
    const verbs = parse(text).steps.map((step: Fields) => Object.keys(step)[0]);
    expect(verbs).toEqual(['rename', 'drop']);
    const mends: string[] = [];
    for (const question of text.match(/^ {4}open: .*$/gmu) ?? []) {
      write(folder, { [file]: text.replace(question, `${question}\n    answer: no`) });
      const { error } = await result(folder, ['migration', 'rehearse']);
      mends.push(error.mend);
    }
    expect(mends).toEqual([
      'Take the line out, and have the steps worked out without it: lumbrik migration answer --step 1 --no',
      'Write `answer: yes`, or change the step.',
    ]);
  });

  test('what a refused guess would have kept is asked about', async () => {
    const folder = await changed(
      plant({ name: { kind: 'text' }, place: { kind: 'text' }, day: { kind: 'date' } }),
      { a: { name: 'A', place: 'x', day: '2020-01-01' }, b: { name: 'B' } },
      {
        ...plant({ name: { kind: 'text' } }),
        'model/types/event.yaml': stringify({
          type: 'event',
          fields: { name: { kind: 'text' }, place: { kind: 'text' }, day: { kind: 'date' } },
        }),
      },
    );
    await result(folder, ['migration', 'draft']);
    const [send] = await askedIn(folder);
    expect(send).toMatchObject({ verb: 'send' });
    for (const answer of ['--yes', '--yes', '--no'])
      await result(folder, ['migration', 'answer', '--step', String(send?.step), answer]);
    expect((await askedIn(folder)).map(({ address, yes }) => [address, yes])).toEqual([
      ['plant.day', 'lose'],
      ['plant.place', 'lose'],
    ]);
  });

  test('what a rule of a type asks takes no value', async () => {
    const folder = await changed(
      plant({ low: { kind: 'integer' }, high: { kind: 'integer' } }),
      { a: { low: 3, high: 1 } },
      plant(
        { low: { kind: 'integer' }, high: { kind: 'integer' } },
        { rules: [{ expect: 'entry.low <= entry.high', say: 'low is not above high' }] },
      ),
    );
    await result(folder, ['migration', 'draft']);
    expect((await askedIn(folder)).map(({ address, answers }) => [address, answers])).toEqual([['plant', ['yes']]]);
  });

  test('a field of a kit is asked about once for all who have it', async () => {
    const kit = (fields: Fields): Files => ({ 'model/kits/care.yaml': stringify({ kit: 'care', fields }) });
    const types = Object.fromEntries(
      ['plant', 'bed', 'pond'].map((name) => [
        `model/types/${name}.yaml`,
        stringify({ type: name, kits: ['care'], fields: { name: { kind: 'text' } } }),
      ]),
    );
    const folder = workspace({
      'lumbrik.yaml': 'workspace: Garden\n',
      ...types,
      ...kit({ water: { kind: 'text' } }),
      'content/plant/a.yaml': 'name: A\nwater: 3 days\n',
      'content/bed/b.yaml': 'name: B\n',
      'content/pond/c.yaml': 'name: C\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, kit({ water: { kind: 'text' }, level: { kind: 'integer', required: true } }));
    const { openQuestions, file } = await result(folder, ['migration', 'draft']);
    expect(openQuestions).toBe(1);
    const [question] = await askedIn(folder);
    await result(folder, ['migration', 'answer', '--step', String(question?.step), '--value', '2']);
    expect((await result(folder, ['migration', 'rehearse'])).ok).toBe(true);
    expect(read(folder, file).match(/like: /gu)).toHaveLength(2);
    await lumbrik(folder, ['migration', 'run']);
    for (const place of ['plant/a', 'bed/b', 'pond/c'])
      expect(read(folder, `content/${place}.yaml`)).toContain('level: 2\n');
    expect((await result(folder, ['check'])).ok).toBe(true);
  });

  test('a question under a condition goes once the field that the condition names is answered', async () => {
    const folder = await changed(
      plant({ name: { kind: 'text' } }),
      { a: { name: 'Rose' }, b: { name: 'Elm' } },
      plant({
        name: { kind: 'text' },
        sort: { kind: 'choice', choices: ['tree', 'pond'], required: true },
        depth: { kind: 'integer', required: true, when: "entry.sort == 'pond'" },
      }),
    );
    await result(folder, ['migration', 'draft']);
    const [first] = (await askedIn(folder)).filter(({ address }) => address === 'plant.sort');
    const { questions } = await result(folder, [
      'migration',
      'answer',
      '--step',
      String(first?.step),
      '--value',
      'tree',
    ]);
    expect(questions).toEqual([]);
    expect((await result(folder, ['migration', 'rehearse'])).ok).toBe(true);
  });

  test('one value that stands alone becomes a list where only lists may stand, and nothing is asked', async () => {
    const folder = await changed(
      plant({
        sites: { kind: 'text', many: { orOne: true } },
        notes: { kind: 'text', localized: true, many: { orOne: true } },
      }),
      { a: { sites: 'bed', notes: { en: 'x', de: ['y'] } }, b: { sites: ['bed', 'pond'] }, c: {} },
      plant({ sites: { kind: 'text', many: true }, notes: { kind: 'text', localized: true, many: true } }),
    );
    const { openQuestions } = await result(folder, ['migration', 'draft']);
    expect(openQuestions).toBe(0);
    const { ok, changed: entries } = await result(folder, ['migration', 'rehearse']);
    expect([ok, entries]).toEqual([true, 1]);
    await lumbrik(folder, ['migration', 'run']);
    expect(parse(read(folder, 'content/plant/a.yaml'))).toEqual({ sites: ['bed'], notes: { en: ['x'], de: ['y'] } });
    expect((await result(folder, ['check'])).ok).toBe(true);
  });

  test('a few texts with commas are enough, where splitting carries more', async () => {
    const choices = ['oak', 'elm', 'ash'];
    const entries = Object.fromEntries(
      Array.from({ length: 60 }, (_, index) => [
        `p${index}`,
        { wood: index < 3 ? 'oak, ash' : (choices[index % 3] ?? '') },
      ]),
    );
    const folder = await changed(
      plant({ wood: { kind: 'text' } }),
      entries,
      plant({ wood: { kind: 'choice', choices, many: true } }),
    );
    const { file } = await result(folder, ['migration', 'draft']);
    expect(read(folder, file)).toContain('split: ", "');
    expect(read(folder, file)).toContain('3 of 60 texts are lists with “, ” between their items');
  });
});

describe('values that become entries, terms and maps [G6, H2]', () => {
  const person: Files = {
    'model/types/person.yaml': stringify({ type: 'person', titled: 'name', fields: { name: { kind: 'text' } } }),
  };

  test('values that are other ways of writing one become one entry, where the person who is asked agrees', async () => {
    const names = ['Maren Holt', 'M. Holt', 'maren holt', 'Ada Rook', 'A. Rook', 'Bo Lind', 'Ben Lind', 'B. Lind'];
    const entries = Object.fromEntries(names.map((name, index) => [`p${index}`, { by: name }]));
    const folder = await changed(
      plant({ by: { kind: 'text' } }),
      { ...entries, q: { by: 'Maren Holt' } },
      {
        ...plant({ by: { kind: 'reference', to: 'person' } }),
        ...person,
      },
    );
    const { file } = await result(folder, ['migration', 'draft']);
    const [step] = parse(read(folder, file)).steps.filter((one: Fields) => one.pull);
    // Who B. Lind is, nobody can tell.
    expect(step.merge).toEqual({ 'M. Holt': 'Maren Holt', 'maren holt': 'Maren Holt', 'A. Rook': 'Ada Rook' });
    await result(folder, ['migration', 'answer', '--yes']);
    const { made, lost } = await result(folder, ['migration', 'rehearse']);
    expect(made).toBe(5);
    expect(lost.map(({ value, becomes }: { value: string; becomes: string }) => [value, becomes])).toEqual([
      ['M. Holt', 'Maren Holt'],
      ['maren holt', 'Maren Holt'],
      ['A. Rook', 'Ada Rook'],
    ]);
    await lumbrik(folder, ['migration', 'run']);
    expect(['p0', 'p1', 'p2', 'q'].map((id) => parse(read(folder, `content/plant/${id}.yaml`)).by)).toEqual(
      Array.from({ length: 4 }, () => 'maren-holt'),
    );
    expect((await result(folder, ['check'])).ok).toBe(true);
  });

  test('what entries have that finds no place where they go is said in the draft', async () => {
    const fields = {
      name: { kind: 'text' },
      site: { kind: 'text' },
      sort: { kind: 'choice', choices: ['tree', 'pond'] },
    };
    const folder = await changed(
      plant({ ...fields, note: { kind: 'text' } }),
      { a: { name: 'A', site: 'x', sort: 'pond', note: 'deep' }, b: { name: 'B', sort: 'tree' } },
      {
        ...plant({ ...fields, note: { kind: 'text' }, sort: { kind: 'choice', choices: ['tree'] } }),
        'model/types/pond.yaml': stringify({
          type: 'pond',
          fields: { name: { kind: 'text' }, site: { kind: 'text' } },
        }),
      },
    );
    const { file } = await result(folder, ['migration', 'draft']);
    expect(read(folder, file).replaceAll(/\n\s*# ?/gu, ' ')).toContain('lost would be `note` of 1 and `sort` of 1');
  });

  test('a single reference gets the type of its entry where the other type points at several', async () => {
    const points = (to: Json): Json => ({ kind: 'reference', to });
    const folder = await changed(
      {
        ...plant({ name: { kind: 'text' }, site: points('bed'), more: points('bed') }),
        'model/types/bed.yaml': stringify({ type: 'bed', fields: { name: { kind: 'text' } } }),
      },
      { a: { name: 'A', site: 'b1', more: 'b1' } },
      {
        'model/types/tree.yaml': stringify({
          type: 'tree',
          fields: { name: { kind: 'text' }, site: points(['bed', 'tree']), more: points('bed') },
        }),
        ...plant({ name: { kind: 'text' } }),
      },
    );
    write(folder, { 'content/bed/b1.yaml': 'name: B\n' });
    const { file } = await result(folder, ['migration', 'draft']);
    const send = '  - send: plant\n    to: tree\n';
    const text = read(folder, file);
    write(folder, {
      [file]: text.includes('send: plant')
        ? text
        : text.replace(
            /(\n\s*#[^\n]*)*\n\s*- drop: plant\.(?:more|site)[\s\S]*$/u,
            `\n${send}\n${text.slice(text.search(/\n\s*#[^\n]*\n\s*- drop/u) + 1)}`,
          ),
    });
    for (const { step } of await askedIn(folder))
      await result(folder, ['migration', 'answer', '--step', String(step), '--yes']);
    const { lost } = await result(folder, ['migration', 'rehearse']);
    expect(lost).toEqual([]);
    await lumbrik(folder, ['migration', 'run']);
    expect(parse(read(folder, 'content/tree/a.yaml'))).toEqual({ name: 'A', site: 'bed/b1', more: 'b1' });
    expect((await result(folder, ['check'])).ok).toBe(true);
  });

  test('a text comes under the main language in a map, and two words for a term leave it once', async () => {
    const folder = await changed(
      plant({ name: { kind: 'text' }, tags: { kind: 'text', many: true } }),
      { a: { name: 'Rose', tags: ['Bird', 'birds', 'Fish'] } },
      {
        ...plant({
          name: { kind: 'map', keys: { kind: 'language' }, value: { kind: 'text' } },
          tags: { kind: 'term', taxonomy: 'topic', many: true },
        }),
        'model/taxonomies/topic.yaml': stringify({
          taxonomy: 'topic',
          terms: [{ term: 'bird', label: 'Bird', synonyms: ['birds'] }, 'fish'],
        }),
      },
    );
    const { file } = await result(folder, ['migration', 'draft']);
    expect(read(folder, file)).toContain('inside: en');
    for (const { step } of await askedIn(folder))
      await result(folder, ['migration', 'answer', '--step', String(step), '--yes']);
    await result(folder, ['migration', 'rehearse']);
    await lumbrik(folder, ['migration', 'run']);
    expect(parse(read(folder, 'content/plant/a.yaml'))).toEqual({ name: { en: 'Rose' }, tags: ['bird', 'fish'] });
    const before = parse(read(folder, 'content/plant/a.yaml'));
    await lumbrik(folder, ['migration', 'undo']);
    expect(parse(read(folder, 'content/plant/a.yaml'))).not.toEqual(before);
  });
});

describe('a no goes on to the second that would fit, before anything is lost [G6]', () => {
  /** Takes the first guess of a verb back, and tells what the next one is about. */
  const afterNo = async (folder: string, verb: string): Promise<readonly string[]> => {
    const { file } = await result(folder, ['migration', 'draft']);
    const guesses: string[] = [];
    for (;;) {
      const asked = (await askedIn(folder)).find((one) => one.verb === verb);
      if (!asked) break;
      const said = parse(read(folder, file)).steps[asked.step - 1];
      guesses.push(
        `${asked.address} ${typeof said.to === 'string' ? said.to : Object.keys(said.into ?? {}).join('+')}`,
      );
      const text = read(folder, file);
      const why =
        text
          .slice(0, text.indexOf(`- ${verb}: ${asked.address}`))
          .split('\n\n')
          .at(-1) ?? '';
      if (guesses.length === 1) expect(why.replaceAll(/\n\s*# /gu, ' ')).toMatch(/would fit as well/u);
      await result(folder, ['migration', 'answer', '--step', String(asked.step), '--no']);
    }
    const { apart } = parse(read(folder, file));
    expect(apart).toHaveLength(guesses.length);
    return guesses;
  };

  const town = { kind: 'text', max: 40 };
  const entries = Object.fromEntries(
    [1, 2, 3, 4].map((n) => [`p${n}`, { name: `N${n}`, town: `Town ${n}`, towns: `Towm ${n}` }]),
  );

  test('a field that was moved', async () => {
    const folder = await changed(
      plant({ name: { kind: 'text' }, town, towns: town }),
      entries,
      plant({ name: { kind: 'text' }, at: { kind: 'object', fields: { twn: town } } }),
    );
    const guesses = await afterNo(folder, 'move');
    expect(guesses.toSorted()).toEqual(['plant.town plant.at.twn', 'plant.towns plant.at.twn']);
  });

  test('a text that was split', async () => {
    const folder = await changed(
      plant({ name: { kind: 'text' }, size: { kind: 'text' }, bed: { kind: 'text' } }),
      Object.fromEntries([1, 2, 3, 4].map((n) => [`p${n}`, { name: `N${n}`, size: `${n} x 2`, bed: `${n} x 3` }])),
      plant({ name: { kind: 'text' }, wide: { kind: 'integer' }, deep: { kind: 'integer' } }),
    );
    expect((await afterNo(folder, 'split')).toSorted()).toEqual(['plant.bed wide+deep', 'plant.size wide+deep']);
  });

  test('entries that belong to another type', async () => {
    const fields = { name: { kind: 'text' }, day: { kind: 'date' }, site: { kind: 'text' } };
    const type = (name: string, own: Fields): Files => ({
      [`model/types/${name}.yaml`]: stringify({ type: name, fields: own }),
    });
    const folder = workspace({
      'lumbrik.yaml': 'workspace: Garden\n',
      ...type('walk', fields),
      ...type('event', { ...fields, price: { kind: 'decimal' } }),
      ...type('talk', { ...fields, room: { kind: 'text' } }),
      'content/walk/a.yaml': 'name: A\nday: "2026-01-01"\nsite: s\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    fs.rmSync(path.join(folder, 'model/types/walk.yaml'));
    expect((await afterNo(folder, 'send')).toSorted()).toEqual(['walk event', 'walk talk']);
    // Then what is lost is asked.
    expect((await askedIn(folder)).map(({ verb, yes }) => [verb, yes])).toEqual([['drop', 'lose']]);
  });
});
