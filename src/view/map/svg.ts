import { onceFor } from '../../core/plain/once.ts';
import type { MapResult } from '../../tasks/map.ts';
import { xml } from '../xml.ts';
import { idOf, type Layout, layoutOf, measures, type PlacedBox, type Point } from './layout.ts';
import { signs } from './signs.ts';

/** How a map looks: its own colours, by day and by night; no colour says anything that a form does not say too. */
export const style = `
.paper{fill:#faf8f3}.box{fill:#fff;stroke:#5b6b73;stroke-width:1.2}.kit .box{stroke-dasharray:5 3}.band{fill:#d9e6e3}
.kit .band{fill:#efe4cc}.taxonomy .band{fill:#e3dcea}text{font-family:"DejaVu Sans",Verdana,system-ui,sans-serif;font-size:13px;fill:#22303a}
.title{font-size:15px;font-weight:600}.below,.kind,.group,.words{fill:#5f6e76;font-size:11px}.kind{font-size:12px}.group{font-style:italic}
.must{font-weight:600}.end{text-anchor:end}.middle{text-anchor:middle}.arrow{fill:none;stroke:#4c6472;stroke-width:1.3}.term{stroke-dasharray:1.5 3}.kitof{stroke-dasharray:6 3}
.sign{font-weight:700}.removed,text.removed{text-decoration:line-through}.ground{fill:#eef1f0}.ground.added{fill:#e0f0dc}.ground.removed{fill:#f6e2dd}.ground.changed,.ground.renamed,.ground.moved{fill:#f7efd2}
.is-added .box{stroke-width:2.6}.is-removed .box{stroke-dasharray:2 3}.is-removed{opacity:.72}.arrow.is-added{stroke-width:2.4}.arrow.is-removed{stroke-dasharray:2 5}
.head{fill:#4c6472}.hollow{fill:#faf8f3;stroke:#4c6472}.back{fill:#faf8f3;opacity:.88}
@media (prefers-color-scheme:dark){.paper,.back,.hollow{fill:#161d22}.box{fill:#1f2930;stroke:#8da0a8}.band{fill:#2c4a48}.kit .band{fill:#4d4330}
.taxonomy .band{fill:#413a4f}text{fill:#e6ecee}.below,.kind,.group,.words{fill:#a9b7bd}.arrow{stroke:#93a9b5}.head{fill:#93a9b5}.hollow{stroke:#93a9b5}
.ground{fill:#2a353c}.ground.added{fill:#23402a}.ground.removed{fill:#4a2c28}.ground.changed,.ground.renamed,.ground.moved{fill:#453c1c}}
`;

/** Where a picture is in a page: what its boxes lead to. The page has its style. */
interface InPage {
  readonly href: (box: MapResult['boxes'][number]) => string;
}

/** A map as a picture: text that can be selected and searched, with a title and a description for readers of screens. */
export function* svg(result: MapResult, page?: InPage): Iterable<string> {
  const layout = laidOut(result);
  const { width, height } = sizeWith(layout);
  yield `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}" role="${page ? 'group' : 'img'}" aria-labelledby="picture-title picture-words">\n`;
  yield `<title id="picture-title">${xml(titleOf(result))}</title>\n<desc id="picture-words">${xml(descriptionOf(result))}</desc>\n`;
  if (!page) yield `<style>${style}</style>\n`;
  yield `<defs>${markers}</defs>\n<rect class="paper" width="100%" height="100%"/>\n`;
  yield* layout.arrows.map(({ arrow, points }) => {
    const { mark } = arrow;
    const look = { reference: '', term: ' term', kit: ' kitof', extends: '' }[arrow.what];
    const marker = arrow.what === 'extends' ? 'hollow' : 'head';
    return `<path class="arrow${look}${mark === undefined ? '' : ` is-${mark}`}" d="${pathOf(points)}" marker-end="url(#map-${marker})"/>\n`;
  });
  for (const placed of layout.boxes)
    yield page ? `<a href="${xml(page.href(placed.box))}">${boxSvg(placed)}</a>` : boxSvg(placed, idOf(placed.box));
  yield* wordsSvg(layout);
  yield legendSvg(height - legend / 2, result.since !== undefined);
  yield '</svg>\n';
}

/** A map is laid out once, however often it is requested. */
const laidOut = onceFor(layoutOf);

/** How much of a picture its legend takes, at the bottom. */
const legend = 34;

const sizeWith = ({ width, height }: Layout): Size => ({
  width: Math.ceil(Math.max(width, 860)),
  height: Math.ceil(height + legend),
});

interface Size {
  readonly width: number;
  readonly height: number;
}

/** How large a picture is, in its pixels. */
export const sizeOf = (result: MapResult): Size => sizeWith(laidOut(result));

const markers =
  '<marker id="map-head" viewBox="0 0 10 10" refX="9" refY="5" markerWidth="8" markerHeight="8" orient="auto-start-reverse"><path class="head" d="M0 1 9 5 0 9Z"/></marker>' +
  '<marker id="map-hollow" viewBox="0 0 12 12" refX="11" refY="6" markerWidth="12" markerHeight="12" orient="auto-start-reverse"><path class="hollow" d="M1 1 11 6 1 11Z"/></marker>';

function boxSvg({ box, title, below, rows, x, y, width, height }: PlacedBox, id?: string): string {
  const { head, row, group, side } = measures;
  const shape =
    box.what === 'taxonomy'
      ? `<path class="box" d="${tagOf(x, y, width, height)}"/><path class="band" d="${tagOf(x + 1, y + 1, width - 2, Math.min(head, height) - 2)}"/>`
      : `<rect class="box" x="${n(x)}" y="${n(y)}" width="${n(width)}" height="${n(height)}" rx="${box.what === 'kit' ? 12 : 3}"/><rect class="band" x="${n(x + 1)}" y="${n(y + 1)}" width="${n(width - 2)}" height="${head - 4}" rx="${box.what === 'kit' ? 11 : 2}"/>`;
  let rowY = y + head;
  const lines = rows.map((rowBox) => {
    rowY += 'group' in rowBox ? group : row;
    if ('group' in rowBox) return text(x + side, rowY - 6, 'group', rowBox.group);

    const look = [rowBox.mark ?? '', rowBox.required ? 'must' : ''].filter(Boolean).join(' ');
    const dot = rowBox.required ? `<circle class="head" cx="${n(x + side + 3)}" cy="${n(rowY - 9.5)}" r="2.5"/>` : '';
    // What became of a field is where else the dot of a required one does.
    const before = rowBox.mark === undefined ? dot : text(x + side - 1, rowY - 5, 'sign', signs[rowBox.mark]);
    const ground =
      rowBox.mark === undefined
        ? ''
        : `<rect class="ground ${rowBox.mark}" x="${n(x + 2)}" y="${n(rowY - row + 1)}" width="${n(width - 4)}" height="${row - 1}"/>`;

    return `${ground}${before}${text(x + side + 12, rowY - 5, look, rowBox.name)}${text(x + width - side, rowY - 5, `kind end ${rowBox.mark ?? ''}`.trim(), rowBox.kind)}`;
  });

  return `<g class="${[box.what, box.mark === undefined ? '' : `is-${box.mark}`].filter(Boolean).join(' ')}"${id === undefined ? '' : ` id="${xml(id)}"`}><title>${xml(`${title} (${below})`)}</title>${shape}${text(x + side, y + 19, 'title', title)}${text(x + side, y + 33, 'below', below)}${lines.join('')}</g>\n`;
}

/** A label with a cut corner: taxonomies look like the tags that they are. */
const tagOf = (x: number, y: number, width: number, height: number): string =>
  `M${n(x)} ${n(y)}H${n(x + width - 12)}L${n(x + width)} ${n(y + 12)}V${n(y + height)}H${n(x)}Z`;

function* wordsSvg({ arrows }: Layout): Iterable<string> {
  for (const { words, at: point } of arrows) {
    if (words.length === 0) continue;
    const top = point.y - words.length * 7;
    const wide = Math.max(...words.map((word) => word.length)) * 6.2;
    yield `<rect class="back" x="${n(point.x - wide / 2)}" y="${n(top)}" width="${n(wide)}" height="${words.length * 14}"/>`;
    yield words.map((word, index) => text(point.x, top + 11 + index * 14, 'words middle', word)).join('');
    yield '\n';
  }
}

function legendSvg(y: number, isChange: boolean): string {
  const marks = isChange
    ? text(560, y, 'words', ['+ new', '− gone', '~ different', '≈ another name', '→ another place'].join('\u2003'))
    : '';
  const line = (x: number, look: string, marker: string, label: string): string =>
    `<path class="arrow${look}" d="M${x} ${y - 4}h34" marker-end="url(#map-${marker})"/>${text(x + 42, y, 'words', label)}`;
  return `<g>${line(24, '', 'head', 'reference')}${line(150, ' term', 'head', 'term of')}${line(270, ' kitof', 'head', 'kit')}${line(350, '', 'hollow', 'extends')}<circle class="head" cx="470" cy="${y - 4}" r="2.5"/>${text(478, y, 'words', 'required')}${marks}</g>\n`;
}

/** How far from a corner a line begins to turn. */
const turn = 16;

/** A line through some points, its corners rounded: it keeps to the way that was laid out, and to its words. */
function pathOf(points: readonly Point[]): string {
  const pieces = points.map((point, index) => {
    const [before, after] = [points[index - 1], points[index + 1]];
    if (!before) return `M${n(point.x)} ${n(point.y)}`;
    if (!after) return `L${n(point.x)} ${n(point.y)}`;
    const [from, to] = [towards(point, before), towards(point, after)];
    return `L${n(from.x)} ${n(from.y)}Q${n(point.x)} ${n(point.y)} ${n(to.x)} ${n(to.y)}`;
  });
  return pieces.join('');
}

/** A little way from a point to another. */
function towards({ x, y }: Point, other: Point): Point {
  const [right, down] = [other.x - x, other.y - y];
  const share = Math.min(0.5, turn / Math.max(1, Math.hypot(right, down)));
  return { x: x + right * share, y: y + down * share };
}

/** @param look a class, with `end` or `middle` behind it where the text stands to the left of its place, or around it. */
const text = (x: number, y: number, look: string, label: string): string =>
  `<text x="${n(x)}" y="${n(y)}"${look === '' ? '' : ` class="${look}"`}>${xml(label)}</text>`;

const n = (number: number): string => String(Math.round(number * 10) / 10);

const titleOf = ({ workspace, since }: MapResult): string => {
  if (since === undefined) return `The model of ${workspace}`;
  return `The model of ${workspace}, compared with ${since.name}`;
};

function descriptionOf({ boxes, arrows }: MapResult): string {
  const labels = new Map(boxes.map((box) => [idOf(box), box.label]));
  const sentences = arrows.flatMap(({ what: category, from, to, field }) =>
    category === 'reference' ? [`${labels.get(from)} points at ${labels.get(to)} by ${field}.`] : [],
  );
  return [`${boxes.map(({ label, what: category }) => `${label} (${category})`).join(', ')}.`, ...sentences].join(' ');
}
