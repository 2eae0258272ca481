/** A text in XML 1.0, of which some characters can be no part, however they are written. */
export const xml = (text: string): string =>
  text
    // biome-ignore lint/suspicious/noControlCharactersInRegex: these are what it is about.
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]|\p{Surrogate}/gu, '\ufffd')
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('"', '&quot;')
    .replace(/[\n\r\t]/gu, (sign) => `&#${sign.codePointAt(0)};`);
