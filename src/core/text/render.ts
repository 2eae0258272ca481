import { defaultSchema, sanitize } from 'hast-util-sanitize';
import { toHtml } from 'hast-util-to-html';
import type { Root } from 'mdast';
import { gfmStrikethroughToMarkdown } from 'mdast-util-gfm-strikethrough';
import { gfmTableToMarkdown } from 'mdast-util-gfm-table';
import { toHast } from 'mdast-util-to-hast';
import { toMarkdown } from 'mdast-util-to-markdown';
import { compact, isList, isObject, type Json, type JsonObject } from '../plain/json.ts';
import { isPictureName, usualSchemes } from './links.ts';
import { entryOf, entryScheme, walkText } from './tree.ts';

/** An entry or a file that is in a text by itself. */
interface Embedded {
  readonly entry?: string;
  readonly asset?: string;
  readonly alt?: string;
}

/** The tree as Markdown. Embedded parts become links. */
export function treeToMarkdown(tree: Json): string {
  const link = ({ entry, asset = '', alt = '' }: Embedded): string => {
    if (entry !== undefined) return `[${entry}](${entryScheme}${entry})`;
    if (isPictureName(asset)) return `![${alt}](${asset})`;
    return `[${alt || asset}](${asset})`;
  };

  return toMarkdown(tree as unknown as Root, {
    bullet: '-',
    rule: '-',
    extensions: [
      gfmTableToMarkdown(),
      gfmStrikethroughToMarkdown(),
      // Nodes of our own are none that the library's types know.
      { handlers: { embed: link, embedInline: link } as never },
    ],
  });
}

/** What elements may have, without the few classes that the usual rules allow instead of any. */
const anyClass = Object.fromEntries(
  Object.entries(defaultSchema.attributes ?? {}).map(([element, attributes]) => [
    element,
    attributes.filter(
      (attribute) => !(isList(attribute as Json) && (attribute as readonly unknown[])[0] === 'className'),
    ),
  ]),
);

const schema: typeof defaultSchema = {
  ...defaultSchema,
  protocols: { ...defaultSchema.protocols, href: [...usualSchemes] },
  tagNames: [...(defaultSchema.tagNames ?? []), 'figure'],
  attributes: {
    ...anyClass,
    a: [...(anyClass.a ?? []), 'dataEntry'],
    figure: ['dataEntry'],
    span: ['dataEntry'],
    '*': [...(anyClass['*'] ?? []), 'className'],
  },
};

/**
 * The tree as HTML. An entry that is in it is an empty `<figure data-entry>` or `<span data-entry>`, for a page to
 * fill; a link to one is `<a data-entry>`; a style is a class.
 * @param isSafe whether only what can do no harm is kept, whatever the tree says; on by default.
 */
export function treeToHtml(tree: Json, isSafe = true): string {
  const pointing = (tagName: 'figure' | 'span') => (_state: unknown, node: JsonObject) =>
    node.entry === undefined
      ? fileElement(String(node.asset), typeof node.alt === 'string' ? node.alt : '')
      : { type: 'element', tagName, properties: { dataEntry: node.entry }, children: [] };

  const styled = withClasses(tree, isSafe);
  const hast = toHast(styled as unknown as Root, {
    handlers: { embed: pointing('figure'), embedInline: pointing('span') } as never,
  });

  return toHtml(isSafe ? sanitize(hast, schema) : hast, { allowDangerousCharacters: false });
}

/** A file that is in a text: a picture as that, any other as a link to it. */
function fileElement(file: string, alt: string): JsonObject {
  if (isPictureName(file)) return { type: 'element', tagName: 'img', properties: { src: file, alt }, children: [] };
  const label = { type: 'text', value: alt === '' ? file : alt };
  return { type: 'element', tagName: 'a', properties: { href: file }, children: [label] };
}

/** The losses of a tree that becomes Markdown, which has no styles. */
export function lostInMarkdown(tree: JsonObject): readonly string[] {
  const lost: string[] = [];
  walkText(
    tree,
    ({ node }) => {
      const style = isObject(node.data) ? node.data.style : undefined;
      if (typeof style === 'string') lost.push(`the style ${style} of a ${String(node.type)}`);
    },
    () => undefined,
  );

  return lost;
}

/** An address with its scheme in small letters: what keeps harm out of HTML tells them apart. */
const inSmall = (key: string, value: Json): Json => {
  if (key === 'url' && typeof value === 'string')
    return value.replace(/^[a-z][a-z0-9+.-]*:/iu, (scheme) => scheme.toLowerCase());
  return value;
};

/** Styles as class names, links to entries as links that say which: in the form that the conversion to HTML reads. */
function withClasses(node: Json, isSafe: boolean): Json {
  if (isList(node)) return node.map((value) => withClasses(value, isSafe));
  if (!isObject(node)) return node;

  const { data, ...rest } = node;
  const entry = node.type === 'link' ? entryOf(node) : undefined;
  const properties = compact({
    className: isObject(data) && typeof data.style === 'string' ? [data.style] : undefined,
    ...(entry === undefined ? {} : { dataEntry: entry, href: null }),
  });

  return {
    ...Object.fromEntries(
      Object.entries(rest).map(([key, value]) => {
        if (key === 'children') return [key, withClasses(value, isSafe)];
        return [key, isSafe ? inSmall(key, value) : value];
      }),
    ),
    ...(Object.keys(properties).length > 0 ? { data: { hProperties: properties } } : {}),
  };
}
