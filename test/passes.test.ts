import { fileURLToPath } from 'node:url';
import fc from 'fast-check';
import { beforeAll, describe, expect, test } from 'vitest';
import { planMigration } from '../src/core/migration/plan.ts';
import { readMigration } from '../src/core/migration/read.ts';
import { addressesPass } from '../src/passes/addresses.ts';
import { aheadPass } from '../src/passes/ahead.ts';
import { checkPass } from '../src/passes/check.ts';
import { digestPass } from '../src/passes/digest.ts';
import { learnPass } from '../src/passes/learn.ts';
import type { BeginPart, Pass } from '../src/passes/pass.ts';
import { profilePass } from '../src/passes/profile.ts';
import { rehearsePass } from '../src/passes/rehearse.ts';
import { entriesOf, walk } from '../src/passes/walk.ts';
import { workNamed } from '../src/passes/works.ts';
import { openStore } from '../src/stores/open.ts';
import type { EntryStore, Item, Part } from '../src/stores/store.ts';
import { openWorkspace } from '../src/workspace/open.ts';

const workspace = openWorkspace(fileURLToPath(new URL('../starters/lighthouses', import.meta.url)));
const { model } = workspace;
const onDisk = openStore(workspace);
const circumstances = { currentTime: '2026-06-01T12:00:00Z' };

interface PartOfList extends Part {
  readonly from: number;
  readonly to: number;
}

/** The entries of the lighthouses, some of them wrong, twice there or not to be read. */
const items: Item[] = [];

beforeAll(async () => {
  for await (const stored of entriesOf(onDisk)) {
    const { place, version, entry } = stored;
    items.push(stored);
    if (items.length % 7 === 0) items.push({ ...stored, entry: { ...entry, values: { ...entry.values, odd: 1 } } });
    if (items.length % 11 === 0)
      items.push({ place, version, problem: { says: 'is broken', mend: 'Mend it.', line: 1, column: 1 } });
  }
});

/** A store of these items, cut behind some of them. */
function cutStore(cuts: readonly number[]): EntryStore<PartOfList> {
  const ends = [...new Set([...cuts.map((cut) => cut % items.length), items.length])].sort((a, b) => a - b);
  const parts = ends.map((to, index) => ({ store: '1', from: ends[index - 1] ?? 0, to }));
  return {
    can: onDisk.can,
    ...(onDisk.home && { home: onDisk.home }),
    parts: async () => parts,
    read: ({ from, to }) => items.slice(from, to),
    get: (address, near) => onDisk.get(address, near),
    locate: (place, path, body) => onDisk.locate(place, path, body),
    attempt: (change) => onDisk.attempt(change),
    wholeFile: (file, bytes) => onDisk.wholeFile(file, bytes),
    linesOf: (file, bytes) => onDisk.linesOf(file, bytes),
    begin: (sink) => onDisk.begin(sink),
  };
}

const steps = [{ rename: 'lighthouse.name', to: 'title' }, { drop: 'lighthouse.steps' }];

function rehearsal(): Pass<unknown> {
  const source = { migration: 1, about: 'a change', from: '0'.repeat(64), to: '1'.repeat(64), steps };
  const read = readMigration(source);
  if ('problem' in read) throw new Error(JSON.stringify(read.problem));
  const planned = planMigration(read.value.steps, model.definition);
  if ('problem' in planned) throw new Error(planned.problem.says);
  const { before, after } = planned.value;
  const data = { migration: source, from: before.definition, to: after.definition, layout: after.definition };
  return rehearsePass({ ...circumstances, plan: planned.value, look: undefined, data, refuse: () => new Error() });
}

const passes: Readonly<Record<string, (store: EntryStore) => Pass<unknown>>> = {
  check: (store) => checkPass(store, model),
  profile: () => profilePass(model, [...model.types.keys()]),
  ahead: () => aheadPass(model, circumstances),
  rehearse: rehearsal,
  digest: () => digestPass(),
  addresses: () => addressesPass('lighthouse', undefined),
  learn: () => learnPass(workspace),
};

/** The same pass, done as another worker does it: prepared by the name of its work, and all that is handed over is copied. */
function asElsewhere(pass: Pass<unknown>): Pass<unknown> {
  const { elsewhere } = pass;
  if (!elsewhere) throw new Error('only this thread can do it');
  return {
    ...pass,
    prepare: async (store) => {
      const begin = await workNamed(elsewhere.work).prepare(structuredClone(elsewhere.data), store);
      return copying(begin);
    },
  };
}

const copying =
  (begin: BeginPart<unknown, unknown>): BeginPart<unknown, unknown> =>
  () => {
    const work = begin();
    return {
      see: (stored) => work.see(stored),
      unreadable: (item) => work.unreadable?.(item),
      done: (mayBeKept) => structuredClone(work.done(mayBeKept)),
    };
  };

/** What a pass tells, without what only answers questions. */
const told = (result: unknown): unknown => JSON.parse(JSON.stringify(result, plainly));

const plainly = (_: string, value: unknown): unknown => {
  if (value instanceof Map || value instanceof Set) return [...value];
  return value;
};

describe('a pass finds the same in whatever parts a store is read [K3, M1]', () => {
  beforeAll(() => {
    process.env.LUMBRIK_THREADS = '1';
    return () => {
      delete process.env.LUMBRIK_THREADS;
    };
  });

  test.each(Object.entries(passes))('%s', async (_, passFor) => {
    const inOne = cutStore([]);
    const [expected] = await walk(inOne, [passFor(inOne)]);
    expect(JSON.stringify(told(expected)).length).toBeGreaterThan(50);

    const cutting = fc.array(fc.nat(1000), { maxLength: 8 });
    await fc.assert(
      fc.asyncProperty(cutting, fc.boolean(), async (cuts, isElsewhere) => {
        const store = cutStore(cuts);
        const pass = passFor(store);
        const [found] = await walk(store, [isElsewhere ? asElsewhere(pass) : pass]);
        expect(told(found)).toEqual(told(expected));
      }),
      { numRuns: Number(process.env.RUNS ?? 15) },
    );
  });
});
