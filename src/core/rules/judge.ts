import { type ASTNode, Environment, type ParseError } from '@marcbachmann/cel-js';
import { Budget, meteredText } from '../cel/stepBudget.ts';
import { childrenOf, isNode, limits } from '../cel/syntax.ts';
import { celName } from '../definition/fieldName.ts';
import type { Field, Type } from '../model/link.ts';
import { compilePattern, patternOf } from '../patterns/pattern.ts';
import { onceFor } from '../plain/once.ts';
import { problemOf } from './celErrors.ts';
import type { ExpressionProblem } from './expressionProblem.ts';
import { registerFunctions } from './functions.ts';
import { type LookedUp, LookingUp, lookUpsIn, mayLookUp } from './lookUp.ts';
import { unknownValue } from './unknownValues.ts';

/** The same for an expression that was written anew so that its steps are counted, which nests it deeper. */
const meteredLimits = { maxAstNodes: 20 * limits.maxAstNodes, maxDepth: 10 * limits.maxDepth };

/** CEL with numbers that mix, as people expect who do not tell whole ones from others. */
const environmentFor = onceFor(
  (taxonomies: Type['taxonomies']): Environment =>
    registerFunctions(new Environment({ limits, homogeneousAggregateLiterals: false }), taxonomies)
      .registerOperator('double * int', (a: number, b: bigint) => a * Number(b))
      .registerOperator('int * double', (a: bigint, b: number) => Number(a) * b)
      .registerOperator('double + int', (a: number, b: bigint) => a + Number(b))
      .registerOperator('int + double', (a: bigint, b: number) => Number(a) + b)
      .registerOperator('double - int', (a: number, b: bigint) => a - Number(b))
      .registerOperator('int - double', (a: bigint, b: number) => Number(a) - b)
      .registerOperator('double / int', (a: number, b: bigint) => a / Number(b))
      .registerOperator('int / double', (a: bigint, b: number) => Number(a) / b)
      .registerFunction('string.matchesPattern(string): bool', (text: string, pattern: string) =>
        patternOf(pattern).test(text),
      ),
);

/** One to register variables in; the functions are the same for all of a model. */
const newEnvironment = ({ taxonomies }: Type, looking = new LookingUp()): Environment =>
  environmentFor(taxonomies)
    .clone()
    .registerFunction('lookUp(string, string): dyn', (entry: string, field: string) => looking.value(entry, field))
    .registerFunction('lookUp(string, string, dyn): dyn', (entry: string, field: string, otherwise: unknown) =>
      looking.orElse(entry, field, otherwise),
    );

/** What an entry has beside its fields, with their types. */
export const everywhere = { id: 'string', type: 'string', status: 'string', isPublic: 'bool' } as const;

const schemaOf = ({ fields }: Type, typeOf: (field: Field) => string): Record<string, string> => ({
  ...everywhere,
  ...Object.fromEntries([...fields.values()].map((field) => [celName(field.name), typeOf(field)])),
});

const itemSchemaOf = (item: ItemFields, typeOf: (field: Field) => string): Record<string, string> =>
  Object.fromEntries([...(item ?? [])].map(([key, field]) => [celName(key), typeOf(field)]));

/** An expression that may be used: its result, and how it is run over its variable. */
export interface Judged {
  /** The type of its result, in CEL's words: `string`, `int`, `list<string>`. */
  readonly gives: string;
  readonly ast: ASTNode;
  /** Its lookups in other entries. */
  readonly looksUp: readonly LookedUp[];
  /**
   * Computes it.
   * @param most how many steps that may take.
   * @param look answers its lookups in other entries, as CEL wants it.
   * @throws {TooCostly} where it takes more.
   */
  readonly run: (
    values: Record<string, unknown>,
    most: number,
    look: ((entry: string, address: string) => unknown) | undefined,
  ) => unknown;
}

/**
 * What runs an expression. One that goes over lists is run in a form that counts its steps; any other takes no more of
 * them than it has parts.
 */
function runner(
  judging: Environment,
  ast: ASTNode,
  source: string,
): (values: Record<string, unknown>, most: number) => unknown {
  const text = meteredText(ast, source);
  if (text === undefined) return judging.parse(source);

  const budget = new Budget();
  const evaluate = judging
    .clone({ limits: meteredLimits })
    .registerFunction('counted(dyn): dyn', (value: unknown) => budget.spend(value))
    .parse(text);

  return (values, most) => budget.within(most, () => evaluate(values));
}

/** The fields of an object, by key, where an expression sees one of its values beside the entry, as `item`. */
type ItemFields = ReadonlyMap<string, Field> | undefined;

/** What expressions see beside the entry, and the choices and terms that they may name though its type lacks them. */
export interface ExpressionScope {
  /** The fields of an object one value of which they see, as `item`. */
  readonly item?: ItemFields;
  /** Texts that may stand anywhere. */
  readonly knownNames?: ReadonlySet<string>;
  /** Types for the entries of which the expression is written as well: what one of their fields can be may be named. */
  readonly beside?: readonly Type[];
}

/** Prepares the judging of expressions over the entries of one type: whether they may be used, and their results. */
export function judgeOver(
  type: Type,
  variable: string,
  { item, knownNames = new Set(), beside = [] }: ExpressionScope,
): (source: string) => Judged | ExpressionProblem {
  const looking = new LookingUp();
  const environment = newEnvironment(type, looking);
  const schema = schemaOf(type, (field) => celTypeOf(field));
  const itemSchema = itemSchemaOf(item, (field) => celTypeOf(field));

  environment.registerVariable({ name: variable, schema });
  if (item) environment.registerVariable({ name: 'item', schema: itemSchema });
  const judgeInside = insideOver(type, variable, item);
  const types = [type, ...beside.filter((other) => other !== type)] as const;

  return (source) => {
    const checked = environment.check(source);
    if (!checked.valid)
      return problemOf(checked.error as ParseError, source, (path) =>
        Object.keys(path === 'item' && item ? itemSchema : schema),
      );

    const inside = judgeInside(source);
    if (inside && 'problem' in inside) return inside;

    const { ast } = environment.parse(source);
    const looksUp = mayLookUp(source) ? lookUpsIn(ast, type.types) : [];
    if ('problem' in looksUp) return looksUp;

    const harm = harmfulPattern(ast);
    if (harm) return harm;

    const unknown = unknownValue(ast, { types, variable, item, knownNames });
    if (unknown) return unknown;

    const run = runner(environment, ast, source);

    return {
      gives: inside?.gives ?? checked.type ?? 'dyn',
      ast,
      looksUp,
      run: (values, most, look) => looking.within(look, () => run(values, most)),
    };
  };
}

/**
 * Judges what an expression does inside values that are made of others, where computing takes everything as it comes:
 * a name that is not there, a text compared with a number. A message about such a value as a whole is no mistake, since
 * when computing it is a map as well; `undefined` then, and where no field is made of others.
 */
function insideOver(
  type: Type,
  variable: string,
  item: ItemFields,
): (source: string) => ExpressionProblem | { readonly gives: string } | undefined {
  const environment = newEnvironment(type);
  const names = new Map<string, readonly string[]>();

  const typeOf = (field: Field): string => {
    const inner = [...field.fields].map(([key, field]) => [celName(key), typeOf(field)] as const);
    const schema = field.kind.nests ? Object.fromEntries(inner) : field.kind.celParts;
    if (!schema || Object.keys(schema).length === 0) return celTypeOf(field);

    const name = `${variable}.${field.name}`;
    if (!names.has(name)) environment.registerType({ name, schema });
    names.set(name, Object.keys(schema));
    return celTypeOf(field, name);
  };

  const schema = schemaOf(type, typeOf);
  if (names.size === 0) return () => undefined;

  environment.registerVariable({ name: variable, schema });
  if (item) environment.registerVariable({ name: 'item', schema: itemSchemaOf(item, typeOf) });
  const isWhole = (text: string): boolean => [...names.keys()].some((name) => text.includes(name));

  return (source) => {
    const checked = environment.check(source);
    if (checked.valid) return checked.type === undefined || isWhole(checked.type) ? undefined : { gives: checked.type };

    const problem = problemOf(
      checked.error as ParseError,
      source,
      (path) => names.get(path) ?? [...names.values()].flat(),
    );

    if (isWhole(problem.problem)) return undefined;
    return problem;
  };
}

/**
 * The CEL type of a field's whole value: `string`, `list<int>`, `map<string, string>` by language.
 * @param single the type of a single value, if not the one that its kind has.
 */
export function celTypeOf({ kind, common }: Field, single: string = kind.cel): string {
  const inOneLanguage = common.many ? `list<${single}>` : single;
  if (!common.localized) return inOneLanguage;
  return `map<string, ${inOneLanguage}>`;
}

/** The conditions that all have to hold for an expression to be true, as they are written; none where it is one alone. */
export function conjunctsOf(source: string): readonly string[] {
  const parts = (node: ASTNode): readonly string[] => {
    if (node.op === '&&') return childrenOf(node.args).flatMap(parts);
    return [source.slice(node.range.start, node.range.end)];
  };
  try {
    const { ast } = new Environment({ limits, unlistedVariablesAreDyn: true }).parse(source);
    if (ast.op !== '&&') return [];
    return parts(ast);
  } catch {
    return [];
  }
}

/** The first regular expression in an expression that may not be run: only written-out patterns can be judged before. */
function harmfulPattern(node: ASTNode): ExpressionProblem | undefined {
  const pattern =
    (node.op === 'rcall' || node.op === 'call') && node.args[0] === 'matches' ? node.args.at(-1) : undefined;
  const [argument] = Array.isArray(pattern) ? pattern.slice(-1) : [];
  const problem = isNode(argument) ? problemOfPattern(argument) : undefined;
  if (problem && isNode(argument)) return { ...problem, offset: argument.range.start };

  return childrenOf(node.args)
    .map(harmfulPattern)
    .find((problem) => problem !== undefined);
}

function problemOfPattern(node: ASTNode): Omit<ExpressionProblem, 'offset'> | undefined {
  if (node.op !== 'value' || typeof node.args !== 'string')
    return { problem: 'the pattern is not written out', mend: 'Write the regular expression itself between quotes.' };
  const compiled = compilePattern(node.args);
  if ('value' in compiled) return undefined;
  const { says: message, mend } = compiled.problem;
  return { problem: `the pattern ${message}`, mend };
}
