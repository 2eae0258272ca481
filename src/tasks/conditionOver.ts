import { type Entry, statusOf } from '../core/entry/entry.ts';
import type { Type } from '../core/model/link.ts';
import { fieldsOf } from '../core/model/ownFields.ts';
import { quote } from '../core/plain/words.ts';
import { type Expression, ExpressionFailed, expressionsOver } from '../core/rules/expression.ts';
import { Trouble } from '../workspace/trouble.ts';

/** A condition over the entries of those of some types whose fields it names. @throws {Trouble} where it fits none. */
export function conditionOver(source: string, types: readonly Type[]): (entry: Entry) => boolean {
  const compiled = new Map<string, Expression>();
  let problem: { readonly problem: string; readonly mend: string; readonly offset: number } | undefined;
  for (const type of types) {
    const one = expressionsOver(type)(source);
    if (!('problem' in one) && ['bool', 'dyn'].includes(one.gives)) compiled.set(type.name, one);
    else if ('problem' in one) problem ??= one;
    else problem ??= { problem: `it gives ${one.gives}, and a condition is true or false`, mend: '', offset: 0 };
  }
  if (compiled.size === 0)
    throw new Trouble(
      'malformed-expression',
      `in ${quote(source, 60)}, at character ${(problem?.offset ?? 0) + 1}: ${problem?.problem}`,
      { mend: problem?.mend ?? '' },
    );
  const byName = new Map(types.map((type) => [type.name, type]));
  return (entry) => {
    const type = byName.get(entry.type);
    const expression = compiled.get(entry.type);
    if (!type || !expression) return false;
    try {
      const view = { id: entry.id, type: entry.type, status: statusOf(entry), fields: fieldsOf(entry, type) };
      return expression.evaluate(view) === true;
    } catch (error) {
      if (error instanceof ExpressionFailed) return false;
      throw error;
    }
  };
}
