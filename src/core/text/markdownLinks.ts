import type { TextLink } from './links.ts';

/** The links and pictures in a Markdown text. */
export type ReadLinks = (markdown: string) => readonly TextLink[];

let loaded: ReadLinks | undefined;

/** Loads the parser of Markdown, which most commands never need. */
export async function loadLinkReader(): Promise<ReadLinks> {
  loaded ??= remembering((await import('./readLinks.ts')).readLinks);
  return loaded;
}

/** The same, which is asked several things of a text one after another and reads it once. */
function remembering(read: ReadLinks): ReadLinks {
  let last: { readonly text: string; readonly links: readonly TextLink[] } | undefined;
  return (text) => {
    if (last?.text !== text) last = { text, links: mayHoldLinks(text) ? read(text) : [] };
    return last.links;
  };
}

/** Where an address begins: behind what opens a link, in Markdown or in HTML. */
const opener = String.raw`(?:\]\(|\]:|<|\b(?:href|src)\s*=)["'\s<]*`;
/** What leads elsewhere on the web, or to a place of the same site or text: nothing is stated of these. */
const harmless = String.raw`https?:\/\/|mailto:|tel:|[#/?]`;
const worthALook = new RegExp(`!\\[|<img\\b|assets/|entry:|${opener}(?!${harmless}|\\w+(?:\\s|>|/>)|/)[^\\s>]`, 'iu');

/** No link or picture stands without one of these; most texts have none. */
const openings = ['](', ']:', '![', '<'];

/** Whether a Markdown text may hold links that there is something to say of: quick, and never wrong when it says no. */
const mayHoldLinks = (markdown: string): boolean =>
  openings.some((opening) => markdown.includes(opening)) && worthALook.test(markdown);
