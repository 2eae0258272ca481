/*
 * Structured text: a tree in the form of mdast (the Markdown Abstract Syntax Tree, version 5; its extensions for tables
 * and strikethrough of GitHub Flavored Markdown), plus a block and an inline node of our own for an entry or an asset
 * that is in the text.
 */
import { isDeeperThan } from '../plain/depth.ts';
import { isList, isObject, type Json, type JsonObject, ownValue, type Path } from '../plain/json.ts';

/** What a block is called in a model, by its type in the tree. */
export const blockNames = {
  heading: 'heading',
  list: 'list',
  blockquote: 'quote',
  code: 'code',
  table: 'table',
  thematicBreak: 'divider',
  embed: 'embed',
} as const;

/** The parts of a line, and their names in a model. */
export const markNames = {
  emphasis: 'emphasis',
  strong: 'strong',
  delete: 'delete',
  inlineCode: 'code',
  link: 'link',
  break: 'break',
  image: 'image',
  embedInline: 'embed',
} as const;

/** The name of a block in a model. */
export type BlockName = (typeof blockNames)[keyof typeof blockNames];
/** The name of a part of a line in a model. */
export type MarkName = (typeof markNames)[keyof typeof markNames];

type Sort = 'block' | 'inline' | 'item' | 'row' | 'cell';

/** Which keys a node has beside `type` and `data`, what may be in it, and where it may stand itself. */
interface Shape {
  readonly sort: Sort;
  readonly holds?: Sort;
  readonly keys: Readonly<Record<string, (value: Json) => boolean>>;
  readonly needs?: readonly string[];
}

const text = (value: Json): boolean => typeof value === 'string';
const textOrNone = (value: Json): boolean => value === null || typeof value === 'string';
const flagOrNone = (value: Json): boolean => value === null || typeof value === 'boolean';
const number = (value: Json): boolean => value === null || (typeof value === 'number' && Number.isInteger(value));
const aligned = (value: Json): boolean =>
  isList(value) &&
  value.every((value) => value === null || value === 'left' || value === 'right' || value === 'center');
const pointing = { entry: text, asset: text, alt: textOrNone };

/** Every node there can be. */
const shapes: Readonly<Record<string, Shape>> = {
  paragraph: { sort: 'block', holds: 'inline', keys: {} },
  heading: { sort: 'block', holds: 'inline', keys: { depth: number }, needs: ['depth'] },
  blockquote: { sort: 'block', holds: 'block', keys: {} },
  list: { sort: 'block', holds: 'item', keys: { ordered: flagOrNone, start: number, spread: flagOrNone } },
  listItem: { sort: 'item', holds: 'block', keys: { spread: flagOrNone, checked: flagOrNone } },
  code: { sort: 'block', keys: { value: text, lang: textOrNone, meta: textOrNone }, needs: ['value'] },
  table: { sort: 'block', holds: 'row', keys: { align: aligned } },
  tableRow: { sort: 'row', holds: 'cell', keys: {} },
  tableCell: { sort: 'cell', holds: 'inline', keys: {} },
  thematicBreak: { sort: 'block', keys: {} },
  embed: { sort: 'block', keys: pointing },
  text: { sort: 'inline', keys: { value: text }, needs: ['value'] },
  emphasis: { sort: 'inline', holds: 'inline', keys: {} },
  strong: { sort: 'inline', holds: 'inline', keys: {} },
  delete: { sort: 'inline', holds: 'inline', keys: {} },
  inlineCode: { sort: 'inline', keys: { value: text }, needs: ['value'] },
  break: { sort: 'inline', keys: {} },
  link: { sort: 'inline', holds: 'inline', keys: { url: text, title: textOrNone }, needs: ['url'] },
  image: { sort: 'inline', keys: { url: text, title: textOrNone, alt: textOrNone }, needs: ['url'] },
  embedInline: { sort: 'inline', keys: pointing },
};

const deepest = 64;

/** A node of a tree that is sound so far, with its place. */
export interface PlacedNode {
  readonly node: JsonObject & { readonly type: string };
  readonly path: Path;
}

/** A problem of a tree, with its place. */
export type Unsound = { readonly says: string; readonly mend: string; readonly path: Path };

/** Walks a tree from the top; malformed parts are reported, and passed over. */
export function walkText(value: Json, see: (placed: PlacedNode) => void, unsound: (wrong: Unsound) => void): void {
  if (!isObject(value) || value.type !== 'root' || !isList(value.children)) {
    unsound({
      says: 'is no structured text',
      mend: 'Write { type: root, children: [ … ] }, or convert it: lumbrik text story.md --to tree',
      path: [],
    });
    return;
  }

  const visit = (nodes: readonly Json[], sort: Sort, path: Path): void => {
    for (const [index, node] of nodes.entries()) {
      const innerPath = [...path, 'children', index];
      const wrong = unsoundness(node, sort, innerPath.length / 2);
      if (wrong) {
        unsound({ ...wrong, path: [...innerPath, ...wrong.path] });
        continue;
      }

      const sound = node as PlacedNode['node'];
      see({ node: sound, path: innerPath });
      const { holds } = shapes[sound.type] ?? {};
      if (holds) visit(sound.children as readonly Json[], holds, innerPath);
    }
  };

  visit(value.children, 'block', []);
}

function unsoundness(node: Json, sort: Sort, depth: number): Unsound | undefined {
  const type = isObject(node) ? ownValue(node, 'type') : undefined;
  if (!isObject(node) || typeof type !== 'string')
    return { says: 'is no part of a text', mend: 'Give it a `type`, such as paragraph.', path: [] };

  const shape = ownValue(shapes, type);
  if (!shape)
    return {
      says: `is a \`${type}\`, which no text has`,
      mend: `Use one of ${Object.keys(shapes).join(', ')}.`,
      path: ['type'],
    };
  if (shape.sort !== sort)
    return {
      says: `is a ${type}, and ${{ block: 'a block', inline: 'something within a line', item: 'a listItem', row: 'a tableRow', cell: 'a tableCell' }[sort]} belongs here`,
      mend: sort === 'block' && shape.sort === 'inline' ? 'Put it into a paragraph.' : 'Move it to where it belongs.',
      path: ['type'],
    };
  if (depth > deepest) return { says: `is nested more than ${deepest} deep`, mend: 'Make it flatter.', path: [] };
  if (shape.holds && !isList(node.children))
    return { says: `is a ${type} without \`children\``, mend: 'Write what stands in it as a list.', path: [] };

  for (const [key, value] of Object.entries(node)) {
    if (key === 'type' || (key === 'children' && shape.holds)) continue;
    const check = key === 'data' ? isStyle : ownValue(shape.keys, key);
    if (!check) return { says: `has a key \`${key}\` that no ${type} has`, mend: 'Remove it.', path: [key] };
    if (!check(value)) return { says: `has a \`${key}\` of the wrong shape`, mend: 'Correct it.', path: [key] };
  }

  const missing = (shape.needs ?? []).find((key) => !Object.hasOwn(node, key));

  if (missing === undefined) return undefined;
  return { says: `is a ${type} without \`${missing}\``, mend: `Add \`${missing}\`.`, path: [] };
}

/** Whether parts are nested deeper than any text may be, without going down there. */
export const isTooDeep = (tree: JsonObject): boolean => isDeeperThan(tree, deepest + 1, innerOf);

/** `data` holds only the name of a style. */
const isStyle = (data: Json): boolean =>
  isObject(data) && Object.entries(data).every(([key, value]) => key === 'style' && typeof value === 'string');

/** Whether a value is a tree of structured text, whatever a field allows. */
export function isTree(value: Json | undefined): value is JsonObject {
  if (!isObject(value)) return false;

  let isSound = true;
  walkText(
    value,
    () => undefined,
    () => {
      isSound = false;
    },
  );

  return isSound;
}

/**
 * Nodes put where they may stand, each as the nearest thing that may: words between blocks become a paragraph, a block
 * within a line becomes the statement in it, an item without a list is its content.
 * @param nodes known nodes, in any order and any place, such as broken markup gives.
 */
export function inPlace(nodes: readonly JsonObject[], expected: Sort = 'block'): readonly JsonObject[] {
  const objects: JsonObject[] = [];
  let line: JsonObject[] = [];

  const endLine = (): void => {
    if (!line.every(({ type, value }) => type === 'text' && String(value).trim() === ''))
      objects.push(...context(expected, line));
    line = [];
  };

  for (const node of nodes) {
    const { sort, holds } = shapes[String(node.type)] ?? {};
    if (sort === 'inline' && expected !== 'inline') {
      line.push(holds ? { ...node, children: inPlace(innerOf(node), holds) } : node);
      continue;
    }

    endLine();
    if (sort === expected) objects.push(holds ? { ...node, children: inPlace(innerOf(node), holds) } : node);
    else if (sort === 'block' && expected === 'item') objects.push(...context('item', [node]));
    else objects.push(...inPlace(expected === 'inline' ? withinLine(node) : innerOf(node), expected));
  }

  endLine();

  return objects;
}

const innerOf = (node: JsonObject): readonly JsonObject[] => {
  if (!isList(node.children)) return [];
  return node.children.filter(isObject);
};

/** What a node that is no part of a line becomes within one. */
function withinLine(node: JsonObject): readonly JsonObject[] {
  if (node.type === 'embed') return [{ ...node, type: 'embedInline' }];
  if (node.type === 'code') return [{ type: 'inlineCode', value: node.value ?? '' }];
  return innerOf(node);
}

/** The parts between a place and parts that it cannot hold directly. */
function context(sort: Sort, children: readonly JsonObject[]): readonly JsonObject[] {
  switch (sort) {
    case 'block':
      return [{ type: 'paragraph', children: inPlace(children, 'inline') }];
    case 'item':
      return [{ type: 'listItem', children: inPlace(children, 'block') }];
    case 'row':
      return [{ type: 'tableRow', children: context('cell', children) }];
    case 'cell':
      return [{ type: 'tableCell', children: inPlace(children, 'inline') }];
    case 'inline':
      return children;
  }
}

/** The scheme that a link to an entry has: `entry:keeper/ada-rook`. */
export const entryScheme = 'entry:';

/** The entry that a node points at, as `type/id`. */
export function entryOf(node: JsonObject): string | undefined {
  if (typeof node.entry === 'string') return node.entry;
  if (node.type === 'link' && typeof node.url === 'string' && node.url.startsWith(entryScheme))
    return node.url.slice(entryScheme.length);
  return undefined;
}
