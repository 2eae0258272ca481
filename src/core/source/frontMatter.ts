/** A Markdown file in three parts, each a slice of the text: joined again they are the file, letter for letter. */
export interface FrontMatter {
  /** A byte-order mark, if there is one, and the opening line `---`. */
  readonly opening: string;
  /** The YAML between the two lines. */
  readonly yaml: string;
  /** The closing line `---`. */
  readonly closing: string;
  /** All that follows. */
  readonly body: string;
}

const fence = /^---[ \t]*(?:\r?\n|$)/u;
const closingFence = /^---[ \t]*(?:\r?\n|$)/mu;

/** Splits a Markdown file; `undefined` where it does not open with a line `---` that a second one closes. */
export function splitFrontMatter(text: string): FrontMatter | undefined {
  const mark = text.startsWith('\uFEFF') ? '\uFEFF' : '';
  const opened = fence.exec(text.slice(mark.length));
  if (!opened) return undefined;

  const start = mark.length + opened[0].length;
  const rest = text.slice(start);
  const closed = closingFence.exec(rest);
  if (!closed) return undefined;

  return {
    opening: text.slice(0, start),
    yaml: rest.slice(0, closed.index),
    closing: closed[0],
    body: rest.slice(closed.index + closed[0].length),
  };
}

/** The prose of a Markdown file as a value: without the blank lines around it, `undefined` where there is none. */
export function proseOf(body: string): string | undefined {
  const prose = body.replace(/^(?:[ \t]*\r?\n)+/u, '').trimEnd();
  if (prose === '') return undefined;
  return prose.replaceAll('\r\n', '\n');
}

/** The body with other prose in it: the blank lines around the old prose stay, and so does the kind of line end. */
export function withProse(body: string, prose: string | undefined): string {
  const eol = body.includes('\r\n') ? '\r\n' : '\n';
  if (prose === undefined) return '';
  const before = /^(?:[ \t]*\r?\n)*/u.exec(body)?.[0] ?? '';
  const after = proseOf(body) === undefined ? eol : (/\s*$/u.exec(body)?.[0] ?? '');
  return `${before || eol}${prose.replaceAll('\n', eol)}${after || eol}`;
}
