import type { Element, Root as HtmlRoot } from 'hast';
import { fromParse5 } from 'hast-util-from-parse5';
import { toHtml } from 'hast-util-to-html';
import { defaultHandlers, toMdast } from 'hast-util-to-mdast';
import type { Definition, Root } from 'mdast';
import { fromMarkdown } from 'mdast-util-from-markdown';
import { gfmStrikethroughFromMarkdown } from 'mdast-util-gfm-strikethrough';
import { gfmTableFromMarkdown } from 'mdast-util-gfm-table';
import { toHast } from 'mdast-util-to-hast';
import { gfmStrikethrough } from 'micromark-extension-gfm-strikethrough';
import { gfmTable } from 'micromark-extension-gfm-table';
import { parseFragment } from 'parse5';
import { find, html } from 'property-information';
import { isDeeperThan } from '../plain/depth.ts';
import { isList, isObject, type JsonObject, withoutKey } from '../plain/json.ts';
import { entryOf, entryScheme, inPlace, isTooDeep } from './tree.ts';

/** The result for a text, and what of it could not be kept: each with how often. */
export interface Converted {
  readonly tree: JsonObject;
  readonly lost: readonly TextLoss[];
}
/** Something that a conversion cannot keep, with its count. */
export interface TextLoss {
  readonly what: string;
  readonly times: number;
}

/* ── into the tree ───────────────────────────────────────────────────────────────────────────────────────────── */

/** Markdown (CommonMark 0.31 with tables and strikethrough) as a tree. */
export function markdownToTree(text: string): Converted {
  const parsed = fromMarkdown(text, {
    extensions: [gfmTable(), gfmStrikethrough({ singleTilde: false })],
    mdastExtensions: [gfmTableFromMarkdown(), gfmStrikethroughFromMarkdown()],
  });
  if (isNestedTooDeeply(parsed)) return nothingKept;

  const losses = new Losses();
  return unlessTooDeep({ tree: settled(parsed, losses), lost: losses.all() });
}

/** What HTML holds that a tree can keep; the rest is listed. */
export function htmlToTree(html: string): Converted {
  const parsed = parseFragment(html, { scriptingEnabled: false });
  if (isNestedTooDeeply(parsed)) return nothingKept;
  return unlessTooDeep(treeOfHtml(fromParse5(parsed) as HtmlRoot));
}

/** The result for a text that is nested deeper than any text may be: functions that call themselves for each level would run out of stack. */
const nothingKept: Converted = {
  tree: { type: 'root', children: [] },
  lost: [{ what: 'what is nested too deeply', times: 1 }],
};

const unlessTooDeep = (converted: Converted): Converted => {
  if (isTooDeep(converted.tree)) return nothingKept;
  return converted;
};

/** Elements that mean nothing stand around others: a parsed text may be nested deeper than the tree that is made of it. */
const deepestParsed = 1000;

/** A node of what a parser made, of Markdown or HTML. */
interface ParsedNode {
  readonly children?: readonly ParsedNode[];
  readonly childNodes?: readonly ParsedNode[];
}
const isNestedTooDeeply = (root: object): boolean =>
  isDeeperThan<ParsedNode>(root, deepestParsed, ({ children, childNodes }) => children ?? childNodes ?? []);

function treeOfHtml(root: HtmlRoot): Converted {
  const losses = new Losses();
  noteLost(root, losses);
  fillEmbedded(root);
  const embed = (type: 'embed' | 'embedInline') => (_state: unknown, element: Element) =>
    ({ type, entry: String(element.properties.dataEntry) }) as never;
  const handlers = {
    figure: (state: never, element: Element) =>
      element.properties.dataEntry === undefined
        ? defaultHandlers.figure(state, element)
        : embed('embed')(state, element),
    span: (state: never, element: Element) =>
      element.properties.dataEntry === undefined
        ? defaultHandlers.span(state, element)
        : embed('embedInline')(state, element),
    a: (state: never, element: Element) => {
      const { dataEntry } = element.properties;
      const href = dataEntry === undefined ? element.properties.href : `${entryScheme}${String(dataEntry)}`;
      return defaultHandlers.a(state, { ...element, properties: { ...element.properties, href: href ?? '' } });
    },
  };
  // Handlers of our own nodes give nodes that the library's types do not know.
  const tree = toMdast(root, { handlers: handlers as never, nodeHandlers: { comment: () => undefined } }) as Root;

  return { tree: settled(tree, losses), lost: losses.all() };
}

class Losses {
  readonly #times = new Map<string, number>();

  note(loss: string, times = 1): void {
    this.#times.set(loss, (this.#times.get(loss) ?? 0) + times);
  }

  all(): readonly TextLoss[] {
    return [...this.#times].map(([loss, times]) => ({ what: loss, times }));
  }
}

/** Elements that keep their meaning in a tree, or mean nothing but a place for others. */
const keptElements = new Set(
  'a article b blockquote body br code del div em figure h1 h2 h3 h4 h5 h6 head hr html i img li main ol p pre s section span strike strong table tbody td tfoot th thead tr ul'.split(
    ' ',
  ),
);
const keptAttributes: Readonly<Record<string, readonly string[]>> = {
  a: ['href', 'title', 'dataEntry'],
  img: ['src', 'alt', 'title'],
  figure: ['dataEntry'],
  span: ['dataEntry'],
  ol: ['start'],
  td: ['align'],
  th: ['align'],
  code: ['className'],
};

/** An empty element within a line loses the space before it; an embed does not. */
function fillEmbedded(node: HtmlRoot | Element): void {
  for (const child of node.children) {
    if (child.type !== 'element') continue;
    const { dataEntry } = child.properties;
    if (dataEntry !== undefined && child.children.length === 0)
      child.children.push({ type: 'text', value: String(dataEntry) });
    fillEmbedded(child);
  }
}

function noteLost(node: HtmlRoot | Element, losses: Losses): void {
  for (const child of node.children) {
    if (child.type === 'comment') losses.note('a comment');
    if (child.type !== 'element') continue;

    if (!keptElements.has(child.tagName)) losses.note(`<${child.tagName}>`);
    for (const name of Object.keys(child.properties))
      if (!keptAttributes[child.tagName]?.includes(name))
        losses.note(`the attribute ${find(html, name).attribute} of <${child.tagName}>`);

    noteLost(child, losses);
  }
}

/** A parsed tree as plain data: places left out, references resolved, HTML as its content, all where it may stand. */
function settled(root: Root, losses: Losses): JsonObject {
  const definitions = new Map<string, Definition>();
  const gather = (node: { readonly type: string; readonly children?: readonly unknown[] }): void => {
    if (node.type === 'definition') {
      const definition = node as unknown as Definition;
      if (!definitions.has(definition.identifier)) definitions.set(definition.identifier, definition);
    }
    for (const child of node.children ?? []) gather(child as typeof node);
  };

  gather(root);

  const settle = (node: JsonObject): readonly JsonObject[] => {
    const type = String(node.type);
    if (type === 'definition') return [];
    if (type === 'html') return [{ type, value: node.value ?? '' }];

    const definition = typeof node.identifier === 'string' ? definitions.get(node.identifier) : undefined;
    const inner = isList(node.children) ? { children: node.children.filter(isObject).flatMap(settle) } : {};
    if (type === 'linkReference' && definition)
      return [{ type: 'link', ...titled(definition), url: definition.url, ...inner }];
    if (type === 'imageReference' && definition)
      return [{ type: 'image', ...titled(definition), url: definition.url, alt: node.alt ?? '' }];
    return withoutHtml(embedded(loosened({ ...plainData(node), ...inner })), losses);
  };

  const settledChildren = root.children.flatMap((child) => settle(child as unknown as JsonObject));

  return { type: 'root', children: inPlace(fromHtmlBlocks(settledChildren, losses)) };
}

/** Blocks that hold lines. */
const lineBlocks: readonly unknown[] = ['paragraph', 'heading', 'table'];

/** A block of Markdown in which HTML stands, as what a browser would make of it. */
function withoutHtml(node: JsonObject, losses: Losses): readonly JsonObject[] {
  const children = isList(node.children) ? node.children.filter(isObject) : [];
  if (!lineBlocks.includes(node.type))
    return [
      children.some(isHtml) && !isInLine(node) ? { ...node, children: [...fromHtmlBlocks(children, losses)] } : node,
    ];
  if (!holdsHtml(node)) return [node];

  const html = toHtml(toHast(node as never, { allowDangerousHtml: true }), { allowDangerousHtml: true });
  return childrenOf(html, losses);
}

/** Blocks among which some are HTML, as their content. */
const fromHtmlBlocks = (nodes: readonly JsonObject[], losses: Losses): readonly JsonObject[] =>
  nodes.flatMap((node) => (isHtml(node) ? childrenOf(String(node.value), losses) : [node]));

function childrenOf(html: string, losses: Losses): readonly JsonObject[] {
  const { tree, lost } = htmlToTree(html);
  for (const { what: loss, times } of lost) losses.note(loss, times);
  const children = isList(tree.children) ? tree.children.filter(isObject) : [];
  if (children.some(saysSomething)) return children;

  // What opens here and closes further down says something of the text between, or nothing.
  if (lost.length === 0 && !/^<\/?(?:div|section|article|main|span|p)\b[^>]*>\s*$/iu.test(html))
    losses.note('raw HTML');
  return [];
}

/** Whether there is anything in a node that a reader would see. */
const saysSomething = (node: JsonObject): boolean => {
  if (isList(node.children)) return node.children.filter(isObject).some(saysSomething);
  return node.type !== 'text' || String(node.value).trim() !== '';
};

const isHtml = ({ type }: JsonObject): boolean => type === 'html';

const holdsHtml = (node: JsonObject): boolean =>
  isHtml(node) || (isList(node.children) && node.children.filter(isObject).some(holdsHtml));

/** Whether a node is part of a line: HTML in it waits for the block that it is in. */
const isInLine = ({ type }: JsonObject): boolean =>
  ['emphasis', 'strong', 'delete', 'link', 'tableRow', 'tableCell'].includes(String(type));

/** A list that is loose by an item which holds one thing alone, once references are resolved: no Markdown says so but for all. */
function loosened(node: JsonObject): JsonObject {
  const items = node.type === 'list' && isList(node.children) ? node.children.filter(isObject) : [];
  const isLoose = items.some(({ spread, children }) => spread === true && isList(children) && children.length < 2);
  if (!isLoose) return node;
  return { ...node, spread: true };
}

const titled = ({ title }: Definition): JsonObject => {
  if (!title) return {};
  return { title };
};

/** A node without where it stood and without keys that hold nothing of their own. */
const plainData = (node: JsonObject): JsonObject =>
  Object.fromEntries(
    Object.entries(withoutKey(node, 'position')).filter(
      ([key, value]) => value !== undefined && value !== null && key !== 'data',
    ),
  );

/** A paragraph that is one link to an entry, called by its address, is that entry as a block: so Markdown can say it. */
function embedded(node: JsonObject): JsonObject {
  if (node.type !== 'paragraph' || !isList(node.children) || node.children.length !== 1) return node;
  const [link] = node.children;
  if (!isObject(link) || !isList(link.children) || link.children.length !== 1) return node;
  const entry = entryOf(link);
  const [label] = link.children;
  if (entry !== undefined && isObject(label) && label.value === entry) return { type: 'embed', entry };
  return node;
}
