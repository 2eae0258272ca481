import type { ParseError } from '@marcbachmann/cel-js';
import { ownValue } from '../plain/json.ts';
import { didYouMean } from '../plain/nearest.ts';
import { thereAre } from '../plain/words.ts';
import type { ExpressionProblem } from './expressionProblem.ts';
import { functionProblem } from './functionProblem.ts';

/** @param namesIn the names that there are in a value, by the text that stands before the dot. */
export function problemOf(
  error: ParseError,
  source: string,
  namesIn: (path: string) => readonly string[],
): ExpressionProblem {
  const summary = summaryOf(error);
  const offset = error.range?.start ?? 0;
  const unknown = missingKey(summary);
  if (unknown !== undefined) {
    const [, path = ''] = /([\w.]+)(?:\.|\[\s*)$/u.exec(source.slice(0, offset)) ?? [];
    const names = namesIn(path);
    const mend = didYouMean(unknown, names) ?? thereAre(names) ?? 'There is no field at all: add one first.';
    return { problem: `there is no field \`${unknown}\``, misses: unknown, offset, mend };
  }

  const [, first = '', operator, right = ''] = /^no such overload: (.+) ([-<>=!+*/%]+|in) (.+)$/u.exec(summary) ?? [];
  if (operator === undefined) {
    const mend = 'Correct the expression (CEL, the Common Expression Language).';
    return { ...(functionProblem(summary) ?? { problem: summary, mend }), offset };
  }

  return {
    problem: `\`${operator}\` does not go between ${inWords(first)} and ${inWords(right)} (${first} ${operator} ${right})`,
    offset,
    mend: [first, right].includes('null')
      ? 'Ask whether a value is there: `has(entry.name)`.'
      : 'Let both sides be of one kind: 3 is a number, "3" and "2026-03-01" are texts.',
  };
}

/** The types of CEL as a person says them who does not know it. */
function inWords(type: string): string {
  if (type.startsWith('list')) return 'a list';
  if (type.startsWith('map')) return 'a value in each language';

  const typeWords = {
    string: 'a text',
    int: 'a whole number',
    double: 'a number',
    bool: 'true or false',
    null: 'nothing',
  };

  return ownValue<string>(typeWords, type) ?? 'a group of values';
}

/** The key that an error says is not there. */
export const missingKey = (summary: string): string | undefined => /no such key: ([\w$-]+)/iu.exec(summary)?.[1];

/** The first line of an error of the CEL engine. */
export const summaryOf = (error: unknown): string => {
  const message = error instanceof Error ? error.message : String(error);
  const summary = error instanceof Error && 'summary' in error ? String(error.summary) : message;
  return summary.charAt(0).toLowerCase() + summary.slice(1);
};
