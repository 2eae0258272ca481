import { Lexer } from 'yaml';

/** How many levels of lists and groups of keys one file may nest. */
export const deepestLevel = 200;

/**
 * Whether a text of YAML nests lists and groups of keys deeper than files may. Reads its tokens only: the parser calls
 * itself for each level. Where a list stands as far left as its key, the two count as one level.
 */
export function isNestedTooDeeply(text: string): boolean {
  // Each level takes at least one of these characters.
  if ((text.match(/[[{:?-]/gu)?.length ?? 0) <= deepestLevel) return false;

  const line = new LineStart();
  let open = 0;
  let blocks: number[] = [];
  for (const token of new Lexer().lex(text)) {
    if (token === '[' || token === '{') open += 1;
    if (token === ']' || token === '}') open -= 1;
    line.take(token);
    if (open === 0 && (token === '-' || token === '?' || token === ':')) {
      const { start } = line;
      blocks = [...blocks.filter((block) => block < start), start];
    }

    if (open + blocks.length > deepestLevel) return true;
  }

  return false;
}

/** Where the last list item, or the key behind it, starts in the line available. */
class LineStart {
  /** A column, from 0. */
  start = 0;
  #column = 0;
  #hasKey = false;

  take(token: string): void {
    const isIndicator = token === '-' || token === '?';
    const isBlank = token.trim() === '' || token.startsWith('\u001f') || token.startsWith('\u0002');
    if (!isBlank && !this.#hasKey) {
      this.start = this.#column;
      this.#hasKey = !isIndicator;
    }

    const lineEnd = token.lastIndexOf('\n');
    if (lineEnd >= 0) {
      this.#column = token.length - lineEnd - 1;
      this.#hasKey = false;
    } else if (token >= ' ') this.#column += token.length;
  }
}
