import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import type { ModelDoc } from '../src/core/definition/model.ts';
import { readStep } from '../src/core/migration/read.ts';
import { rebaseSteps } from '../src/core/migration/rebase.ts';
import { git, tryGit } from './support/git.ts';
import { type Files, lumbrik, read, result, snapshot, workspace, write } from './support/program.ts';

const type = (fields: string): Files => ({
  'model/types/light.yaml': `type: light\nfields:\n${fields.replace(/^/gmu, '  ')}\n`,
});
const base = 'name: { kind: text }\n\nheight: { kind: integer }\n\nnote: { kind: text }\n\nlevel: { kind: text }';
const entries: Files = {
  'content/light/a.yaml': 'name: A\n\nheight: 12\n\nnote: N\n\nlevel: low\n',
  'content/light/b.yaml': 'name: B\n\nheight: 7\n',
};

/** Answers what is drafted, runs it, seals and commits. */
async function changed(folder: string, files: Files, message: string, draft: readonly string[] = []): Promise<void> {
  write(folder, files);
  const { error } = await result(folder, ['migration', 'draft', ...draft]);
  if (error) expect(error.code).toBe('nothing-to-migrate');
  else {
    for (;;) {
      const { questions } = await result(folder, ['migration', 'answer', '--no-ask']);
      if (questions.length === 0) break;
      const { step, answers } = questions[0];
      const how = answers.includes('value') && !answers.includes('no') ? ['--value', '1'] : ['--yes'];
      await lumbrik(folder, ['migration', 'answer', '--step', String(step), ...how]);
    }
    expect((await result(folder, ['migration', 'rehearse'])).error).toBeUndefined();
    expect((await result(folder, ['migration', 'run'])).error).toBeUndefined();
  }
  expect((await result(folder, ['seal', '-m', message])).error).toBeUndefined();
  git(folder, 'add', '-A');
  git(folder, 'commit', '-qm', message);
}

interface Branches {
  readonly ours: string;
  readonly theirs: string;
  /** The fields as a person merges them. */
  readonly merged: string;
  readonly oursDraft?: readonly string[];
  readonly theirsDraft?: readonly string[];
  /** Files that come on a branch beside. */
  readonly theirFiles?: Files;
  readonly ourFiles?: Files;
}

/** Two branches that each changed the model, drafted, ran and sealed; merged by git, the fields as a person would. */
async function merging({
  ours,
  theirs,
  merged,
  oursDraft,
  theirsDraft,
  theirFiles = {},
  ourFiles = {},
}: Branches): Promise<string> {
  const folder = workspace({ ...type(base), ...entries, '.gitignore': '.lumbrik/\n' });
  git(folder, 'init', '-q', '-b', 'main');
  await lumbrik(folder, ['seal', '-m', 'one']);
  git(folder, 'add', '-A');
  git(folder, 'commit', '-qm', 'one');
  git(folder, 'checkout', '-qb', 'other');
  await changed(folder, type(theirs), 'theirs', theirsDraft);
  write(folder, theirFiles);
  git(folder, 'add', '-A');
  git(folder, 'commit', '--allow-empty', '-qm', 'more there');
  git(folder, 'checkout', '-q', 'main');
  fs.rmSync(path.join(folder, '.lumbrik'), { recursive: true, force: true });
  await changed(folder, type(ours), 'ours', oursDraft);
  write(folder, ourFiles);
  git(folder, 'add', '-A');
  git(folder, 'commit', '--allow-empty', '-qm', 'more here');
  // Conflicts are what a person then settles.
  tryGit(folder, ['merge', 'other']);
  write(folder, type(merged));
  return folder;
}

/** What is in order after a merge: the revisions, the entries, the way from one to the next. */
async function inOrder(folder: string): Promise<void> {
  const { ok, changedSince, revisions } = await result(folder, ['history']);
  expect([ok, changedSince]).toEqual([true, false]);
  expect(revisions[0].entriesStandHere).toBe(true);
  const { counts, ok: isFine } = await result(folder, ['check']);
  expect([isFine, counts?.error ?? 0]).toEqual([true, 0]);
}

const renamed = base.replace('height:', 'focalHeight:');

describe('two branches that each recorded a revision [A5, H5]', () => {
  test.each<[string, Branches, Files]>([
    [
      'rename different fields',
      {
        ours: renamed,
        theirs: base.replace('note:', 'remark:'),
        merged: renamed.replace('note:', 'remark:'),
        oursDraft: ['--renamed', 'light.height=focalHeight'],
        theirsDraft: ['--renamed', 'light.note=remark'],
      },
      { 'content/light/a.yaml': 'name: A\n\nfocalHeight: 12\n\nremark: N\n\nlevel: low\n' },
    ],
    [
      'rename and tighten the same field',
      {
        ours: renamed,
        theirs: base.replace('integer }', 'integer, max: 100 }'),
        merged: renamed.replace('integer }', 'integer, max: 100 }'),
        oursDraft: ['--renamed', 'light.height=focalHeight'],
      },
      { 'content/light/b.yaml': 'name: B\n\nfocalHeight: 7\n' },
    ],
    [
      'do the same',
      {
        ours: renamed,
        theirs: renamed,
        merged: renamed,
        oursDraft: ['--renamed', 'light.height=focalHeight'],
        theirsDraft: ['--renamed', 'light.height=focalHeight'],
      },
      { 'content/light/b.yaml': 'name: B\n\nfocalHeight: 7\n' },
    ],
    [
      'do the same and more',
      {
        ours: renamed,
        theirs: `${renamed}\n\nmore: { kind: text }`,
        merged: `${renamed}\n\nmore: { kind: text }`,
        oursDraft: ['--renamed', 'light.height=focalHeight'],
        theirsDraft: ['--renamed', 'light.height=focalHeight'],
      },
      {},
    ],
    [
      'add fields that every entry needs',
      {
        ours: `${base}\n\nx: { kind: integer, required: true }`,
        theirs: `first: { kind: integer, required: true }\n\n${base}`,
        merged: `first: { kind: integer, required: true }\n\n${base}\n\nx: { kind: integer, required: true }`,
      },
      {},
    ],
    [
      'convert what the other leaves alone, and have entries of their own',
      {
        ours: base.replace('level: { kind: text }', 'level: { kind: choice, choices: [low, high] }'),
        theirs: base.replace('note:', 'remark:'),
        merged: base
          .replace('level: { kind: text }', 'level: { kind: choice, choices: [low, high] }')
          .replace('note:', 'remark:'),
        theirsDraft: ['--renamed', 'light.note=remark'],
        theirFiles: { 'content/light/t.yaml': 'name: T\nremark: there\n' },
        ourFiles: { 'content/light/o.yaml': 'name: O\nnote: here\n' },
      },
      { 'content/light/o.yaml': 'name: O\nremark: here\n', 'content/light/t.yaml': 'name: T\nremark: there\n' },
    ],
    [
      'rename on this side what entries of the other side still have',
      {
        ours: renamed,
        theirs: `${base}\n\nmore: { kind: text }`,
        merged: `${renamed}\n\nmore: { kind: text }`,
        oursDraft: ['--renamed', 'light.height=focalHeight'],
        theirFiles: { 'content/light/t.yaml': 'name: T\nheight: 3\nmore: x\n' },
      },
      { 'content/light/t.yaml': 'name: T\nfocalHeight: 3\nmore: x\n' },
    ],
    [
      'drop and leave',
      {
        ours: base.replace('note: { kind: text }\n\n', ''),
        theirs: `${base}\n\nmore: { kind: text }`,
        merged: `${base.replace('note: { kind: text }\n\n', '')}\n\nmore: { kind: text }`,
      },
      { 'content/light/a.yaml': 'name: A\n\nheight: 12\n\n\nlevel: low\n' },
    ],
  ])('%s', async (_what, branches, expected) => {
    const folder = await merging(branches);
    const merged = await result(folder, ['history', '--merge']);
    expect(merged.error).toBeUndefined();
    expect(merged.left).toEqual([]);
    expect(merged.migrations.flatMap(({ refused }: { refused: unknown[] }) => refused)).toEqual([]);
    await inOrder(folder);
    for (const [file, text] of Object.entries(expected)) expect(read(folder, file)).toBe(text);
    // Every migration leads from where the one before it ends.
    const { migrations } = await result(folder, ['migration', 'list']);
    expect(migrations.map(({ number }: { number: number }) => number)).toEqual(
      migrations.map((_: unknown, index: number) => index + 1),
    );
    git(folder, 'add', '-A');
    git(folder, 'commit', '--allow-empty', '-qm', 'merged');
    expect((await result(folder, ['migration', 'draft'])).error.code).toBe('nothing-to-migrate');
  });

  test('rename the same field to different names: the one is taken out and named, the rest goes on', async () => {
    const theirs = `${base.replace('height:', 'level0:')}\n\nmore: { kind: text }`;
    const folder = await merging({
      ours: renamed,
      theirs,
      merged: `${renamed}\n\nmore: { kind: text }`,
      oursDraft: ['--renamed', 'light.height=focalHeight'],
      theirsDraft: ['--renamed', 'light.height=level0'],
    });
    // Git cannot merge what both renamed: a person takes this side.
    git(folder, 'checkout', '--ours', 'content/light');
    const merged = await result(folder, ['history', '--merge']);
    expect(merged.error).toBeUndefined();
    // Laid over this side it renames once more; the working files say otherwise, and that is told.
    expect(merged.changedSince).toBe(true);
    expect((await result(folder, ['history'])).ok).toBe(true);
  });

  test('drop what the other changes: the change is taken out and named', async () => {
    const folder = await merging({
      ours: base.replace('note: { kind: text }\n\n', ''),
      theirs: base.replace('note: { kind: text }', 'note: { kind: text, max: 90 }').concat('\n\nmore: { kind: text }'),
      merged: `${base.replace('note: { kind: text }\n\n', '')}\n\nmore: { kind: text }`,
    });
    const merged = await result(folder, ['history', '--merge']);
    expect(merged.error).toBeUndefined();
    await inOrder(folder);
    expect(merged.revisions).toMatchObject([{ was: 2, is: 3, message: 'theirs' }]);
  });

  test('is not taken back to the bytes of before, in which conflict marks may stand; and may be repeated', async () => {
    const folder = await merging({
      ours: renamed,
      theirs: base.replace('note:', 'remark:'),
      merged: renamed.replace('note:', 'remark:'),
      oursDraft: ['--renamed', 'light.height=focalHeight'],
      theirsDraft: ['--renamed', 'light.note=remark'],
    });
    expect((await result(folder, ['history', '--merge'])).error).toBeUndefined();
    const once = snapshot(folder);
    expect(await result(folder, ['history', '--merge'])).toMatchObject({ code: 0, entries: 0, left: [] });
    expect(snapshot(folder)).toEqual(once);
    git(folder, 'add', '-A');
    git(folder, 'commit', '-qm', 'merged');
    const { code, error } = await result(folder, ['migration', 'undo']);
    expect([code, error.code]).toEqual([3, 'merged']);
    expect(snapshot(folder)).toEqual(once);
    for (const bytes of once.values()) expect(Buffer.from(bytes, 'hex').toString()).not.toContain('<<<<<<<');
  });

  test('a revision alone on the one side, and none on the other, is no collision', async () => {
    const folder = workspace({ ...type(base), ...entries, '.gitignore': '.lumbrik/\n' });
    git(folder, 'init', '-q', '-b', 'main');
    await lumbrik(folder, ['seal', '-m', 'one']);
    git(folder, 'add', '-A');
    git(folder, 'commit', '-qm', 'one');
    expect((await result(folder, ['history', '--merge'])).error.code).toBe('no-merge');
    git(folder, 'checkout', '-qb', 'other');
    await changed(folder, type(`${base}\n\nmore: { kind: text }`), 'theirs');
    git(folder, 'checkout', '-q', 'main');
    write(folder, { 'README.md': 'x\n' });
    git(folder, 'add', '-A');
    git(folder, 'commit', '-qm', 'two');
    git(folder, 'merge', '-q', '-m', 'merge', 'other');
    const bytes = snapshot(folder, 'revisions');
    expect((await result(folder, ['history', '--merge'])).error.code).toBe('nothing-to-order');
    expect(snapshot(folder, 'revisions')).toEqual(bytes);
  });

  test.each([
    [
      { move: 'tour.phone', to: 'keeper.phone', along: 'tour.guide' },
      { rename: 'tour.guide', to: 'leader' },
      { move: 'tour.phone', to: 'keeper.phone', along: 'tour.leader' },
    ],
    [
      { move: 'tour.phone', to: 'keeper.phone', along: 'tour.guide' },
      { rename: 'keeper', to: 'warden' },
      { move: 'tour.phone', to: 'warden.phone', along: 'tour.guide' },
    ],
    [
      { change: 'tour.phone', to: { max: 9 } },
      { move: 'tour.phone', to: 'keeper.phone', along: 'tour.guide' },
      { change: 'keeper.phone', to: { max: 9 } },
    ],
    [
      { turn: 'tour.guide', to: 'keeper.tours', field: { kind: 'reference', to: ['tour'] } },
      { rename: 'keeper', to: 'warden' },
      { turn: 'tour.guide', to: 'warden.tours', field: { kind: 'reference', to: ['tour'] } },
    ],
  ])('a step that leads to another type is laid over what it meets: %j over %j', (ours, theirs, laid) => {
    const before: ModelDoc = {
      languages: ['en'],
      types: {
        tour: { fields: { phone: { kind: 'text' }, guide: { kind: 'reference', to: ['keeper'] } } },
        keeper: { fields: {} },
      },
      taxonomies: {},
    };
    const [step, taken] = [ours, theirs].map((data) => {
      const read = readStep(data, []);
      if ('problem' in read) throw new Error(read.problem[0]?.says);
      return read.value;
    });
    if (!step || !taken) throw new Error('there are two');
    const over = rebaseSteps([step], [taken], taken.kind.model(taken.data, before));
    expect(over.refused).toEqual([]);
    expect(over.steps.map(({ step: { data } }) => data)).toEqual([laid]);
  });

  test('outside of a repository it says so', async () => {
    const folder = workspace(type(base));
    expect((await result(folder, ['history', '--merge'])).error.code).toBe('no-repository');
  });
});
