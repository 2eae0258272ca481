import { type ASTNode, Environment } from '@marcbachmann/cel-js';
import { celName, keyOfField } from '../definition/fieldName.ts';
import { childrenOf, isNode, limits } from './syntax.ts';

/** An expression after a field of `entry` got another name: the name alone is exchanged, wherever it stands. */
export function renameInExpression(source: string, from: string, to: string, variable = 'entry'): string {
  let root: ASTNode;
  try {
    root = new Environment({ limits, unlistedVariablesAreDyn: true }).parse(source).ast;
  } catch {
    return source; // An expression that cannot be read is reported where the model is verified.
  }
  const name = celName(to);
  const places = namesOf(root, celName(from), variable).sort((a, b) => b.start - a.start);
  return places.reduce(
    (text, { start, end, quoted }) => text.slice(0, start) + (quoted ? JSON.stringify(name) : name) + text.slice(end),
    source,
  );
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
  const here = pathOf(node, variable) === `.${field}`;
  const key = keyOfField(field);
  if (here && node.op === '.') return [{ start: node.range.end - key.length, end: node.range.end, quoted: false }];
  if (here && node.op === '[]' && isText(node.args[1])) return [{ ...node.args[1].range, quoted: true }];
  return childrenOf(node.args).flatMap((child) => namesOf(child, field, variable));
}

const isText = (node: unknown): node is ASTNode => isNode(node) && node.op === 'value' && typeof node.args === 'string';

/** The way from the variable to what a part of an expression names, `.hours.opens`; the number of an item is no part. */
function pathOf(node: ASTNode, variable: string): string | undefined {
  if (node.op === 'id') return node.args === variable ? '' : undefined;
  if ((node.op !== '.' && node.op !== '[]') || !isNode(node.args[0])) return undefined;
  const above = pathOf(node.args[0], variable);
  if (above === undefined) return undefined;
  if (node.op === '.') return `${above}.${node.args[1]}`;
  return isText(node.args[1]) ? `${above}.${node.args[1].args}` : above;
}
