/** What can be typed, as it stands. */
export const code = (text: string): string => `\`${text.replaceAll('`', "'").replaceAll('|', '\\|')}\``;

/** A text that means itself in a cell of a table. */
export const escaped = (text: string): string =>
  text.replace(/[\\`*_{}[\]<>|#]/gu, (sign) => `\\${sign}`).replace(/\s+/gu, ' ');
