/** A text as one word of a call, quoted where a shell would read it as anything else (POSIX.1-2017, Shell Command Language, 2.2). */
export const shellWord = (text: string): string => {
  if (/^[\p{L}\p{N}_./,:@%+-][\p{L}\p{N}_./,:@%+=-]*$/u.test(text)) return text;
  return `'${text.replaceAll("'", `'\\''`)}'`;
};
