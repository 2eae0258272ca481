import { describe, expect, test } from 'vitest';
import { edit, lumbrik, result, snapshot, workspace, write } from './support/program.ts';

const files = {
  'lumbrik.yaml': 'workspace: Clocks\nlanguages: [de]\n',
  'model/types/clock.yaml':
    'type: clock\nfields:\n  name: { kind: text, required: true, max: 30 }\n  height: { kind: decimal }\n  age: { kind: term, taxonomy: age }\n  maker: { kind: reference, to: maker }\n',
  'model/types/maker.yaml': 'type: maker\nfields:\n  name: { kind: text }\n',
  'model/taxonomies/age.yaml': 'taxonomy: age\nterms:\n  - { term: old }\n  - { term: new }\n',
  'content/clock/a.yaml': 'name: A clock with a name\nheight: 2.5\nage: old\nmaker: m\n',
  'content/clock/b.yaml': 'name: B\nheight: "3"\nage: new\n',
  'content/clock/c.yaml': 'age: old\n',
  'content/maker/m.yaml': 'name: M\n',
};

/** A sealed model that has moved on: a limit, a name, a term that is gone, something new that is asked for. */
async function changed(): Promise<string> {
  const folder = workspace(files);
  await lumbrik(folder, ['seal', '-m', 'one']);
  edit(folder, 'model/types/clock.yaml', 'max: 30', 'max: 10');
  edit(folder, 'model/types/clock.yaml', 'height:', 'size:');
  edit(folder, 'model/taxonomies/age.yaml', '  - { term: old }\n', '');
  edit(folder, 'model/types/maker.yaml', 'fields:\n', 'fields:\n  town: { kind: text, required: true }\n');
  return folder;
}
interface Told {
  readonly change?: { readonly address: string };
  readonly errors: number;
  readonly mended: number;
}
const short = (changes: readonly Told[]) =>
  Object.fromEntries(changes.map(({ change, errors, mended }) => [change?.address ?? '', [errors, mended]]));

describe('a check against the changed model [I2]', () => {
  test('tells what the change of the model causes, under the change that causes it, and nothing else', async () => {
    const folder = await changed();
    const before = snapshot(folder);
    const told = await result(folder, ['check', '--since', '1']);
    expect(short(told.changes)).toEqual({
      'clock.name': [1, 0],
      'clock.height': [2, 0],
      'age:old': [2, 0],
      'maker.town': [1, 0],
    });
    expect([told.ok, told.code, told.entries]).toEqual([false, 1, 4]);
    // What was wrong before is no business of the change: an entry without a name, a number in quotes.
    expect(JSON.stringify(told)).not.toContain('number-in-quotes');
    const { out } = await lumbrik(folder, ['check', '--since', '1', '--limit', '1']);
    expect(out).toContain('clock.name');
    expect(out).toContain('and 1 more');
    expect(out).toContain('lumbrik migration draft');
    expect(snapshot(folder)).toEqual(before);
  });

  test('and what the pending migration would mend of it', async () => {
    const folder = await changed();
    await lumbrik(folder, ['migration', 'draft', '--renamed', 'clock.height=size']);
    const open = await result(folder, ['check', '--since', '1']);
    expect(short(open.changes)).toMatchObject({ 'clock.height': [2, 2] });
    expect([open.ok, open.migrations.length]).toEqual([false, 1]);
    for (const [address, ...answer] of [
      ['clock.name', '--cel', 'entry.name.substring(0, 1)'],
      ['age:old', '--use', 'new'],
      ['maker.town', '--value', 'Bern'],
    ]) {
      const { steps } = await result(folder, ['migration', 'show', '1']);
      const step = steps.find((one: { address: string }) => one.address === address)?.step;
      expect([
        address,
        (await lumbrik(folder, ['migration', 'answer', '1', '--step', String(step), ...answer])).code,
      ]).toEqual([address, 0]);
    }
    const answered = await result(folder, ['check', '--since', '1']);
    expect([answered.ok, answered.code]).toEqual([true, 0]);
    expect(Object.values(short(answered.changes)).every(([errors, mended]) => errors === mended)).toBe(true);
    expect((await lumbrik(folder, ['check', '--since', '1'])).out).toContain('mends all of it');
  });

  test('of several changes of one field, the one is told whose option is broken', async () => {
    const folder = workspace({
      'lumbrik.yaml': 'workspace: Clocks\nlanguages: [de]\n',
      'model/types/clock.yaml':
        'type: clock\nfields:\n  name: { kind: text }\n  parts: { kind: object, many: true, fields: { what: { kind: text } } }\n  photo: { kind: asset }\n',
      'content/clock/a.yaml': 'name: A long name\nparts: [{ what: A pendulum }, {}]\nphoto: a.txt\n',
      'content/clock/b.yaml': 'name: A long name\n',
      'content/clock/c.yaml': 'parts: []\n',
      'assets/a.txt': 'no picture\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, {
      'model/types/clock.yaml':
        'type: clock\nfields:\n  name: { kind: text, max: 5, pattern: { match: "^[a-z]+$", say: small letters }, required: true, unique: true }\n  parts: { kind: object, many: { max: 1 }, fields: { what: { kind: text, max: 4, required: true } } }\n  photo: { kind: asset, maxSize: 5 kB, media: ["image/*"] }\n',
    });
    const { changes } = await result(folder, ['check', '--since', '1']);
    const found = changes.map((one: any) => [
      `${one.change.address} ${one.change.option}`,
      one.findings.map(({ finding }: { finding: string }) => finding),
    ]);
    expect(Object.fromEntries(found)).toEqual({
      'clock.name max': ['too-long', 'too-long'],
      'clock.name pattern': ['pattern', 'pattern'],
      'clock.name required': ['required-missing'],
      'clock.name unique': ['not-unique'],
      'clock.parts many': ['too-many-items'],
      'clock.parts.what max': ['too-long'],
      'clock.parts.what required': ['required-missing'],
      'clock.photo media': ['media-not-allowed'],
    });
  });

  test('is quiet where nothing new is wrong, and counts what is gone', async () => {
    const folder = workspace(files);
    await lumbrik(folder, ['seal', '-m', 'one']);
    expect(await result(folder, ['check', '--since', '1'])).toMatchObject({
      ok: true,
      changes: [],
      gone: 0,
      harmless: 0,
    });
    edit(folder, 'model/types/clock.yaml', 'required: true, ', '');
    expect(await result(folder, ['check', '--since', '1'])).toMatchObject({
      ok: true,
      changes: [],
      gone: 1,
      harmless: 1,
    });
    expect((await lumbrik(folder, ['check', '--since', '1'])).out).toContain('Nothing new is wrong');
  });

  test('what cannot be asked', async () => {
    const folder = workspace(files);
    expect((await result(folder, ['check', '--since', '1'])).error.code).toBe('no-revision');
    await lumbrik(folder, ['seal', '-m', 'one']);
    for (const args of [
      ['--since', '2'],
      ['clock', '--since', '1'],
      ['--since', '1', '--fix'],
      ['--since', '1', '--baseline'],
    ])
      expect([args, (await result(folder, ['check', ...args])).code]).toEqual([args, 2]);
    write(folder, { 'model/types/maker.yaml': 'type: maker\nfields: { name: { kind: txt } }\n' });
    expect((await result(folder, ['check', '--since', '1'])).code).toBe(2);
  });
});
