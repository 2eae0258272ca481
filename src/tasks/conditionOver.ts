import { byType } from '../core/check/lookedUpValues.ts';
import { type Entry, statusOf } from '../core/entry/entry.ts';
import type { Model, Type } from '../core/model/link.ts';
import { fieldsOf } from '../core/model/ownFields.ts';
import { quote } from '../core/plain/words.ts';
import { type Expression, ExpressionFailed, ExpressionUnjudged, expressionsOver } from '../core/rules/expression.ts';
import type { ExpressionProblem } from '../core/rules/expressionProblem.ts';
import { readLookUps } from '../passes/lookUps.ts';
import type { EntryStore } from '../stores/store.ts';
import { Trouble } from '../workspace/trouble.ts';

/** A condition that was compiled for the types whose fields it names. */
interface Condition {
  readonly expressions: ReadonlyMap<string, Expression>;
  readonly types: ReadonlyMap<string, Type>;
}

/**
 * Compiles a condition over the entries of those of some types whose fields it names.
 * @throws {Trouble} where it fits none.
 */
export function compileCondition(source: string, types: readonly Type[]): Condition {
  const expressions = new Map<string, Expression>();
  const problems: ExpressionProblem[] = [];
  for (const type of types) {
    const compiled = expressionsOver(type, 'entry', { beside: types })(source);
    if ('problem' in compiled) problems.push(compiled);
    else if (['bool', 'dyn'].includes(compiled.gives)) expressions.set(type.name, compiled);
    else
      problems.push({ problem: `it gives ${compiled.gives}, and a condition is true or false`, mend: '', offset: 0 });
  }

  if (expressions.size > 0) return { expressions, types: new Map(types.map((type) => [type.name, type])) };

  // That a type has no such field says less than what is wrong where one has it.
  const problem = problems.find(({ misses }) => misses === undefined) ?? problems[0];
  throw new Trouble(
    'malformed-expression',
    `in ${quote(source, 60)}, at character ${(problem?.offset ?? 0) + 1}: ${problem?.problem}`,
    { mend: problem?.mend ?? '' },
  );
}

/**
 * Prepares the question whether entries meet a condition: reads the entries that it looks up. An entry without a value that the
 * condition names does not meet it.
 * @param store the entries that it looks into.
 * @returns a question that throws {Trouble} where an entry has its values and yet the condition ends in an error.
 */
export async function entriesMeeting(
  { expressions, types }: Condition,
  store: EntryStore,
  model: Model,
): Promise<(entry: Entry) => boolean> {
  const lookedUp = [...expressions.values()].flatMap(({ looksUp }) => looksUp);
  const look = await readLookUps(store, model, byType(lookedUp, model));

  return (entry) => {
    const type = types.get(entry.type);
    const expression = expressions.get(entry.type);
    if (!type || !expression) return false;
    try {
      const { id, type: typeName, expressionSteps } = entry;
      const view = {
        id,
        type: typeName,
        status: statusOf(entry),
        fields: fieldsOf(entry, type),
        look,
        expressionSteps,
      };
      return expression.evaluate(view) === true;
    } catch (error) {
      if (error instanceof ExpressionUnjudged)
        throw new Trouble(
          'malformed-expression',
          `${quote(expression.source, 60)} cannot be judged for ${entry.type}/${entry.id}: ${error.message}`,
          { mend: 'Correct the entry, or let the condition ask first whether it can be computed.' },
        );
      if (error instanceof ExpressionFailed) return false;
      throw error;
    }
  };
}
