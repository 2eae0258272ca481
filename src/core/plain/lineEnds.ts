/** A text with `\n` at the end of each line: version control may have written `\r\n`. */
export const unixLines = (text: string): string => text.replaceAll('\r\n', '\n');
