import type { Element, Elements } from './elements.ts';

/** The outcome for the elements of a text, by where they start: another text, or nothing. */
export type Rewritten = ReadonlyMap<number, string | undefined>;

/** An entry that comes new. */
export interface Added {
  /** Its key, in a map. */
  readonly key: string;
  /** Its JSON with two spaces for each level. */
  readonly text: string;
}

/** A text with some elements rewritten, taken out, or added at the end; the rest of it stays. */
export function rewrittenText(
  text: string,
  allElements: Elements,
  changed: Rewritten,
  added: readonly Added[],
): string {
  const { elements, open, close } = allElements;
  const keptElements = elements.filter(
    (element) => !(changed.has(element.start) && changed.get(element.start) === undefined),
  );
  const pieces: string[] = [text.slice(0, open + 1)];
  const first = elements[0];
  for (const [index, element] of keptElements.entries()) {
    const before = index === 0 ? text.slice(open + 1, first?.from) : gapBefore(text, elements, element);
    const become = changed.get(element.start) ?? text.slice(element.start, element.end);
    pieces.push(before, text.slice(element.from, element.start), become);
  }

  for (const [index, newElement] of added.entries()) {
    const isFirst = keptElements.length + index === 0;
    pieces.push(
      isFirst ? firstGap(text, allElements) : usualGap(text, allElements),
      elementText(text, allElements, newElement),
    );
  }

  const isEmptied = keptElements.length + added.length === 0;
  pieces.push(isEmptied ? '' : closingGap(text, allElements), text.slice(close));

  return pieces.join('');
}

/** The text between an element and the one before it: a comma, and blanks around it. */
function gapBefore(text: string, elements: readonly Element[], element: Element): string {
  const index = elements.indexOf(element);
  if (index === 0) return usualGap(text, { elements });
  return text.slice(elements[index - 1]?.end, element.from);
}

/** The same as between the last two that are there; on lines of their own where there are no two. */
function usualGap(text: string, { elements }: Pick<Elements, 'elements'>): string {
  const [last, other] = [elements.at(-1), elements.at(-2)];
  if (last && other) return text.slice(other.end, last.from);
  return `,${firstGap(text, { elements })}`;
}

function firstGap(text: string, { elements, open }: Pick<Elements, 'elements'> & { readonly open?: number }): string {
  const [first] = elements;
  if (!first) return '\n  ';
  const start = open ?? text.lastIndexOf('\n', first.from);
  const gap = text.slice(open === undefined ? start : open + 1, first.from);
  if (/^\s*$/u.test(gap) && gap.includes('\n')) return gap.slice(gap.lastIndexOf('\n'));
  return ' ';
}

function closingGap(text: string, { elements, open, close }: Elements): string {
  const last = elements.at(-1);
  const gap = text.slice(last?.end ?? open + 1, close);
  if (last || gap.includes('\n')) return gap;
  return '\n';
}

/** A new element as the others are written: on one line, or each key on its own line. */
function elementText(text: string, { elements, isMap }: Elements, { key, text: json }: Added): string {
  const last = elements.at(-1);
  const isOnOneLine = last !== undefined && !text.slice(last.start, last.end).includes('\n');
  const indent = last ? indentBefore(text, last.from) : '  ';
  const written = isOnOneLine ? JSON.stringify(JSON.parse(json)) : json.replaceAll('\n', `\n${indent}`);
  if (!isMap) return written;
  return `${JSON.stringify(key)}: ${written}`;
}

/** The blanks that a line begins with. */
function indentBefore(text: string, index: number): string {
  const line = text.slice(text.lastIndexOf('\n', index - 1) + 1, index);
  return /^[ \t]*/u.exec(line)?.[0] ?? '';
}
