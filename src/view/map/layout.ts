import { layout as arrange, Graph } from '@dagrejs/dagre';
import type { MapResult } from '../../tasks/map.ts';
import { longArrows } from './longArrows.ts';
import { type Mark, signs } from './signs.ts';

type Box = MapResult['boxes'][number];
type Arrow = MapResult['arrows'][number];

/** Sizes in pixels of the picture. */
export const measures = { font: 13, row: 19, head: 42, group: 22, foot: 8, side: 12, between: 18 } as const;

/** A row of a box: the name of a group, or a field with its kind. */
type Row =
  | { readonly group: string }
  | { readonly name: string; readonly kind: string; readonly required: boolean; readonly mark: Mark | undefined };

/** A box of the map with its place. */
export interface PlacedBox {
  readonly box: Box;
  readonly title: string;
  readonly below: string;
  readonly rows: readonly Row[];
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

interface PlacedArrow {
  readonly arrow: Arrow;
  readonly points: readonly Point[];
  /** Its words, and where their middle is. */
  readonly words: readonly string[];
  readonly at: Point;
}

/** A point of the map, in pixels. */
export interface Point {
  readonly x: number;
  readonly y: number;
}

/** A map with places for boxes and arrows. */
export interface Layout {
  readonly width: number;
  readonly height: number;
  readonly boxes: readonly PlacedBox[];
  readonly arrows: readonly PlacedArrow[];
}

/** A text that identifies a box. */
export const idOf = ({ what: category, name }: Box): string => `${category}:${name}`;

/** Lays a map out in layers: what points stands to the left of its targets, as far as that goes. */
export function layoutOf({ boxes, arrows }: MapResult): Layout {
  const graph = new Graph({ multigraph: true });
  graph.setGraph({ rankdir: 'LR', nodesep: 28, ranksep: 60, edgesep: 14, marginx: 24, marginy: 24 });
  const drawn = new Map(boxes.map((box) => [idOf(box), boxDrawn(box)]));
  for (const [id, { width, height }] of drawn) graph.setNode(id, { width, height });
  const labelled = arrows.map((arrow, index) => ({ arrow, words: wordsOf(arrow), name: String(index) }));
  const long = longArrows(arrows);
  for (const { arrow, words, name } of labelled.filter((arrow) => !long.has(arrow.arrow)))
    graph.setEdge(
      arrow.from,
      arrow.to,
      {
        width: words.length === 0 ? 0 : Math.max(...words.map((word) => textWidth(word, 11))) + 8,
        height: words.length * 14,
        labelpos: 'c',
      },
      name,
    );

  arrange(graph);
  const { width = 0, height = 0 } = graph.graph() as { readonly width?: number; readonly height?: number };

  const placed = new Map(
    [...drawn].map(([id, box]) => {
      const { x, y } = graph.node(id) as Point;
      return [id, { ...box, x: x - box.width / 2, y: y - box.height / 2 }] as const;
    }),
  );

  return {
    width,
    height,
    boxes: [...placed.values()],
    arrows: labelled.map(({ arrow, words, name }) => {
      const [from, to] = [placed.get(arrow.from), placed.get(arrow.to)];
      const edge = long.has(arrow)
        ? straight(from, to)
        : (graph.edge({ v: arrow.from, w: arrow.to, name }) as unknown as Routed);

      return {
        arrow,
        words,
        points: from && to ? sideways(edge.points, from, to, arrow) : [],
        at: { x: edge.x, y: edge.y },
      };
    }),
  };
}

/** A way that was laid out: its points, and the middle of its words. */
interface Routed extends Point {
  readonly points: readonly Point[];
}

/** A way that was not laid out: from the one box to the other. */
function straight(from: PlacedBox | undefined, to: PlacedBox | undefined): Routed {
  const middle = (box: PlacedBox | undefined): Point => {
    if (box) return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
    return { x: 0, y: 0 };
  };
  const [start, end] = [middle(from), middle(to)];
  return { points: [start, end], x: (start.x + end.x) / 2, y: (start.y + end.y) / 2 };
}

/** The way from the side of a box, where the field stands, to the side of another: never across the surroundings of it. */
function sideways(points: readonly Point[], from: PlacedBox, to: PlacedBox, { field }: Arrow): readonly Point[] {
  if (from === to) return points;

  const isRight = to.x > from.x;
  const last = points.at(-1) ?? { x: to.x, y: to.y };
  const start = { x: isRight ? from.x + from.width : from.x, y: from.y + heightOfField(from, field) };
  const end = {
    x: isRight ? to.x : to.x + to.width,
    y: Math.min(Math.max(last.y, to.y + 10), to.y + to.height - 10),
  };

  return [start, ...points.slice(1, -1), end];
}

/** How far below the top of a box the middle of a field is; of one inside an object, the one of the object. */
function heightOfField({ rows }: PlacedBox, field: string | undefined): number {
  const outer = field?.split('.')[0];
  let y: number = measures.head;
  for (const row of rows) {
    if ('name' in row && row.name.replace(/ \((?:was|to) .*/u, '') === outer) return y + measures.row / 2;
    y += 'group' in row ? measures.group : measures.row;
  }

  return measures.head / 2;
}

function boxDrawn(box: Box): Omit<PlacedBox, 'x' | 'y'> {
  const rows = box.groups.flatMap(({ group, fields }): readonly Row[] => [
    ...(group === undefined ? [] : [{ group }]),
    ...fields.map(({ name, was: formerName, now: current, kind, many, required, mark }) => ({
      name: [name, formerName && ` (was ${formerName})`, current && ` (to ${current})`].filter(Boolean).join(''),
      kind: many ? `many ${kind}` : kind,
      required,
      mark,
    })),
  ]);
  const name = box.was === undefined ? box.name : `${box.name}, was ${box.was}`;
  const below = [name, countOf(box)].filter(Boolean).join(' · ');
  const { font, side, between } = measures;
  const widths = rows.map((row) =>
    'group' in row ? textWidth(row.group, 11) : textWidth(row.name, font) + between + textWidth(row.kind, font) + 12,
  );

  return {
    box,
    title: box.mark === undefined ? box.label : `${signs[box.mark]} ${box.label}`,
    below,
    rows,
    width: Math.ceil(Math.max(130, (textWidth(box.label, 15) + 18) * 1.1, textWidth(below, 11), ...widths) + 2 * side),
    height: measures.head + heightOf(rows),
  };
}

/** Nothing below the head where there is no row. */
const heightOf = (rows: readonly Row[]): number =>
  rows.reduce(
    (sum, row) => sum + ('group' in row ? measures.group : measures.row),
    rows.length > 0 ? measures.foot : 0,
  );

function countOf({ what: category, entries, terms }: Box): string {
  if (category === 'kit') return 'kit';
  if (category === 'taxonomy') return `${terms ?? 0} ${terms === 1 ? 'term' : 'terms'}`;
  return `${entries ?? 0} ${entries === 1 ? 'entry' : 'entries'}`;
}

/** What an arrow says: its field; how many on either side, its name from there, how often it is used. */
function wordsOf({ what: category, field, inverse, toMany, fromMany, uses, mark }: Arrow): readonly string[] {
  const sign = mark === undefined ? '' : `${signs[mark]} `;
  if (category === 'kit') return [`${sign}has`];
  if (category === 'extends') return [`${sign}extends`];

  const used = uses === undefined ? '' : `${uses}×`;
  if (category === 'term') return [sign + [field, used].filter(Boolean).join(' · ')];

  const sides = `${fromMany ? 'many' : 'one'} → ${toMany ? 'many' : 'one'}`;

  return [
    sign + [field, used].filter(Boolean).join(' · '),
    [sides, inverse && `back: ${inverse}`].filter(Boolean).join(' · '),
  ];
}

const [narrow, wide] = [/[ijlrtfI.,:;'’|!()[\]-]/u, /[mwMW@%—…]/u];

/** About how wide a text is in a font without serifs, rather too wide than too narrow. */
function textWidth(text: string, size: number): number {
  let width = 0;
  for (const letter of text) {
    if (narrow.test(letter)) width += 0.36;
    else if (wide.test(letter)) width += 0.95;
    else if (/[\u1100-\u{2ffff}]/u.test(letter)) width += 1.05;
    else width += /\p{Lu}/u.test(letter) ? 0.74 : 0.61;
  }

  return width * size;
}
