import { isList, isObject, type Json, type JsonObject, ownValue } from '../plain/json.ts';
import { forbiddenScheme } from './links.ts';
import { toPlain } from './plain.ts';
import { type BlockName, blockNames, entryOf, type MarkName, markNames } from './tree.ts';

/** The parts that a field of structured text allows. Default: all but embeds. */
export interface TextLimits {
  readonly blocks?: readonly BlockName[] | undefined;
  readonly marks?: readonly MarkName[] | undefined;
  readonly headings?: { readonly min?: number | undefined; readonly max?: number | undefined } | undefined;
  readonly links?:
    | { readonly schemes?: readonly string[] | undefined; readonly entries?: readonly string[] | undefined }
    | undefined;
  readonly styles?: readonly string[] | undefined;
  readonly embeds?: readonly string[] | undefined;
  readonly media?: readonly string[] | undefined;
}

/** The block or mark that a node is called by in a model, and whether some limits allow it. */
export function allowance(
  node: JsonObject,
  limits: TextLimits,
): { readonly name: string; readonly isAllowed: boolean } | undefined {
  const type = String(node.type);
  const block = ownValue<BlockName>(blockNames, type);
  if (block !== undefined && block !== 'embed')
    return { name: block, isAllowed: limits.blocks?.includes(block) ?? true };

  const mark = ownValue<MarkName>(markNames, type);

  if (mark === undefined || mark === 'embed') return undefined;
  return { name: mark, isAllowed: limits.marks?.includes(mark) ?? true };
}

/**
 * A tree brought within limits: forbidden parts become the plainest part with the same content.
 * @returns the tree, and what of it could not be kept, in words.
 */
export function withinLimits(
  tree: JsonObject,
  limits: TextLimits,
): { readonly tree: JsonObject; readonly lost: readonly string[] } {
  const lost: string[] = [];
  const fit = (node: JsonObject): readonly JsonObject[] => {
    const inner = isList(node.children) ? { children: node.children.filter(isObject).flatMap(fit) } : {};
    const fitted: JsonObject = { ...node, ...inner };
    const allowed = allowance(node, limits);
    if (allowed && !allowed.isAllowed) {
      lost.push(allowed.name);
      return plainer(fitted);
    }
    if (node.type === 'heading') return [levelled(fitted, limits, lost)];
    if (node.type === 'link') {
      const problem = forbiddenScheme(String(node.url), limits.links?.schemes);
      if (problem === undefined) return [fitted];
      lost.push(`link to ${problem}:`);
      return plainer(fitted);
    }
    if (node.type !== 'embed' && node.type !== 'embedInline') return [fitted];

    const type = (entryOf(node) ?? '').split('/')[0] ?? '';
    const isFine = node.entry === undefined ? limits.media !== undefined : limits.embeds?.includes(type);
    if (isFine) return [fitted];

    lost.push(`embedded ${node.entry === undefined ? 'asset' : type}`);

    return [];
  };

  return {
    tree: { type: 'root', children: isList(tree.children) ? tree.children.filter(isObject).flatMap(fit) : [] },
    lost,
  };
}

function levelled(node: JsonObject, { headings = {} }: TextLimits, lost: string[]): JsonObject {
  const depth = Number(node.depth);
  const fitting = Math.min(Math.max(depth, headings.min ?? 1), headings.max ?? 6);
  if (fitting !== depth) lost.push(`heading level ${depth}`);
  return { ...node, depth: fitting };
}

/** What a node becomes where it may not stand: its text in paragraphs, or its content. */
function plainer(node: JsonObject): readonly JsonObject[] {
  const children = isList(node.children) ? node.children.filter(isObject) : [];
  switch (node.type) {
    case 'heading':
      return [{ type: 'paragraph', children }];
    case 'blockquote':
      return children;
    case 'list':
      return children.flatMap((item) => (isList(item.children) ? item.children.filter(isObject) : []));
    case 'table':
      return children.map((row) => paragraph(toPlain(row).replaceAll('\t', ' | ')));
    case 'code':
      return [paragraph(String(node.value))];
    case 'thematicBreak':
      return [];
    case 'inlineCode':
      return [{ type: 'text', value: node.value ?? '' }];
    case 'break':
      return [{ type: 'text', value: ' ' }];
    case 'image':
      return [{ type: 'text', value: node.alt ?? '' }];
    default:
      return children;
  }
}

const paragraph = (value: string): JsonObject => ({
  type: 'paragraph',
  children: [{ type: 'text', value } satisfies Json],
});
