import { z } from 'zod';
import { checkField, type ReportAt } from '../check/field.ts';
import { wordsOf } from '../messages/words.ts';
import type { Field, Model, Type } from '../model/link.ts';
import { fieldNamed } from '../model/nestedFields.ts';
import { isObject, type Json, pointer } from '../plain/json.ts';
import { shellWord } from '../plain/shellWord.ts';
import { list, quote } from '../plain/words.ts';
import { missingKey } from '../rules/celErrors.ts';
import { type Expression, ExpressionFailed, ExpressionTooCostly, expressionsOver } from '../rules/expression.ts';
import { celTypeOf } from '../rules/judge.ts';
import { sayStyle, styleNames } from '../writing/index.ts';
import type { EntryDraft } from './entryDraft.ts';
import type { Holder } from './holder.ts';
import { type StepContext, StepRefused } from './step.ts';

/** Where a value comes from: the same for every entry, or computed from each by a CEL expression. */
export const fillShape = {
  value: z.json().optional().describe('What the entries get: the same for all.'),
  cel: z
    .string()
    .optional()
    .describe(
      'What each entry gets, computed from it: a CEL expression over `entry`. For a field inside an object also over `item`: the object.',
    ),
};
/** The key by which a step takes over what another one was answered: fields that are kept once are requested once. */
export const likeShape = {
  like: z
    .string()
    .optional()
    .describe('The address of a step before of the same kind: what entries get there, they get here.'),
};

/** The key by which a step says how it reads texts. */
export const writtenShape = {
  written: z
    .array(z.enum(styleNames))
    .min(1)
    .optional()
    .describe(
      'How texts are written that become other values, those first that win in doubt: [day-first, month-names].',
    ),
};

/** How a step reads texts, as a sentence behind others. */
export const sayWritten = (written: readonly string[] | undefined): string => {
  if (written === undefined) return '';
  return ` Texts are read as written ${list(written.map(sayStyle))}.`;
};

/** A value for entries: fixed, or computed by an expression. */
export interface Fill {
  readonly value?: Json | undefined;
  readonly cel?: string | undefined;
}

/** A fill in words: what all get, or what each gets. */
export const sayFill = ({ value, cel }: Fill): string => {
  if (cel !== undefined) return `what ${cel} gives`;
  if (value === null) return 'no value';
  return quote(value);
};

/**
 * Compiles a fill for a field. A constant must obey the field; an expression must give what the field holds. For a field
 * that differs by language, a plain value is the one of the main language. null is no value, where one need not be there.
 * @returns a function from an entry, and where the field is in it, to its value, or `undefined` where nothing was stated.
 * @throws {StepRefused}
 */
export function compileFill(
  fill: Fill,
  field: Field,
  seenBy: Type,
  { after: model, knownNames }: Pick<StepContext, 'after' | 'knownNames'>,
): ((draft: EntryDraft, holder: Holder) => Json | undefined) | undefined {
  if (fill.value !== undefined && fill.cel !== undefined)
    throw new StepRefused('both `value` and `cel` are given', 'Keep one of the two.', 'cel');

  const localized = (value: Json): Json => inMainLanguage(value, field, model);
  if (fill.value !== undefined) {
    const value = localized(fill.value);
    refuseBroken(value, field, model);
    return () => value;
  }
  if (fill.cel === undefined) return undefined;

  const expression = compileExpression(fill.cel, seenBy, { field: field.name, key: 'cel', knownNames });

  refuseOtherType(expression, field);

  return (draft, holder) => {
    const value = evaluate(expression, draft, holder);
    if (value === undefined || value === null) return value;
    return localized(value);
  };
}

/** A plain value as the one of the main language, where a field differs by language. */
function inMainLanguage(value: Json, field: Field, { context }: Model): Json {
  const [main = 'en'] = context.languages;
  if (!field.common.localized || value === null || isObject(value)) return value;
  return { [main]: value };
}

/** The first mistake in a value for a field, with its place; nothing where the field takes the value. */
function faultIn(value: Json, field: Field, { context }: Model): Parameters<ReportAt> | undefined {
  const faults: Parameters<ReportAt>[] = [];
  checkField(field, context)(value, 'published', (...fault) => faults.push(fault));
  return faults[0];
}

/** Whether a step may give a value to all entries: the field takes it. */
export const takesFill = (value: Json, field: Field, model: Model): boolean =>
  faultIn(inMainLanguage(value, field, model), field, model) === undefined;

/** Compiles a condition on where a field stands. @throws {StepRefused} where it does not give true or false. */
export function compileCondition(
  source: string | undefined,
  field: string,
  seenBy: Type,
  { knownNames }: Pick<StepContext, 'knownNames'>,
): (draft: EntryDraft, holder: Holder) => boolean {
  if (source === undefined) return () => true;

  const expression = compileExpression(source, seenBy, { field, key: 'where', knownNames });
  if (expression.gives !== 'bool' && expression.gives !== 'dyn')
    throw new StepRefused(
      `\`where\` gives ${expression.gives}, not true or false`,
      'Write a condition, for example `entry.price > 0`.',
      'where',
    );
  return (draft, holder) => evaluate(expression, draft, holder, 'where') === true;
}

interface Place extends Pick<StepContext, 'knownNames'> {
  /** The field whose values are computed: a nested field sees its object. */
  readonly field: string;
  /** The key of the step that holds the expression. */
  readonly key: string;
}

function compileExpression(source: string, type: Type, { field, key, knownNames }: Place): Expression {
  const object = fieldNamed(type, field.slice(0, Math.max(0, field.lastIndexOf('.'))));
  const compiled = expressionsOver(type, 'entry', { item: object?.fields, knownNames })(source);
  if ('problem' in compiled)
    throw new StepRefused(
      `in the expression ${quote(source, 80)}, at character ${compiled.offset + 1}: ${compiled.problem}`,
      compiled.mend,
      key,
      compiled.offset,
    );
  return compiled;
}

function evaluate(expression: Expression, draft: EntryDraft, holder: Holder, key = 'cel'): Json | undefined {
  try {
    return expression.evaluate(draft.view(), holder.keys());
  } catch (error) {
    if (!(error instanceof ExpressionFailed)) throw error;
    throw new StepRefused(
      `the expression ${quote(expression.source, 80)} cannot be computed for ${draft.type}/${draft.id}: ${error.message}`,
      error instanceof ExpressionTooCostly
        ? 'Let it compare fewer items with each other, or raise `limits: { expressionSteps: … }` in lumbrik.yaml.'
        : mendOf(error.message, expression.source, draft),
      key,
    );
  }
}

/** How an expression is mended that cannot be computed for an entry. */
function mendOf(problem: string, source: string, { type, id }: EntryDraft): string {
  const missing = missingKey(problem);
  if (missing === undefined) return `See what it gives: lumbrik try ${shellWord(source)} ${shellWord(`${type}/${id}`)}`;
  return `Ask first whether the value is there: \`has(entry.${missing}) ? … : …\`.`;
}

function refuseBroken(value: Json, field: Field, model: Model): void {
  const fault = faultIn(value, field, model);
  if (!fault) return;

  const [path, complaint] = fault;
  const { says: message, mend } = wordsOf(complaint);
  throw new StepRefused(
    `the value ${quote(value)} breaks \`${field.address}\`: ${[pointer(path), message].filter(Boolean).join(' ')}`,
    mend,
    'value',
  );
}

function refuseOtherType({ gives, source }: Expression, field: Field): void {
  const expected = celTypeOf(field);
  const [, inOneLanguage = expected] = /^map<string, (.*)>$/u.exec(expected) ?? [];

  const isOfType = (type: string): boolean =>
    gives === type ||
    gives === 'null' ||
    (type === 'double' && gives === 'int') ||
    (type.startsWith('list<') && gives === 'list<dyn>') ||
    (type.startsWith('map<') && gives.startsWith('map'));

  // One may be alone where a list may.
  const [, alone = expected] = field.common.many?.orOne ? (/^list<(.*)>$/u.exec(inOneLanguage) ?? []) : [];
  if (gives === 'dyn' || expected.includes('dyn') || [expected, inOneLanguage, alone].some(isOfType)) return;
  throw new StepRefused(
    `the expression ${quote(source, 80)} gives ${gives}, and \`${field.address}\` holds ${expected}`,
    `Change it so that it gives ${expected}.`,
    'cel',
  );
}

/** Whether a whole value obeys its field once published. */
export function obeys(value: Json, field: Field, model: Model): boolean {
  let isFine = true;
  checkField(field, model.context)(value, 'published', () => {
    isFine = false;
  });
  return isFine;
}
