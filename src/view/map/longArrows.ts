import type { MapResult } from '../../tasks/map.ts';

type Arrow = MapResult['arrows'][number];

/** Through so many layers all arrows together may be laid out; each takes a place in every layer that it crosses. */
const mostCrossed = 1500;

/**
 * The arrows that are not laid out where a map has very many: the longest first, until the others can be laid out in the
 * time that somebody waits. They are drawn straight.
 */
export function longArrows(arrows: readonly Arrow[]): ReadonlySet<Arrow> {
  const layers = layersOf(arrows);
  const spans = arrows
    .map((arrow) => ({ arrow, span: Math.abs((layers.get(arrow.to) ?? 0) - (layers.get(arrow.from) ?? 0)) }))
    .toSorted((a, b) => b.span - a.span);
  let crossed = spans.reduce((sum, { span }) => sum + span, 0);
  const long = new Set<Arrow>();
  for (const { arrow, span } of spans) {
    if (crossed <= mostCrossed) break;
    long.add(arrow);
    crossed -= span;
  }

  return long;
}

/** The layer of each box: one behind all that point at it, as far as no circle forbids it. */
function layersOf(arrows: readonly Arrow[]): ReadonlyMap<string, number> {
  const targets = new Map<string, string[]>();
  for (const { from, to } of arrows) targets.set(from, [...(targets.get(from) ?? []), to]);
  const order = orderOf(targets);
  const place = new Map(order.map((box, index) => [box, index]));
  const layers = new Map<string, number>();
  // Arrows that close a circle run backwards, and push nothing on.
  for (const box of order)
    for (const target of targets.get(box) ?? [])
      if ((place.get(target) ?? 0) > (place.get(box) ?? 0))
        layers.set(target, Math.max(layers.get(target) ?? 0, (layers.get(box) ?? 0) + 1));

  return layers;
}

/** Boxes in such an order that arrows run forwards, but for those that close a circle. */
function orderOf(targets: ReadonlyMap<string, readonly string[]>): readonly string[] {
  const done = new Set<string>();
  const order: string[] = [];
  for (const start of targets.keys()) {
    const open = [{ box: start, left: [...(targets.get(start) ?? [])] }];
    if (done.has(start)) continue;

    done.add(start);
    for (let top = open.at(-1); top; top = open.at(-1)) {
      const next = top.left.pop();
      if (next === undefined) {
        order.push(top.box);
        open.pop();
      } else if (!done.has(next)) {
        done.add(next);
        open.push({ box: next, left: [...(targets.get(next) ?? [])] });
      }
    }
  }

  return order.reverse();
}
