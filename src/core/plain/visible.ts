/**
 * Characters that do something instead of standing for something: control characters of ASCII and Latin-1 (ECMA-48), which
 * move the cursor, overwrite lines, set titles and links; those that change the direction of text (Unicode's Bidi_Control,
 * UAX #9), which reorder a path; marks of annotations; and blanks without width, which nobody sees. Tab is left, and line
 * breaks are a matter of their own.
 */
const acting =
  // biome-ignore lint/suspicious/noControlCharactersInRegex: these are what it is about.
  /[\u0000-\u0008\u000b-\u001f\u007f-\u009f\u061c\u200b\u200e\u200f\u202a-\u202e\u2060\u2066-\u2069\ufeff\ufff9-\ufffb]/gu;
/** The same, and line breaks. */
const acts =
  // biome-ignore lint/suspicious/noControlCharactersInRegex: these are what it is about.
  /[\u0000-\u0008\n-\u001f\u007f-\u009f\u061c\u200b\u200e\u200f\u2028-\u202e\u2060\u2066-\u2069\ufeff\ufff9-\ufffb]/u;
const lineBreaks = /\r\n|[\n\r\u0085\u2028\u2029]/gu;

const escaped = (letter: string): string => `\\u${(letter.codePointAt(0) ?? 0).toString(16).padStart(4, '0')}`;

/**
 * A text that somebody else wrote, as it may stand among ours: what acts on a terminal is shown as its number, `\u001b`,
 * as JSON writes it, and each line break as a space, so that no value can pass for a line of ours. Letters of every
 * script stay as they are, those that are read from right to left too.
 */
export const visible = (text: string): string => text.replace(lineBreaks, ' ').replace(acting, escaped);

/** Whether a text is shown as it is. */
export const isVisible = (text: string): boolean => !acts.test(text);

/** The same for a text of several lines, which stay. */
export const visibleLines = (text: string): string =>
  text
    .split(/\r\n|[\n\u0085\u2028\u2029]/u)
    .map(visible)
    .join('\n');
