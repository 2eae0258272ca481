import { describe, expect, test } from 'vitest';
import { copyOf, ready } from './support/migrated.ts';
import { lumbrik, read, result, snapshot, started } from './support/program.ts';
import { allStops, killer, stopped } from './support/stops.ts';

const spread = (most: number, points: number): readonly number[] => [
  ...new Set(Array.from({ length: points }, (_, index) => 1 + Math.round((index * (most - 1)) / (points - 1)))),
];

describe('a stop at any instant leaves the old state or the new one [A5, H5]', () => {
  test('of a run', async () => {
    const start = await ready();
    const finished = copyOf(start);
    await lumbrik(finished, ['migration', 'run']);
    const [old, done] = [snapshot(start), snapshot(finished)];
    expect(done).not.toEqual(old);
    const outcomes = { old: 0, done: 0, midway: 0 };
    await allStops(start, ['migration', 'run'], async (folder, killAt) => {
      const { error } = await result(folder, ['check']);
      if (error === undefined) {
        const isOld =
          read(folder, 'content/revision.yaml') ===
          Buffer.from(old.get('content/revision.yaml') ?? '', 'hex').toString();
        outcomes[isOld ? 'old' : 'done'] += 1;
        expect([killAt, snapshot(folder)]).toEqual([killAt, isOld ? old : done]);
        return;
      }
      outcomes.midway += 1;
      expect([killAt, error.code]).toEqual([killAt, 'interrupted-run']);
      expect(error.mend).toContain('lumbrik migration run 1');
      for (const args of [
        ['seal', '-m', 'x'],
        ['show'],
        ['schemas'],
        ['migration', 'draft'],
        ['migration', 'rehearse'],
      ]) {
        if (outcomes.midway === 1)
          expect(await result(folder, args)).toMatchObject({ code: 3, error: { code: 'interrupted-run' } });
      }
      const forward = outcomes.midway % 2 === 0;
      const after = await result(folder, forward ? ['migration', 'run'] : ['migration', 'undo']);
      expect([killAt, after.error]).toEqual([killAt, undefined]);
      expect([killAt, snapshot(folder)]).toEqual([killAt, forward ? done : old]);
    });
    expect(outcomes.old + outcomes.done + outcomes.midway).toBeGreaterThanOrEqual(30);
    expect(outcomes.midway).toBeGreaterThanOrEqual(5);
    expect(outcomes.old).toBeGreaterThanOrEqual(5);
  });

  test('of taking it back', async () => {
    const start = await ready();
    const old = snapshot(start);
    await lumbrik(start, ['migration', 'run']);
    const done = snapshot(start);
    await allStops(start, ['migration', 'undo'], async (folder, killAt) => {
      const { error } = await result(folder, ['check']);
      if (error !== undefined) {
        expect(error.mend).toContain('lumbrik migration undo');
        expect((await result(folder, ['migration', 'undo'])).error).toBeUndefined();
        expect([killAt, snapshot(folder)]).toEqual([killAt, old]);
      } else expect([done, old]).toContainEqual(snapshot(folder));
    });
  });

  test('of sealing', async () => {
    const start = await ready();
    const old = snapshot(start);
    await allStops(start, ['seal', '-m', 'two'], async (folder) => {
      expect((await result(folder, ['history'])).ok).toBe(true);
      for (const [name, bytes] of old) expect(snapshot(folder).get(name)).toBe(bytes);
      expect((await result(folder, ['history'])).revisions[0].revision).toBe(
        (await result(folder, ['seal', '-m', 'two'])).error === undefined ? 1 : 2,
      );
    });
  });

  test('a disk that fills up is told, and what was begun can be finished or taken back', async () => {
    const start = await ready();
    const old = snapshot(start);
    const changes = stopped(copyOf(start), ['migration', 'run'], 0);
    // The last few changes only take things away, which a full disk allows.
    for (const fullFrom of spread(changes - 8, 8)) {
      const folder = copyOf(start);
      const { code, err } = started(folder, ['migration', 'run'], {
        node: ['--import', killer],
        env: { FULL_FROM: String(fullFrom) },
      });
      expect(code).toBe(2);
      expect(err.replace(/\s+/gu, ' ')).toContain('the disk is full');
      const { error } = await result(folder, ['check']);
      if (error !== undefined) expect((await result(folder, ['migration', 'undo'])).error).toBeUndefined();
      expect([fullFrom, snapshot(folder)]).toEqual([fullFrom, old]);
    }
  });
});
