import { z } from 'zod';
import { Wording, wordingMistake, wordsIn } from '../definition/wording.ts';
import { compilePattern, patternOf } from '../patterns/pattern.ts';
import { countGraphemes } from '../plain/graphemes.ts';
import type { Json } from '../plain/json.ts';
import { rangeOf } from '../plain/words.ts';
import { condition, lowerBound, type Measure, upperBound } from './compatibility.ts';
import type { ModelContext, OptionMistake, Report } from './kindParts.ts';
import type { TextShape } from './shape.ts';

/** What the kinds that hold text share: bounds of their length, and a pattern. */
export const lengthOptions = {
  min: z.int().min(0).optional().describe('The fewest characters, as a person counts them.'),
  max: z.int().min(1).optional().describe('The most characters.'),
  pattern: z
    .union([
      z.string().transform((match) => ({ match })),
      z.strictObject({ match: z.string(), say: Wording.optional() }),
    ])
    .optional()
    .describe(
      'A regular expression (ECMAScript, flag u) that must match somewhere; with its own message as { match: …, say: … }.',
    ),
};

interface LengthOptions {
  readonly min?: number | undefined;
  readonly max?: number | undefined;
  readonly pattern?: { readonly match: string; readonly say?: Wording | undefined } | undefined;
}

/** The mistakes of length options and patterns. */
export function* lengthMistakes({ min, max, pattern }: LengthOptions, context: ModelContext): Iterable<OptionMistake> {
  if (min !== undefined && max !== undefined && min > max)
    yield {
      option: 'min',
      says: `\`min\` (${min}) is more than \`max\` (${max}), so no text could pass`,
      mend: 'Swap them or change one.',
    };

  if (pattern === undefined) return;

  const mistake = wordingMistake(pattern.say, context.languages);
  if (mistake) yield { option: 'pattern', ...mistake };
  yield* patternMistakes(pattern.match);
}

function* patternMistakes(match: string): Iterable<OptionMistake> {
  const compiled = compilePattern(match);
  if ('problem' in compiled) {
    const { says: message, mend } = compiled.problem;
    yield { option: 'pattern', says: `\`pattern\` ${message}`, mend };
  }
}

/** Compiles bounds and pattern into one check of a text. */
export function checkLength(
  { min, max, pattern }: LengthOptions,
  { languages }: ModelContext,
): (value: string, report: Report) => void {
  const expression = pattern === undefined ? undefined : patternOf(pattern.match);
  return (value, report) => {
    if (max !== undefined && value.length > max) {
      const length = countGraphemes(value);
      if (length > max) report('too-long', { size: length, bound: max }, { limit: max });
    }

    if (min !== undefined) {
      const length = countGraphemes(value);
      if (length < min) report('too-short', { size: length, bound: min }, { limit: min });
    }

    if (expression && pattern && !expression.test(value))
      report('pattern', { match: pattern.match, say: wordsIn(pattern.say, languages) }, { limit: pattern.match });
  };
}

const length = (beyond: string, extreme: string, worst: Measure['worst']): Measure => ({
  of: (value: Json) => (typeof value === 'string' ? countGraphemes(value) : undefined),
  beyond,
  extreme,
  has: (size) => `has ${size}`,
  isLength: true,
  worst,
});

/** The meanings of changed length options. */
export const lengthMeanings = {
  min: lowerBound(length('shorter', 'the shortest', 'smallest')),
  max: upperBound(length('longer', 'the longest', 'largest')),
  pattern: condition,
};

/** `30–80 characters` */
export function lengthGist({ min, max, pattern }: LengthOptions): string {
  return [rangeOf(min, max, 'character'), pattern ? 'pattern' : ''].filter(Boolean).join(', ');
}

/** What a text with limits is stored as. */
export const lengthShape = ({ min, max, pattern }: LengthOptions): TextShape => ({
  is: 'text',
  min,
  max,
  patterns: pattern === undefined ? [] : [pattern.match],
});

/** The same on one line. */
export const onOneLine = (shape: TextShape): TextShape => ({
  ...shape,
  patterns: [...(shape.patterns ?? []), '^[^\\n\\r\\u2028\\u2029]*$'],
});
