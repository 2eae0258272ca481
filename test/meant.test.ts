import { describe, expect, test } from 'vitest';
import { stringify } from 'yaml';
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
