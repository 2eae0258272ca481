import { type ASTNode, Environment } from '@marcbachmann/cel-js';
import { celName, keyOfField } from '../definition/fieldName.ts';
import { comparisonsIn } from './comparisons.ts';
import { childrenOf, isNode, isTextLiteral, limits, pathOf } from './syntax.ts';

/** The tree of an expression; nothing of one that cannot be read, which is reported where the model is verified. */
function parsed(source: string): ASTNode | undefined {
  try {
    return new Environment({ limits, unlistedVariablesAreDyn: true }).parse(source).ast;
  } catch {
    return undefined;
  }
}

/** An expression after a field of `entry` got another name: the name alone is exchanged, wherever it stands. */
export function renameInExpression(source: string, from: string, to: string, variable = 'entry'): string {
  const root = parsed(source);
  if (!root) return source;

  const name = celName(to);
  const places = namesOf(root, celName(from), variable).sort((a, b) => b.start - a.start);
  return places.reduce(
    (text, { start, end, quoted }) => text.slice(0, start) + (quoted ? JSON.stringify(name) : name) + text.slice(end),
    source,
  );
}

/** A text in an expression that a function takes for a name or an address, with the texts beside it. */
interface RenamedName {
  readonly call: string;
  /** Which of the arguments it is, counted from 0; what a function is called on is none. */
  readonly index: number;
  readonly text: string;
  /** The first argument, if that is a text. */
  readonly first: string | undefined;
}

/** An expression after some of the texts that its functions take for names are other ones. */
export function renameInCalls(
  source: string,
  functions: readonly string[],
  change: (named: RenamedName) => string,
): string {
  if (!functions.some((name) => source.includes(`${name}(`))) return source;

  const root = parsed(source);
  if (!root) return source;

  const texts = callsOf(root, functions).flatMap(({ call, given }) =>
    given.flatMap((node, index) => {
      if (!isTextLiteral(node)) return [];
      const text = String(node.args);
      const [head] = given;
      const named = change({ call, index, text, first: head && isTextLiteral(head) ? String(head.args) : undefined });
      if (named === text) return [];
      return [{ range: node.range, named }];
    }),
  );

  return texts
    .sort((a, b) => b.range.start - a.range.start)
    .reduce(
      (text, { range, named }) => text.slice(0, range.start) + JSON.stringify(named) + text.slice(range.end),
      source,
    );
}

/**
 * An expression after some of the texts that values are compared with are other ones.
 * @param change gives the new text. @param path the names on the way to the value.
 */
export function renameInComparisons(source: string, change: (text: string, path: readonly string[]) => string): string {
  const root = parsed(source);
  if (!root) return source;

  const changed = [...comparisonsIn(root)].flatMap(({ path, texts }) =>
    texts.map(({ text, ...place }) => ({ ...place, text, becomes: change(text, path) })),
  );

  return changed
    .filter(({ text, becomes }) => text !== becomes)
    .toSorted((a, b) => b.start - a.start)
    .reduce(
      (text, { start, end, becomes }) => text.slice(0, start) + JSON.stringify(becomes) + text.slice(end),
      source,
    );
}

/** The calls of some functions in a part of an expression, with what each is given. */
export function callsOf(
  node: ASTNode,
  functions: readonly string[],
): readonly { readonly call: string; readonly given: readonly ASTNode[] }[] {
  const below = childrenOf(node.args).flatMap((child) => callsOf(child, functions));
  if ((node.op !== 'call' && node.op !== 'rcall') || !functions.includes(String(node.args[0]))) return below;
  const given: unknown = node.args[node.args.length - 1];
  return [{ call: String(node.args[0]), given: Array.isArray(given) ? given.filter(isNode) : [] }, ...below];
}

/** An expression after a field of `entry` was moved: the way to it is another one, wherever it is named. */
export function moveInExpression(source: string, from: string, to: string, variable = 'entry'): string {
  const root = parsed(source);
  if (!root) return source;
  const way = `${variable}.${to.split('.').map(celName).join('.')}`;
  const places = wholesOf(root, from.split('.').map(celName).join('.'), variable).sort((a, b) => b.start - a.start);
  return places.reduce((text, { start, end }) => text.slice(0, start) + way + text.slice(end), source);
}

/** Whether a part of an expression is the value of a field, `hours.opens`, of what a variable is. */
const isWay = (node: ASTNode, variable: string, field: string): boolean =>
  pathOf(node)?.join('.') === `${variable}.${field}`;

/** Where an expression names a field, with all of the way to it. */
function wholesOf(node: ASTNode, path: string, variable: string): { readonly start: number; readonly end: number }[] {
  if (isWay(node, variable, path)) return [node.range];
  return childrenOf(node.args).flatMap((child) => wholesOf(child, path, variable));
}

interface NamePlace {
  readonly start: number;
  readonly end: number;
  readonly quoted: boolean;
}

/**
 * Where an expression names a field: `entry.name` or `entry["name"]`, whatever the variable is called; one inside an
 * object also as `entry.days[0].steps`. What a comprehension calls an item is not followed.
 */
function namesOf(node: ASTNode, field: string, variable: string): NamePlace[] {
  const isHere = isWay(node, variable, field);
  const key = keyOfField(field);
  if (isHere && node.op === '.') return [{ start: node.range.end - key.length, end: node.range.end, quoted: false }];
  if (isHere && node.op === '[]' && isTextLiteral(node.args[1])) return [{ ...node.args[1].range, quoted: true }];
  return childrenOf(node.args).flatMap((child) => namesOf(child, field, variable));
}
