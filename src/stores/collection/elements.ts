import { endOfString } from '../../core/source/json.ts';

/** One entry of a file of JSON: an item of a list, or what stands under a key of a map. In characters of the text. */
export interface Element {
  readonly start: number;
  readonly end: number;
  /** Where its key starts, in a map; else where it starts itself. */
  readonly from: number;
  /** Its key, in a map. */
  readonly key?: string;
}

/** The list or the map of a file that holds entries. */
export interface Elements {
  readonly isMap: boolean;
  readonly elements: readonly Element[];
  /** Where its brackets open and close. */
  readonly open: number;
  readonly close: number;
}

/**
 * Finds the entries of a text that is JSON.
 * @param way the keys that lead to the list or map, from the outermost on.
 * @returns `undefined` where they lead to none.
 */
export function elementsIn(text: string, way: readonly string[]): Elements | undefined {
  let open = blanksEnd(text, 0);
  for (const key of way) {
    const inside = text[open] === '{' ? containerAt(text, open) : undefined;
    const found = inside?.elements.find((one) => one.key === key);
    if (!found) return undefined;
    open = found.start;
  }
  return text[open] === '{' || text[open] === '[' ? containerAt(text, open) : undefined;
}

/** What stands in some brackets, one level deep. */
function containerAt(text: string, open: number): Elements {
  const isMap = text[open] === '{';
  const closing = isMap ? '}' : ']';
  const elements: Element[] = [];
  let at = blanksEnd(text, open + 1);
  while (at < text.length && text[at] !== closing) {
    const from = at;
    let key: string | undefined;
    if (isMap) {
      const end = endOfString(text, at) + 1;
      key = JSON.parse(text.slice(at, end)) as string;
      at = blanksEnd(text, blanksEnd(text, end) + 1);
    }
    const end = endOfValue(text, at);
    elements.push({ start: at, end, from, ...(key === undefined ? {} : { key }) });
    at = blanksEnd(text, end);
    if (text[at] === ',') at = blanksEnd(text, at + 1);
  }
  return { isMap, elements, open, close: at };
}

function blanksEnd(text: string, at: number): number {
  let end = at;
  while (end < text.length && /[\s\uFEFF]/u.test(text.charAt(end))) end += 1;
  return end;
}

/** Where a value ends that starts somewhere in a text of JSON. */
function endOfValue(text: string, start: number): number {
  const first = text[start];
  if (first === '"') return endOfString(text, start) + 1;
  let depth = 0;
  for (let at = start; at < text.length; at += 1) {
    const sign = text[at];
    if (sign === '"') at = endOfString(text, at);
    else if (sign === '{' || sign === '[') depth += 1;
    else if (sign === '}' || sign === ']') {
      if (depth === 0) return at;
      depth -= 1;
      if (depth === 0) return at + 1;
    } else if (depth === 0 && (sign === ',' || /\s/u.test(sign ?? ''))) return at;
  }
  return text.length;
}
