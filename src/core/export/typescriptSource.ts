/** A text as a literal of TypeScript, in the quotes that its authors use. */
export const literal = (text: string): string =>
  `'${JSON.stringify(text)
    .slice(1, -1)
    .replaceAll('\\"', '"')
    .replaceAll("'", "\\'")
    .replace(/[\u2028\u2029]/gu, (sign) => `\\u${sign.charCodeAt(0).toString(16)}`)}'`;

/** A name as the key of a member. */
export const keyText = (key: string): string => {
  if (/^[A-Za-z_$][\w$]*$/u.test(key)) return key;
  return literal(key);
};

/** A text that does not end the comment it is in. */
const commented = (text: string): string => text.replaceAll('*/', '*\u200b/');

/** Words above a member. @param gap the text before each line. */
export const doc = (lines: readonly string[], gap: string): string => {
  const comments = lines.flatMap((line) => commented(line).split(/\r\n|[\n\r\u2028\u2029]/u));
  if (comments.length === 1) return `${gap}/** ${comments[0]} */\n`;
  return `${gap}/**\n${comments.map((line) => `${gap} * ${line}`.trimEnd()).join('\n')}\n${gap} */\n`;
};

/** What a file says of itself at its head. */
export const fileHead = (workspace: string, call: string): string =>
  `/*\n * The content of ${commented(workspace)}.\n * Written by ${commented(call)}, and overwritten by it: not for editing.\n */\n\n`;
