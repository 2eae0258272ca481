import fc from 'fast-check';
import { test } from 'vitest';
import { compare } from '../src/core/diff/compare.ts';
import { addressOf, sayDifference } from '../src/core/diff/difference.ts';
import { ImpactCount, ratingOf } from '../src/core/diff/impact.ts';
import { statusOf } from '../src/core/entry/entry.ts';
import { link } from '../src/core/model/link.ts';
import { fieldsOf } from '../src/core/model/ownFields.ts';
import { edited, errorsOf, obeying, sketch, wholeOf } from './support/anyModel.ts';

const change = sketch
  .chain((before) => fc.tuple(fc.constant(before), edited(before)))
  .map(([before, after]) => [wholeOf(before), wholeOf(after)] as const)
  .chain(([before, after]) => fc.tuple(fc.constant(before), fc.constant(after), obeying(link(before))));
test('x', () => {
  const seen = new Map<string, any>();
  let n = 0,
    prom = 0,
    ents = 0;
  fc.assert(
    fc.property(change, ([before, after, entries]) => {
      n++;
      const comparison = compare(before, after);
      const { differences } = comparison;
      const linked = link(before);
      const rating = ratingOf(comparison);
      const impact = new ImpactCount(linked, comparison);
      for (const entry of entries)
        impact.see({
          type: entry.type,
          id: entry.id,
          status: statusOf(entry),
          fields: fieldsOf(entry, linked.types.get(entry.type)),
        });
      const hits = differences.reduce((sum, one) => sum + (impact.impactOf(one)?.hits ?? 0), 0);
      const moves = differences.some(({ name }) =>
        ['field-reshaped', 'renamed', 'field-removed', 'type-removed'].includes(name),
      );
      if (differences.length === 0 || (rating.entries !== 'valid' && (hits > 0 || moves))) return;
      prom++;
      ents += entries.length;
      const errors = errorsOf(link(after), entries);
      if (errors.length === 0) return;
      const key =
        differences
          .map(
            (one) =>
              `${one.name} ${(one as any).option ?? ''} ${(one as any).was?.kind ?? (one as any).definition?.kind ?? ''}`,
          )
          .join('; ') +
        ' => ' +
        [...new Set(errors.map((e) => e.message))].join(',');
      if (!seen.has(key))
        seen.set(key, {
          rating: rating.entries,
          said: differences.map((one) => `${addressOf(one)}: ${sayDifference(one)}`),
          e: errors.slice(0, 2).map((x) => [x.message, x.path, x.entry, JSON.stringify(x.data)]),
          v: JSON.stringify(entries.find((z) => z.id === errors[0]?.entry.id)?.values).slice(0, 300),
        });
    }),
    { numRuns: Number(process.env.RUNS ?? 3000), seed: Number(process.env.SEED ?? 5) },
  );
  console.log(n, prom, ents);
  for (const [k, v] of [...seen].sort((a, b) => a[0].length - b[0].length).slice(0, 40))
    console.log(k, '\n    ', JSON.stringify(v).slice(0, 900));
}, 600000);
