import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { expect, test } from 'vitest';
import { lumbrik, program } from '../support/program.ts';
import { Random } from '../support/random.ts';
import {
  beside,
  copyScene,
  everything,
  hours,
  howMany,
  killer,
  makeScene,
  removeScene,
  type Scene,
  seed,
} from './scene.ts';

/** The commands that are killed; `before` brings a copy to where the command has something to do. */
const victims: readonly {
  readonly name: string;
  readonly before: readonly (readonly string[])[];
  readonly args: readonly string[];
  readonly stopAt?: number;
}[] = [
  { name: 'run', before: [], args: ['migration', 'run'] },
  { name: 'undo', before: [], args: ['migration', 'undo'] },
  { name: 'finishing', before: [['migration', 'run']], stopAt: 0.6, args: ['migration', 'run'] },
  { name: 'taking back', before: [['migration', 'run']], stopAt: 0.6, args: ['migration', 'undo'] },
  { name: 'going on taking back', before: [['migration', 'undo']], stopAt: 0.6, args: ['migration', 'undo'] },
  { name: 'seal', before: [], args: ['seal', '-m', 'three'] },
  { name: 'add', before: [], args: ['add', 'field', 'light', 'range', '--kind', 'integer'] },
  { name: 'terms', before: [], args: ['terms', 'topic', '--add', 'list.txt'] },
  { name: 'entry new', before: [], args: ['entry', 'new', 'light', 'z', '--title', 'Z'] },
];

interface Ended {
  readonly signal: string | null;
  readonly status: number | null;
  readonly out: string;
}

function run({ workspace, env }: Scene, args: readonly string[], more: Record<string, string> = {}): Ended {
  const { status, signal, stdout } = spawnSync(
    process.execPath,
    ['--import', killer, program, ...args, '--format', 'json'],
    {
      cwd: workspace,
      env: { ...env, ...more },
      encoding: 'utf8',
    },
  );
  return { status, signal, out: stdout };
}

/** The same inside this process, for what is not killed. */
async function called({ workspace, env }: Scene, args: readonly string[]): Promise<Omit<Ended, 'signal'>> {
  const { code, out } = await lumbrik(workspace, [...args, '--format', 'json'], env);
  return { status: code, out };
}

/** How many times a command changes the disk. */
function changesOf(scene: Scene, args: readonly string[]): number {
  const countIn = path.join(scene.top, 'count');
  run(scene, args, { KILL_AT: '0', COUNT_IN: countIn });
  const count = Number(fs.readFileSync(countIn, 'utf8'));
  fs.rmSync(countIn);
  return count;
}

const own = (name: string): boolean => name === '.lumbrik' || name.startsWith('.lumbrik/');
const stateOf = ({ workspace }: Scene): string => JSON.stringify([...everything(workspace, own)].sort());

const kills = howMany(300, 9);

test(
  `${kills} kills: each command happened or did not, or is finished or taken back, to the byte [A5] [H5]`,
  async () => {
    const random = new Random(seed);
    const scene = makeScene();
    let landed = 0;
    const prepared = [];
    for (const { name, before, args, stopAt } of victims) {
      const start = copyScene(scene);
      for (const call of before) {
        const count = changesOf(copyScene(start), call);
        if (stopAt !== undefined) run(start, call, { KILL_AT: String(Math.round(count * stopAt)) });
      }
      const done = copyScene(start);
      const changes = changesOf(done, args);
      const states = [start, done].map(stateOf);
      // What was stopped before, and is not yet begun again, may still be finished or taken back.
      for (const way of stopAt === undefined ? [] : (['run', 'undo'] as const)) {
        const other = copyScene(start);
        if ((await called(other, ['migration', way])).status === 0) states.push(stateOf(other));
        removeScene(other);
      }
      prepared.push({ name, args, start, states, changes });
    }
    for (let round = 0; landed < kills; round += 1) {
      const victim = prepared[round % prepared.length];
      if (!victim) break;
      const { name, args, start, states, changes } = victim;
      const copy = copyScene(start);
      const outside = beside(copy);
      const killAt = 1 + random.below(changes);
      const { signal } = run(copy, args, { KILL_AT: String(killAt) });
      const where = `${name}, killed at ${killAt} of ${changes}`;
      if (signal === 'SIGKILL') landed += 1;
      // What is said next is how to go on; one of the two ways is taken, and leads to one of the two states.
      const next = await called(copy, ['check']);
      expect([where, next.status === 70, next.status === null]).toEqual([where, false, false]);
      if (next.status === 3) {
        expect([where, JSON.parse(next.out).error.code]).toEqual([where, 'interrupted-run']);
        const isUndo = JSON.parse(next.out).error.says.includes('taken back');
        const way = isUndo || random.next() < 0.5 ? ['migration', 'undo'] : ['migration', 'run'];
        expect([where, way, (await called(copy, way)).status]).toEqual([where, way, 0]);
      }
      expect([where, states.includes(stateOf(copy))]).toEqual([where, true]);
      expect([where, beside(copy)]).toEqual([where, outside]);
      removeScene(copy);
    }
    for (const { start } of prepared) removeScene(start);
    expect(landed).toBe(kills);
  },
  hours,
);
