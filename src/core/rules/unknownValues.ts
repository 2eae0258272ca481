import type { ASTNode } from '@marcbachmann/cel-js';
import { comparisonsIn, type LiteralText, textsOf } from '../cel/comparisons.ts';
import { callsOf } from '../cel/names.ts';
import { statuses } from '../definition/builtIn.ts';
import { celName } from '../definition/fieldName.ts';
import type { Field, Type } from '../model/link.ts';
import { didYouMean } from '../plain/nearest.ts';
import { listSome } from '../plain/words.ts';
import type { ExpressionProblem } from './expressionProblem.ts';

/** The only texts that a part of an expression can be. */
interface ClosedValues {
  /** The owner of these texts, for a sentence: `the choices of talk.kind`. */
  readonly owner: string;
  readonly texts: ReadonlySet<string>;
}

/** What an expression sees: the entry, and the fields of the object that is `item`. */
interface Scope {
  /** The entry's type, and others that the expression is written for: what one of them knows is no mistake. */
  readonly types: readonly [Type, ...Type[]];
  readonly variable: string;
  readonly item: ReadonlyMap<string, Field> | undefined;
  /** Texts that are no mistake wherever they stand: what entries may still hold that obey an older model. */
  readonly knownNames: ReadonlySet<string>;
}

/**
 * The first text in an expression that is compared with a choice, a term, a status or a type, and is none.
 * @param known texts that are no mistake wherever they stand.
 */
export function unknownValue(root: ASTNode, scope: Scope): ExpressionProblem | undefined {
  const compared = [...comparisonsIn(root)].flatMap(({ path, texts }) => {
    const closed = closedOf(path, scope);
    if (!closed) return [];
    return noneIn(texts, closed, scope) ?? [];
  });
  const named = callsOf(root, ['under', 'termLabel']).flatMap(
    ({ call, given }) => (call === 'under' ? branchProblem(given[0], scope) : termProblem(given, scope)) ?? [],
  );
  const [first] = [...compared, ...named].toSorted((a, other) => a.offset - other.offset);
  return first;
}

/** The problem of texts that are compared with something of which all texts are known. */
function noneIn(
  texts: readonly LiteralText[],
  closed: ClosedValues,
  { knownNames }: Scope,
): ExpressionProblem | undefined {
  const wrong = texts.find(({ text }) => text !== '' && !closed.texts.has(text) && !knownNames.has(text));
  return wrong && noneOf(wrong, closed);
}

const noneOf = ({ text, start }: LiteralText, { owner, texts }: ClosedValues): ExpressionProblem => ({
  problem: `“${text}” is none of ${owner}`,
  offset: start,
  mend: didYouMean(text, texts) ?? `There are ${listSome([...texts], 8)}.`,
});

/** What the value at the end of a way can be, where all texts of it are known. */
function closedOf([variable, ...names]: readonly string[], scope: Scope): ClosedValues | undefined {
  if (variable === 'item' && scope.item) return closedIn(fieldAt(scope.item, names), scope.types[0]);
  if (variable !== scope.variable) return undefined;
  return anyOf(scope.types.flatMap((type) => closedAt(names, type)));
}

/** What any of several types can have; `undefined` where one of them has it open. A type without it has no say. */
function anyOf(answers: readonly (ClosedValues | 'open' | 'absent')[]): ClosedValues | undefined {
  const present = answers.filter((answer) => answer !== 'absent');
  const closed = present.filter((answer) => answer !== 'open');
  const [first] = closed;
  if (!first || closed.length < present.length) return undefined;

  return { owner: first.owner, texts: new Set(closed.flatMap(({ texts }) => [...texts])) };
}

/** What a value of an entry can be: by its type, and by the types and kits whose expressions it has as well. */
function closedAt(names: readonly string[], type: Type): readonly (ClosedValues | 'open' | 'absent')[] {
  const [name = '', ...inner] = names;
  const field = fieldAt(type.fields, [name]);
  if (field)
    return [field, ...type.arriving(field.name)].map((field) => {
      const part = fieldWithin(field, inner);
      if (!part) return 'absent';
      return closedIn(part, type) ?? 'open';
    });
  if (inner.length === 0 && name === 'status') return [{ owner: 'the statuses', texts: new Set(statuses) }];
  if (inner.length === 0 && name === 'type') return [{ owner: 'the types', texts: new Set(type.types.keys()) }];
  return ['absent'];
}

function fieldAt(fields: ReadonlyMap<string, Field>, [name = '', ...inner]: readonly string[]): Field | undefined {
  const field = [...fields.values()].find((field) => celName(field.name.split('.').at(-1) ?? '') === name);
  return field && fieldWithin(field, inner);
}

/** The field inside an object to which some names lead; the field itself where there are none. */
function fieldWithin(field: Field, names: readonly string[]): Field | undefined {
  if (names.length === 0) return field;
  if (!field.kind.nests) return undefined;
  return fieldAt(field.fields, names);
}

/** The only texts that a field can hold, where all are known. */
function closedIn(field: Field | undefined, type: Type): ClosedValues | undefined {
  if (!field) return undefined;
  const members = field.kind.members(field.options).map((member) => member.name);
  if (members.length > 0) return { owner: `the choices of \`${field.address}\``, texts: new Set(members) };
  return termsOf(type, field.kind.taxonomy(field.options));
}

/** The terms of a taxonomy that the model knows all of; `undefined` of an open one, to which authors add. */
function termsOf(type: Type, name: string | undefined): ClosedValues | undefined {
  const taxonomy = name === undefined ? undefined : type.taxonomies.get(name);
  if (!taxonomy || taxonomy.isOpen || taxonomy.terms.size === 0) return undefined;
  return { owner: `the terms of \`${taxonomy.name}\``, texts: new Set(taxonomy.terms.keys()) };
}

/** A branch that is named with its taxonomy, `region:north`. */
function branchProblem(node: ASTNode | undefined, { types: [type], knownNames }: Scope): ExpressionProblem | undefined {
  const [branch] = node ? textsOf(node) : [];
  if (!branch) return undefined;

  const colon = branch.text.indexOf(':');
  const name = branch.text.slice(0, Math.max(0, colon));
  if (colon < 0 || !type.taxonomies.has(name)) return unknownTaxonomy({ ...branch, text: name || branch.text }, type);

  const term =
    branch.text
      .slice(colon + 1)
      .split('/')
      .at(-1) ?? '';
  const closed = termsOf(type, name);
  const isKnown = term === '' || !closed || closed.texts.has(term) || knownNames.has(term);

  if (isKnown) return undefined;
  return noneOf({ ...branch, text: term }, closed);
}

function termProblem(
  [first, second]: readonly ASTNode[],
  { types: [type], knownNames }: Scope,
): ExpressionProblem | undefined {
  const [taxonomy] = first ? textsOf(first) : [];
  if (!taxonomy) return undefined;
  if (!type.taxonomies.has(taxonomy.text)) return unknownTaxonomy(taxonomy, type);

  const [term] = second ? textsOf(second) : [];
  const closed = termsOf(type, taxonomy.text);
  if (!term || !closed || closed.texts.has(term.text) || knownNames.has(term.text)) return undefined;
  return noneOf(term, closed);
}

const unknownTaxonomy = (text: LiteralText, { taxonomies }: Type): ExpressionProblem =>
  noneOf(text, {
    owner: 'the taxonomies, with which a branch is named as region:north',
    texts: new Set(taxonomies.keys()),
  });

/** Every choice and term that a model has a name for. */
export function knownTexts({ types, taxonomies }: Pick<Type, 'types' | 'taxonomies'>): ReadonlySet<string> {
  const inFields = (fields: ReadonlyMap<string, Field>): readonly string[] =>
    [...fields.values()].flatMap((field) => [
      ...field.kind.members(field.options).map((member) => member.name),
      ...inFields(field.fields),
    ]);

  return new Set([
    ...[...types.values()].flatMap((type) => inFields(type.fields)),
    ...[...taxonomies.values()].flatMap(({ terms }) => [...terms.keys()]),
    ...types.keys(),
  ]);
}
