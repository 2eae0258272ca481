import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Facts } from '../src/core/check/facts.ts';
import { Graph } from '../src/core/graph/graph.ts';
import { publishingOrder, type Reached, reach } from '../src/core/graph/reach.ts';
import { coast, edit, lumbrik, result, workspace } from './support/program.ts';

const model = {
  'model/types/a.yaml':
    'type: page\ntitled: name\nfields:\n  name: { kind: text }\n  next: { kind: reference, to: page, many: true, inverse: previous }\n  first: { kind: reference, to: page, required: published }\n',
};
const page = (next: string, status = 'published', more = ''): string =>
  `status: ${status}\nname: N\nnext: [${next}]\n${more}`;

describe('walking references [E4]', () => {
  test('both ways, with names for both sides, to a depth, as nested data', async () => {
    const { pointsAt, pointedAtBy, siblings } = await result(coast(), [
      'trace',
      'lighthouse/skerry-point',
      '--depth',
      '3',
    ]);
    expect(pointsAt.next.map(({ name, node }: any) => [name, node.entry, node.title])).toEqual([
      ['keepers', 'keeper/ada-rook', 'Ada Rook'],
      ['keepers', 'keeper/tobias-fenn', 'Tobias Fenn'],
    ]);
    const tour = pointedAtBy.next.find(({ node }: any) => node.entry === 'tour/skerries-at-dawn');
    expect([tour.name, tour.pointer, tour.node.next.length]).toEqual(['tours', '/lights/0', 6]);
    expect(siblings).toContainEqual({
      parent: 'tour/skerries-at-dawn',
      field: 'lights',
      entries: ['lighthouse/gull-stack'],
    });
    expect(
      (await result(coast(), ['trace', 'departure/harbour-lights-12-05', '--depth', '3'])).pointsAt.next[0].node.next[0]
        .node.next[0].node.entry,
    ).toBe('keeper/elin-marsh');
  });

  test('circles are shown and never followed for ever', async () => {
    const folder = workspace({
      ...model,
      'content/page/a.yaml': page('b'),
      'content/page/b.yaml': page('c, b'),
      'content/page/c.yaml': page('a, gone'),
    });
    const { pointsAt } = await result(folder, ['trace', 'page/a', '--depth', '20']);
    const [b] = pointsAt.next;
    expect(b.node.next.map(({ node }: any) => [node.entry, node.again])).toEqual([
      ['page/c', false],
      ['page/b', true],
    ]);
    expect(b.node.next[0].node.next.map(({ node }: any) => [node.entry, node.again, node.status])).toEqual([
      ['page/a', true, 'published'],
      ['page/gone', false, 'missing'],
    ]);
    expect((await lumbrik(folder, ['trace', 'page/a', '--depth', '20'])).out).toContain('see above');
  });

  test('an entry alone, one that is not there, and a call that makes no sense', async () => {
    const folder = workspace({ ...model, 'content/page/alone.yaml': 'name: A\n' });
    expect((await lumbrik(folder, ['trace', 'page/alone'])).out).toContain(
      'It points at nothing, and nothing points at it.',
    );
    expect(await lumbrik(folder, ['trace', 'page/alon'])).toMatchObject({
      code: 2,
      err: expect.stringContaining('Did you mean `page/alone`?'),
    });
    for (const args of [
      ['trace'],
      ['trace', 'page'],
      ['trace', 'page/alone', '--depth', '0'],
      ['trace', 'page/alone', '--unlinked'],
      ['trace', 'page/alone', '--publishing', '--deleting'],
    ])
      expect((await lumbrik(folder, args)).code).toBe(2);
  });

  test('on any graph a walk ends, follows each entry once, and finds all that is near enough', () => {
    const names = ['a', 'b', 'c', 'd', 'e', 'f'];
    const edges = fc.array(fc.tuple(fc.constantFrom(...names), fc.constantFrom(...names)), { maxLength: 18 });
    fc.assert(
      fc.property(edges, fc.integer({ min: 1, max: 6 }), (pairs, depth) => {
        const graph = graphOf(names, pairs, () => 'published');
        const followed: string[] = [];
        const visit = ({ entry, again, next }: Reached): void => {
          if (!again) followed.push(entry);
          for (const { reached } of next) visit(reached);
        };
        visit(reach(graph, 'page/a', depth, 'from'));
        expect(new Set(followed).size).toBe(followed.length);
        let near = new Set(['page/a']);
        for (let i = 0; i < depth; i += 1)
          near = new Set([...near, ...[...near].flatMap((entry) => graph.from(entry).map(({ to }) => to))]);
        expect(new Set(followed)).toEqual(near);
      }),
    );
  });
});

describe('publishing [E5]', () => {
  test('says what comes first, together what points at each other, and what stands in the way', async () => {
    const folder = workspace({
      ...model,
      'content/page/a.yaml': page('b, d', 'draft'),
      'content/page/b.yaml': page('c', 'draft'),
      'content/page/c.yaml': page('b, e', 'draft'),
      'content/page/d.yaml': page('', 'published'),
      'content/page/e.yaml': page('old, gone', 'draft'),
      'content/page/old.yaml': page('', 'archived'),
    });
    const { order, blocked, ok, code } = await result(folder, ['trace', 'page/a', '--publishing']);
    expect(order).toEqual([['page/e'], ['page/c', 'page/b'], ['page/a']]);
    expect(blocked.map(({ to, status }: any) => [to, status])).toEqual([
      ['page/old', 'archived'],
      ['page/gone', 'missing'],
    ]);
    expect([ok, code]).toEqual([false, 1]);
    expect(await result(folder, ['trace', 'page/d', '--publishing'])).toMatchObject({ order: [], ok: true, code: 0 });
  });

  test('in the order given, nothing published ever points at a draft', () => {
    const names = ['a', 'b', 'c', 'd', 'e', 'f'];
    const edges = fc.array(fc.tuple(fc.constantFrom(...names), fc.constantFrom(...names)), { maxLength: 18 });
    fc.assert(
      fc.property(edges, fc.subarray(names), (pairs, drafts) => {
        const graph = graphOf(names, pairs, (name) => (drafts.includes(name) ? 'draft' : 'published'));
        const published = new Set(names.filter((name) => !drafts.includes(name)).map((name) => `page/${name}`));
        for (const { entries } of publishingOrder(graph, 'page/a', '2026-01-01T00:00:00Z').order) {
          for (const entry of entries) published.add(entry);
          for (const entry of entries) for (const { to } of graph.from(entry)) expect(published).toContain(to);
        }
        expect(published).toContain('page/a');
      }),
    );
  });
});

describe('deleting and overlooking [E5, E6]', () => {
  test('what would dangle, and what would lack a required value', async () => {
    const folder = workspace({
      ...model,
      'content/page/a.yaml': page('', 'published', 'first: b\n'),
      'content/page/b.yaml': page(''),
      'content/page/c.yaml': page('b', 'draft'),
    });
    const { dangling, ok, code } = await result(folder, ['trace', 'page/b', '--deleting']);
    expect(dangling).toEqual([
      { from: 'page/a', pointer: '/first', status: 'published', required: true },
      { from: 'page/c', pointer: '/next/0', status: 'draft', required: false },
    ]);
    expect([ok, code]).toEqual([false, 1]);
    expect(await result(folder, ['trace', 'page/c', '--deleting'])).toMatchObject({ ok: true, code: 0 });
  });

  test('entries that nothing points at, of the types that could be', async () => {
    const folder = coast();
    expect((await result(folder, ['trace', '--unlinked'])).entries.map(({ entry }: any) => entry)).toEqual([
      'keeper/anders-whin',
      'keeper/lisbet-moor',
      'lighthouse/grey-ledge',
      'lighthouse/old-holm',
      'page/boats',
    ]);
    edit(folder, 'content/lighthouse/holm-head.md', 'keepers: [jonas-pell]', 'keepers: [jonas-pell, lisbet-moor]');
    expect((await result(folder, ['trace', '--unlinked'])).entries).toHaveLength(4);
  });
});

function graphOf(
  names: readonly string[],
  pairs: readonly (readonly [string, string])[],
  statusOf: (name: string) => Facts['status'],
): Graph {
  const graph = new Graph();
  for (const name of names) {
    const links = pairs
      .filter(([from]) => from === name)
      .map(([, to], index) => ({
        path: ['next', index],
        to: { type: 'page', id: to },
        field: 'page.next',
        isWithin: false,
      }));
    graph.add({
      entry: `page/${name}`,
      status: statusOf(name),
      window: undefined,
      unique: [],
      links,
      terms: [],
      ineligible: [],
      counts: [],
      assets: [],
    });
  }
  return graph;
}
