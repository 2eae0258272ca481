import { spawnSync } from 'node:child_process';
import { describe, expect, test } from 'vitest';
import { equal } from '../src/core/plain/json.ts';
import { edit, lumbrik, plainEnv, program, read, result, workspace, write } from './support/program.ts';

const model = 'model/types/tour.yaml';
const before = `type: tour
titled: name
fields:
  name: { kind: text, required: true }
  blurb: { kind: longText }
  town: { kind: text }
  tags: { kind: text }
`;
const after = `type: tour
titled: name
fields:
  name: { kind: text, required: true, max: 4 }
  summary: { kind: longText }
  city: { kind: text }
  tags: { kind: text, many: true }
  level: { kind: integer, required: true }
`;

/** A workspace with a drafted migration that asks several things. */
async function drafted(): Promise<{ folder: string; file: string }> {
  const folder = workspace({
    [model]: before,
    'content/tour/a.yaml': 'name: Harbour\nblurb: A walk.\ntown: Gannet\ntags: sea, light\n',
    'content/tour/b.yaml': 'name: Sea\ntags: harbour, boats\n',
  });
  await lumbrik(folder, ['seal', '-m', 'one']);
  write(folder, { [model]: after });
  const { file } = await result(folder, ['migration', 'draft']);
  return { folder, file };
}
const asked = async (folder: string, ...args: string[]): Promise<string[]> =>
  (await result(folder, ['migration', 'answer', ...args])).questions.map(
    ({ verb, address, answers }: any) => `${verb} ${address}: ${answers.join(' ')}`,
  );
const stepOf = async (folder: string, name: string): Promise<string> =>
  (await result(folder, ['migration', 'answer'])).questions.find(
    ({ verb, address }: any) => `${verb} ${address}` === name,
  ).step;

describe('what a migration asks is answered [H1, H3]', () => {
  test('the questions are listed, with what the entries say and how each is answered', async () => {
    const { folder } = await drafted();
    expect(await asked(folder)).toEqual([
      'rename tour.blurb: yes no',
      'rename tour.town: yes no',
      'convert tour.tags: yes no value cel',
      'add tour.level: yes value cel',
      'change tour.name: yes value cel',
    ]);
    const { questions } = await result(folder, ['migration', 'answer']);
    expect(questions[2]).toMatchObject({
      suggested: { split: ', ' },
      says: expect.stringContaining('2 of 2 texts are lists'),
    });
    const { out, code } = await lumbrik(folder, ['migration', 'answer']);
    expect([code, out]).toEqual([0, expect.stringContaining('5 open questions')]);
    for (const line of out.split('\n')) expect(line.length).toBeLessThanOrEqual(100);
  });

  test('by flags: beside each question, and the rest of the file stays to the byte', async () => {
    const { folder, file } = await drafted();
    const text = read(folder, file);
    const answer = async (name: string, ...args: string[]) =>
      (await lumbrik(folder, ['migration', 'answer', '--step', String(await stepOf(folder, name)), ...args])).err;
    expect(await answer('rename tour.blurb', '--yes')).toBe('');
    expect(read(folder, file)).toBe(
      text.replace('open: Is this a rename?\n', 'open: Is this a rename?\n    answer: yes\n'),
    );
    expect(await answer('rename tour.town', '--yes')).toBe('');
    expect(await answer('convert tour.tags', '--yes')).toBe('');
    expect(await answer('add tour.level', '--value', '1')).toBe('');
    expect(await answer('change tour.name', '--cel', 'entry.name.substring(0, 4)')).toBe('');
    expect(await asked(folder)).toEqual([]);
    expect(read(folder, file)).toContain('    value: 1\n    answer: yes\n');
    expect((await lumbrik(folder, ['migration', 'rehearse'])).out).toContain('Clean afterwards');
    await lumbrik(folder, ['migration', 'run']);
    expect(read(folder, 'content/tour/a.yaml')).toBe(
      'name: Harb\nsummary: A walk.\ncity: Gannet\ntags:\n  - sea\n  - light\nlevel: 1\n',
    );
  });

  test('that it was no rename works that part out anew, for good, and leaves the rest as it is', async () => {
    const { folder, file } = await drafted();
    edit(folder, file, '# `blurb` is gone', '# Asked Ada: yes.\n  # `blurb` is gone');
    const answered = await result(folder, [
      'migration',
      'answer',
      '--step',
      String(await stepOf(folder, 'rename tour.blurb')),
      '--yes',
    ]);
    expect(answered.replanned).toBe(false);
    const again = await result(folder, [
      'migration',
      'answer',
      '--step',
      String(await stepOf(folder, 'rename tour.town')),
      '--no',
    ]);
    expect(again.replanned).toBe(true);
    const text = read(folder, file);
    expect(text).toContain('apart: [ tour.town=city ]\n');
    expect(text).toMatch(/# Asked Ada: yes\.\n[\s\S]*rename: tour\.blurb\n.*\n.*\n {4}answer: yes\n/u);
    expect(await asked(folder)).toEqual([
      'convert tour.tags: yes no value cel',
      'add tour.level: yes value cel',
      'change tour.name: yes value cel',
      'drop tour.town: yes',
    ]);
    // When the model changes as well, what was refused stays refused and what was answered stays answered.
    edit(folder, model, 'max: 4', 'max: 5');
    expect(await result(folder, ['migration', 'draft'])).toMatchObject({ file, kept: 0, openQuestions: 4 });
    expect(await asked(folder)).toContain('drop tour.town: yes');
    expect(read(folder, file)).toMatch(/rename: tour\.blurb\n.*\n.*\n {4}answer: yes\n/u);
  });

  test('that texts are no lists is answered too', async () => {
    const { folder, file } = await drafted();
    await lumbrik(folder, ['migration', 'answer', '--step', String(await stepOf(folder, 'convert tour.tags')), '--no']);
    expect(read(folder, file)).toMatch(/split: .*\n(?: {4}.*\n)* {4}answer: no\n/u);
    expect((await asked(folder)).join()).not.toContain('tour.tags');
    const { steps } = await result(folder, ['migration', 'rehearse']);
    const { samples } = steps.find(({ address }: any) => address === 'tour.tags');
    expect(samples).not.toEqual([]);
    expect(samples.map(({ before, after }: any) => equal(after, [before]))).toEqual(samples.map(() => true));
  });

  test('a draft again keeps the answers that still hold, what was added by hand, and asks anew what changed', async () => {
    const { folder, file } = await drafted();
    edit(folder, file, /(?<=add: tour\.level\n.*\n) {4}open: .*\n/u, '    cel: size(entry.name)\n');
    edit(
      folder,
      file,
      /(?<=change: tour\.name\n.*\n) {4}open: .*\n/u,
      '    cel: entry.name.substring(0, 4)\n\n  # By hand.\n  - set: tour.city\n    value: Gannet Town\n',
    );
    edit(folder, model, 'max: 4', 'max: 3');
    const { kept, openQuestions, steps } = await result(folder, ['migration', 'draft']);
    expect([kept, openQuestions]).toEqual([2, 3]);
    const text = read(folder, file);
    expect(text).toContain('    cel: size(entry.name)\n');
    expect(text).toMatch(/change: tour\.name\n {4}to: \{ max: 3 \}\n {4}cel: entry\.name\.substring\(0, 4\)\n/u);
    expect(text).toContain('  # By hand.\n  - set: tour.city\n    value: Gannet Town\n');
    expect(steps.map(({ verb }: any) => verb)).toContain('change');
  });

  test('what a person says later goes into the draft that stands', async () => {
    const { folder, file } = await drafted();
    const said = await result(folder, [
      'migration',
      'draft',
      '--not-renamed',
      'tour.blurb',
      '--renamed',
      'tour.town=city',
    ]);
    expect(said.file).toBe(file);
    expect(await asked(folder)).toEqual([
      'convert tour.tags: yes no value cel',
      'add tour.level: yes value cel',
      'change tour.name: yes value cel',
      'drop tour.blurb: yes',
    ]);
    expect((await lumbrik(folder, ['migration', 'draft'])).err).toContain('already leads from');
  });

  test('what entries get instead of a term that is gone; a term that is not there is refused', async () => {
    const taxonomy = 'model/taxonomies/town.yaml';
    const folder = workspace({
      [model]: 'type: tour\nfields:\n  name: { kind: text }\n  town: { kind: term, taxonomy: town }\n',
      [taxonomy]: 'taxonomy: town\nterms: [gannet, harbour, sound]\n',
      'content/tour/a.yaml': 'name: Sea\ntown: sound\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, { [taxonomy]: 'taxonomy: town\nterms: [gannet, harbour]\n' });
    const { file, steps } = await result(folder, ['migration', 'draft', '--not-renamed', 'town:sound']);
    expect(steps[0].how).toBe('Name it (`use: another-term`), or add `answer: yes` to let them lose it.');
    expect(await asked(folder)).toEqual(['drop town:sound: yes use']);
    const text = read(folder, file);
    const wrong = await lumbrik(folder, ['migration', 'answer', '--use', 'gannt']);
    expect([wrong.err, read(folder, file)]).toEqual([expect.stringContaining('gannt'), text]);
    expect((await result(folder, ['migration', 'answer', '--use', 'gannet'])).questions).toEqual([]);
    write(folder, { [file]: text.replace('open: ', 'use: gannet\n    open: ') });
    expect(await asked(folder)).toEqual([]);
    await lumbrik(folder, ['seal', '-m', 'two']);
    await lumbrik(folder, ['migration', 'rehearse']);
    await lumbrik(folder, ['migration', 'run']);
    expect(read(folder, 'content/tour/a.yaml')).toBe('name: Sea\ntown: gannet\n');
  });

  test.each([
    [['--step', '1', '--value', '3'], 'is not answered so'],
    [['--step', '99', '--yes'], 'asks nothing'],
    [['--yes'], 'asks several things'],
    [['--step', '1', '--yes', '--no'], 'do not go together'],
    [['--step', '5', '--cel', 'entry.nam'], 'there is no field `nam`'],
    [['7', '--yes'], 'there is no migration 7'],
  ])('%j is refused in words, and nothing is written', async (args, says) => {
    const { folder, file } = await drafted();
    const text = read(folder, file);
    expect((await lumbrik(folder, ['migration', 'answer', ...args])).err.toLowerCase()).toContain(says.toLowerCase());
    expect(read(folder, file)).toBe(text);
  });

  test('asked one after the other, what cannot be taken is said and asked again; an empty line is for later', async () => {
    const { folder, file } = await drafted();
    const input = 'y\nhm\nn\n\nc\nentry.nam\nc\nsize(entry.name)\ny\ny\n';
    const { status, stderr, stdout } = spawnSync(process.execPath, [program, 'migration', 'answer', '--ask'], {
      cwd: folder,
      encoding: 'utf8',
      input,
      env: plainEnv,
    });
    expect(status).toBe(0);
    expect(stderr).toContain('5 questions');
    expect(stderr).toContain('“hm” is none of them.\n  Type one of y, n, or Enter to leave it for later');
    expect(stderr).toContain('there is no field `nam`');
    expect(stdout).toContain('1 open question');
    expect(await asked(folder)).toEqual(['convert tour.tags: yes no value cel']);
    expect(read(folder, file)).toContain('cel: size(entry.name)');
  });
});

describe('a migration is read aloud [H1]', () => {
  test('each step in a sentence, with what it asks, and what comes next', async () => {
    const { folder } = await drafted();
    const { steps, from, to, state } = await result(folder, ['migration', 'show']);
    expect([from, to, state]).toEqual(['revision 1', 'the working files', 'open']);
    expect(steps.map(({ says }: any) => says)).toEqual([
      '`tour.blurb` is called `summary`, and all that mentions it follows.',
      '`tour.town` is called `city`, and all that mentions it follows.',
      '`tour.tags` becomes many text, and its values are carried over. Texts are split at “, ”.',
      '`tour.level` is new: integer.',
      'Of `tour.name`, max is 4.',
    ]);
    const { out } = await lumbrik(folder, ['migration', 'show', '1']);
    expect(out).toContain('› lumbrik migration answer 1  to answer what it asks');
    expect((await lumbrik(folder, ['migration', 'show', '7'])).err).toContain('There is no migration 7');
  });

  test.each([
    ['{ drop: topic:a, use: b }', '`topic:a` goes; entries that have it get `b`.'],
    ['{ drop: tour.a }', '`tour.a` goes, and what entries have of it is lost.'],
    ['{ move: tour.a, to: tour.b.a }', '`tour.a` stands at `tour.b.a`, and its values go along.'],
    ['{ set: tour.a, cel: entry.b, where: has(entry.b) }', '`tour.a` gets what entry.b gives, where has(entry.b).'],
    ['{ set: tour.a, value: null }', '`tour.a` gets no value.'],
    ['{ arrange: "topic:", tree: [a] }', 'The terms of `topic:` stand in another order or under other terms.'],
    [
      '{ add: tour.a, field: { kind: text, many: {} }, value: [x] }',
      '`tour.a` is new: many text. The entries that exist get ["x"].',
    ],
    ['{ add: boat, type: {} }', '`boat` is new.'],
    [
      '{ change: tour.a, to: { max: 4, min: null }, cel: "\'x\'" }',
      "Of `tour.a`, max is 4 and min goes. Values that no longer fit get what 'x' gives.",
    ],
    [
      '{ change: shared, to: { kits: { sharing: {} } } }',
      'What is kept once and used in many types is as the model says now: sharing.',
    ],
    [
      '{ convert: tour.a, field: { kind: reference, to: [b] }, by: b.name, value: x }',
      '`tour.a` becomes reference, and its values are carried over. Texts are looked up as `b.name`. What cannot be carried over gets “x”.',
    ],
  ])('%s', async (step, says) => {
    const { folder, file } = await drafted();
    write(folder, { [file]: read(folder, file).replace(/steps:[\s\S]*$/u, `steps:\n  - ${step}\n`) });
    expect((await result(folder, ['migration', 'show'])).steps[0].says).toBe(says);
  });
});
