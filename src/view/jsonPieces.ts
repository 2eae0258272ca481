import { isList, isObject, type Json } from '../core/plain/json.ts';

/** A value as JSON with two spaces for each level, in pieces: a text of all of it may be larger than texts can be. */
export function* jsonPieces(value: Json): Iterable<string> {
  if (!isObject(value)) {
    yield `${JSON.stringify(value, undefined, 2)}\n`;
    return;
  }

  let start = '{\n';
  for (const [key, item] of Object.entries(value)) {
    if (item === undefined) continue;
    yield `${start}  ${JSON.stringify(key)}: `;
    if (isList(item) && item.length > many) yield* itemPieces(item);
    else yield indented(item, '  ');
    start = ',\n';
  }

  yield start === '{\n' ? '{}\n' : '\n}\n';
}

/** Lists shorter than this are written in one piece. */
const many = 1000;

function* itemPieces(items: readonly Json[]): Iterable<string> {
  for (const [index, item] of items.entries()) yield `${index === 0 ? '[' : ','}\n    ${indented(item, '    ')}`;
  yield '\n  ]';
}

/** A line break in JSON stands between its parts alone: in texts it is escaped. */
const indented = (value: Json, by: string): string => JSON.stringify(value, undefined, 2).replaceAll('\n', `\n${by}`);
