/** A text as one word of a call, as a shell reads it. */
export const shellWord = (text: string): string =>
  /^[\p{L}\p{N}_./,:@%+=-]+$/u.test(text) ? text : `'${text.replaceAll("'", `'\\''`)}'`;
