import type { MapResult } from '../../tasks/map.ts';
import { idOf } from './layout.ts';

/** A map in the language DOT of Graphviz. */
export function* dot({ workspace, boxes, arrows }: MapResult): Iterable<string> {
  yield `digraph ${quoted(workspace)} {\n  rankdir=LR;\n  node [shape=record, fontname="sans-serif"];\n`;
  for (const box of boxes) {
    const fields = box.groups.flatMap((group) => group.fields);
    const rows = fields.map(
      ({ name, kind, many, required }) =>
        `${inRecord(name)}${required ? ' !' : ''} : ${many ? 'many ' : ''}${inRecord(kind)}\\l`,
    );
    const label = `{${inRecord(box.label)}${rows.length > 0 ? `|${rows.join('')}` : ''}}`;
    const look = { type: '', kit: ', style=dashed', taxonomy: ', style=rounded' }[box.what];
    yield `  ${quoted(idOf(box))} [label="${label}"${look}];\n`;
  }

  for (const { what: category, from, to, field } of arrows) {
    const look = { reference: '', term: ', style=dotted', kit: ', style=dashed', extends: ', arrowhead=empty' }[
      category
    ];
    yield `  ${quoted(from)} -> ${quoted(to)} [label=${quoted(field ?? (category === 'kit' ? 'has' : category))}${look}];\n`;
  }

  yield '}\n';
}

const quoted = (text: string): string =>
  `"${text.replaceAll('\\', '\\\\').replaceAll('"', '\\"').replace(/\s+/gu, ' ')}"`;

/** A text that means itself in a record of DOT. */
const inRecord = (text: string): string => text.replace(/\s+/gu, ' ').replace(/[\\{}|<>"]/gu, (sign) => `\\${sign}`);

/** A map as an entity-relationship diagram in the language Mermaid. */
export function* mermaid({ boxes, arrows }: MapResult): Iterable<string> {
  yield 'erDiagram\n';
  const names = new Map(boxes.map((box, index) => [idOf(box), `b${index}`]));
  for (const box of boxes) {
    yield `  ${names.get(idOf(box))}["${inMermaid(box.label)}"] {\n`;
    for (const { name, kind, many } of box.groups.flatMap((group) => group.fields))
      yield `    ${many ? 'many-' : ''}${kind} ${attribute(name)}\n`;
    yield '  }\n';
  }

  for (const { what: category, from, to, field, toMany, fromMany } of arrows) {
    const [fromEnd, right] = category === 'reference' ? [fromMany ? '}o' : '|o', toMany ? 'o{' : 'o|'] : ['}o', 'o|'];
    yield `  ${names.get(from)} ${fromEnd}${category === 'reference' ? '--' : '..'}${right} ${names.get(to)} : "${inMermaid(field ?? (category === 'kit' ? 'has' : category))}"\n`;
  }
}

const inMermaid = (text: string): string => text.replace(/["#;<>&\s]+/gu, ' ').trim();

/** The name of an attribute as the language takes it. */
const attribute = (name: string): string => name.replace(/[^\p{L}\p{N}_-]/gu, '-').replace(/^(?=[^\p{L}])/u, '_');
