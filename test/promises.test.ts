import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { compare } from '../src/core/diff/compare.ts';
import { addressOf, sayDifference } from '../src/core/diff/difference.ts';
import { ImpactCount, ratingOf } from '../src/core/diff/impact.ts';
import { kinds } from '../src/core/kinds/index.ts';
import { link } from '../src/core/model/link.ts';
import { edited, errorsOf, obeying, sketch, wholeOf } from './support/anyModel.ts';
import { showTo } from './support/drafted.ts';
import { edit, lumbrik, read, result, workspace, write } from './support/program.ts';

const runs = { numRuns: Number(process.env.RUNS ?? 250) };

/** What always takes a step for entries, even where it loses nothing. */
const steps = new Set(['renamed', 'field-reshaped', 'field-removed', 'type-removed']);

const change = sketch
  .chain((before) => fc.tuple(fc.constant(before), edited(before)))
  .map(([before, after]) => [wholeOf(before), wholeOf(after)] as const)
  .chain(([before, after]) => fc.tuple(fc.constant(before), fc.constant(after), obeying(link(before))));

describe('a comparison never promises what checking then denies [G3, G4, I2]', () => {
  test('what is rated as asking nothing of entries leaves all of them right together, and so does what hits none', () => {
    const met = new Set<string>();
    let promised = 0;
    fc.assert(
      fc.property(change, ([before, after, entries]) => {
        for (const { fields } of Object.values(before.types))
          for (const { kind } of Object.values(fields)) met.add(kind);
        const comparison = compare(before, after);
        const { differences } = comparison;
        const linked = link(before);
        const rating = ratingOf(comparison);
        const impact = new ImpactCount(linked, comparison, new Map());
        showTo(impact, linked, entries);
        const hits = differences.reduce((sum, one) => sum + (impact.impactOf(one)?.hits ?? 0), 0);
        const moves = differences.some(({ name }) => steps.has(name));
        if (differences.length === 0 || (rating.entries !== 'valid' && (hits > 0 || moves))) return;
        promised += 1;
        const said = differences.map((one) => `${addressOf(one)}: ${sayDifference(one)}`);
        expect([
          said,
          errorsOf(link(after), entries).map(({ message, entry, path }) => [message, entry, path]),
        ]).toEqual([said, []]);
      }),
      runs,
    );
    expect([...kinds.keys()].filter((kind) => !met.has(kind))).toEqual([]);
    expect(promised).toBeGreaterThan(runs.numRuns / 4);
  });

  test('a term below a leaf that entries have, where a field takes leaves alone', async () => {
    const regions = (north: string): Record<string, string> => ({
      'model/taxonomies/region.yaml': `taxonomy: region\nterms:\n  - ${north}\n  - south\n`,
    });
    const folder = workspace({
      'model/types/light.yaml':
        'type: light\nfields:\n  region: { kind: term, taxonomy: region, leaves: true }\n  area: { kind: term, taxonomy: area, leaves: true }\n',
      'model/taxonomies/area.yaml': 'taxonomy: area\nborrows: ["region:"]\n',
      ...regions('north'),
      'content/light/a.yaml': 'region: north\n',
      'content/light/b.yaml': 'area: north\n',
      'content/light/c.yaml': 'region: south\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, regions('{ term: north, terms: [skerries] }'));
    expect(await result(folder, ['diff'])).toMatchObject({
      entries: 'migrate',
      changes: [{ change: 'term-added', entries: 'migrate', impact: { hits: 2, of: 3 } }],
    });
    expect((await result(folder, ['seal', '-m', 'two'])).standing).toMatchObject({ state: 'behind' });
    const { file } = await result(folder, ['migration', 'draft']);
    expect(read(folder, file)).toContain('How are the entries mended that no longer fit?');
  });

  test.each<[string, string, string, Record<string, string>]>([
    ['a reference to several types', 'to: keeper', 'to: [keeper, light]', { 'content/light/a.yaml': 'x: k\n' }],
    [
      'a new reference that every target needs',
      'to: keeper',
      'to: keeper }\n  y: { kind: reference, to: keeper, inverse: { name: o, min: 1 }',
      {},
    ],
  ])('%s', async (_what, from, to, entries) => {
    const folder = workspace({
      'model/types/keeper.yaml': 'type: keeper\nfields: {}\n',
      'model/types/light.yaml': `type: light\nfields:\n  x: { kind: reference, ${from} }\n`,
      'content/keeper/k.yaml': '{}\n',
      ...entries,
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/light.yaml', from, to);
    expect(await result(folder, ['diff'])).toMatchObject({ entries: 'migrate', changes: [{ impact: { hits: 1 } }] });
  });
});
