import { endOfString } from '../../core/source/json.ts';

/** One entry of a file of JSON: an item of a list, or the value under a key of a map. In characters of the text. */
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
    const element = inside?.elements.find((item) => item.key === key);
    if (!element) return undefined;
    open = element.start;
  }

  if (text[open] === '{' || text[open] === '[') return containerAt(text, open);
  return undefined;
}

/** The content of some brackets, one level deep. */
function containerAt(text: string, open: number): Elements {
  const isMap = text[open] === '{';
  const closing = isMap ? '}' : ']';
  const elements: Element[] = [];
  let index = blanksEnd(text, open + 1);
  while (index < text.length && text[index] !== closing) {
    const from = index;
    let key: string | undefined;
    if (isMap) {
      const end = endOfString(text, index) + 1;
      key = JSON.parse(text.slice(index, end)) as string;
      index = blanksEnd(text, blanksEnd(text, end) + 1);
    }

    const end = endOfValue(text, index);
    elements.push({ start: index, end, from, ...(key === undefined ? {} : { key }) });
    index = blanksEnd(text, end);
    if (text[index] === ',') index = blanksEnd(text, index + 1);
  }

  return { isMap, elements, open, close: index };
}

function blanksEnd(text: string, index: number): number {
  let end = index;
  while (end < text.length && /[\s\uFEFF]/u.test(text.charAt(end))) end += 1;
  return end;
}

/** Where a value ends that starts somewhere in a text of JSON. */
function endOfValue(text: string, start: number): number {
  const first = text[start];
  if (first === '"') return endOfString(text, start) + 1;

  let depth = 0;
  for (let index = start; index < text.length; index += 1) {
    const sign = text[index];
    if (sign === '"') index = endOfString(text, index);
    else if (sign === '{' || sign === '[') depth += 1;
    else if (sign === '}' || sign === ']') {
      if (depth === 0) return index;
      depth -= 1;
      if (depth === 0) return index + 1;
    } else if (depth === 0 && (sign === ',' || /\s/u.test(sign ?? ''))) return index;
  }

  return text.length;
}
