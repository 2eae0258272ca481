import type { Definition, Nodes } from 'mdast';
import { fromMarkdown } from 'mdast-util-from-markdown';
import type { TextLink } from './links.ts';

/** The links and pictures of a Markdown text (CommonMark 0.31), in their order; those in raw HTML too. */
export function readLinks(markdown: string): readonly TextLink[] {
  const links: TextLink[] = [];
  const definitions = new Map<string, Definition>();
  const root = fromMarkdown(markdown);
  visit(root, (node) => {
    if (node.type === 'definition' && !definitions.has(node.identifier)) definitions.set(node.identifier, node);
  });

  visit(root, (node) => {
    if (node.type === 'link') links.push({ url: node.url, isPicture: false });
    if (node.type === 'image') links.push({ url: node.url, isPicture: true, alt: node.alt ?? '' });
    if (node.type === 'linkReference' || node.type === 'imageReference') {
      const url = definitions.get(node.identifier)?.url;
      if (url === undefined) return;
      if (node.type === 'linkReference') links.push({ url, isPicture: false });
      else links.push({ url, isPicture: true, alt: node.alt ?? '' });
    }

    if (node.type === 'html') links.push(...linksInHtml(node.value));
  });

  return links;
}

function visit(node: Nodes, see: (node: Nodes) => void): void {
  see(node);
  if ('children' in node) for (const child of node.children) visit(child, see);
}

/** A tag is read in one go and no text is read twice, however it is written: see `tagsIn`. */
const tagName = /<([a-z][a-z0-9-]*)/giu;
const attributes = /(?<![^\s"'=<>/])([^\s"'=<>/]+)\s*=\s*(?:"([^"]*)"|'([^']*)'|([^\s"'=<>`]+))/gu;

/** The tags of raw HTML with their content. One whose quotes are never closed ends at the next `>`. */
function* tagsIn(html: string): Iterable<{ readonly tag: string; readonly inside: string }> {
  let isClosed = true;
  for (let from = 0; ; ) {
    tagName.lastIndex = from;
    const match = tagName.exec(html);
    if (!match) return;

    const start = tagName.lastIndex;
    const quoted = isClosed ? endOfTag(html, start) : -1;
    if (quoted < 0) isClosed = false;
    const end = quoted < 0 ? html.indexOf('>', start) : quoted;
    if (end < 0) return;

    yield { tag: match[1] ?? '', inside: html.slice(start, end) };
    from = end;
  }
}

/** Where a tag ends: the next `>` that is in no quotes; -1 where there is none. */
function endOfTag(html: string, from: number): number {
  let quote = '';
  for (let index = from; index < html.length; index++) {
    const character = html.charAt(index);
    if (quote === '' && character === '>') return index;
    if (quote === '' && (character === '"' || character === "'")) quote = character;
    else if (character === quote) quote = '';
  }

  return -1;
}

/** What tags of raw HTML lead to by `href`, and show by `src`. */
function linksInHtml(html: string): readonly TextLink[] {
  return [...tagsIn(html)].flatMap(({ tag, inside }): readonly TextLink[] => {
    const attributesByName = new Map(
      [...inside.matchAll(attributes)].map(
        ([, name = '', ...values]) => [name.toLowerCase(), unescaped(values.find(Boolean) ?? '')] as const,
      ),
    );
    const [href, src] = [attributesByName.get('href'), attributesByName.get('src')];
    const isPicture = tag.toLowerCase() === 'img';

    return [
      ...(href === undefined ? [] : [{ url: href, isPicture: false }]),
      ...(src === undefined
        ? []
        : [{ url: src, isPicture, alt: isPicture ? (attributesByName.get('alt') ?? '') : undefined }]),
    ];
  });
}

const named: Readonly<Record<string, string>> = {
  amp: '&',
  colon: ':',
  Tab: '\t',
  NewLine: '\n',
  sol: '/',
  period: '.',
};

/** Character references of HTML, those that an address can hide behind. */
const unescaped = (text: string): string =>
  text.replace(/&(?:#x([0-9a-f]{1,6})|#([0-9]{1,7})|([A-Za-z]+));?/giu, (match, hex, decimal, name) => {
    const code = hex === undefined ? Number(decimal) : Number.parseInt(hex, 16);
    if (name !== undefined) return named[name] ?? match;
    if (code <= 0x10ffff) return String.fromCodePoint(code);
    return match;
  });
