/** A part of two texts: in both, in the older alone, or in the newer alone. */
export interface TextPart {
  readonly text: string;
  readonly in: 'both' | 'before' | 'after';
}

/** So many words are compared with each other; of longer texts, what stands in the middle is taken as a whole. */
const mostWords = 2000;

/** Two texts by their words: what stays, what goes, what comes (the longest common subsequence). */
export function wordDiff(before: string, after: string): readonly TextPart[] {
  const [a, b] = [wordsOf(before), wordsOf(after)];
  let start = 0;
  while (start < Math.min(a.length, b.length) && a[start] === b[start]) start += 1;
  let end = 0;
  while (end < Math.min(a.length, b.length) - start && a.at(-1 - end) === b.at(-1 - end)) end += 1;
  const middle = between(a.slice(start, a.length - end), b.slice(start, b.length - end));
  return joined([
    ...a.slice(0, start).map((text): TextPart => ({ text, in: 'both' })),
    ...middle,
    ...a.slice(a.length - end).map((text): TextPart => ({ text, in: 'both' })),
  ]);
}

/** Words with the blanks behind them. */
const wordsOf = (text: string): readonly string[] => text.match(/\S+\s*|\s+/gu) ?? [];

function between(a: readonly string[], b: readonly string[]): readonly TextPart[] {
  const whole = (): readonly TextPart[] => [
    ...a.map((text): TextPart => ({ text, in: 'before' })),
    ...b.map((text): TextPart => ({ text, in: 'after' })),
  ];
  if (a.length === 0 || b.length === 0 || a.length > mostWords || b.length > mostWords) return whole();

  const width = b.length + 1;
  const longest = new Uint16Array((a.length + 1) * width);
  const at = (row: number, column: number): number => longest[row * width + column] ?? 0;
  for (let row = a.length - 1; row >= 0; row -= 1)
    for (let column = b.length - 1; column >= 0; column -= 1)
      longest[row * width + column] =
        a[row] === b[column] ? at(row + 1, column + 1) + 1 : Math.max(at(row + 1, column), at(row, column + 1));

  const parts: TextPart[] = [];
  let [row, column] = [0, 0];
  while (row < a.length || column < b.length) {
    const [old, young] = [a[row], b[column]];
    if (old !== undefined && old === young) {
      parts.push({ text: old, in: 'both' });
      row += 1;
      column += 1;
    } else if (old !== undefined && (young === undefined || at(row + 1, column) >= at(row, column + 1))) {
      parts.push({ text: old, in: 'before' });
      row += 1;
    } else {
      parts.push({ text: young ?? '', in: 'after' });
      column += 1;
    }
  }
  return parts;
}

/** Parts beside each other that belong to the same side, as one. */
function joined(parts: readonly TextPart[]): readonly TextPart[] {
  const all: { text: string; in: TextPart['in'] }[] = [];
  for (const part of parts) {
    const last = all.at(-1);
    if (last && last.in === part.in) last.text += part.text;
    else all.push({ ...part });
  }
  return all;
}
