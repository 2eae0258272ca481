import { RegExpParser } from '@eslint-community/regexpp';
import { RE2JS } from 're2js';
import type { Outcome } from '../plain/outcome.ts';
import { PatternRefused, toLinear, toPostgres } from './translate.ts';

/** A regular expression that takes time linear in the text, whatever the text is. */
export interface Pattern {
  /** Whether it matches somewhere in a text. */
  readonly test: (text: string) => boolean;
  /**
   * A text with everything that it matches exchanged for another, in which `$1` is what the first group matched, `$&` the
   * whole match and `$$` a dollar sign (ECMA-262, GetSubstitution).
   */
  readonly replace: (text: string, by: string) => string;
}

/** Why a pattern cannot be used. */
export interface PatternProblem {
  /** The problem, as the end of a sentence that starts with the pattern. */
  readonly says: string;
  readonly mend: string;
}

const parser = new RegExpParser({ ecmaVersion: 2024 });
const cache = new Map<string, Outcome<Pattern, PatternProblem>>();

/**
 * Compiles a regular expression (ECMAScript, flag `u`). It is run by an engine whose time is linear in the length of the
 * text (RE2, an automaton), and has the meaning of ECMAScript. What such an engine cannot express, to look ahead or
 * back and to refer to what a group matched, is refused.
 */
export function compilePattern(source: string): Outcome<Pattern, PatternProblem> {
  const before = cache.get(source);
  if (before) return before;
  const compiled = compileNew(source);
  cache.set(source, compiled);
  return compiled;
}

/** The same regular expression in the syntax of PostgreSQL; `undefined` where it cannot be stated there. */
export function postgresPattern(source: string): string | undefined {
  try {
    return toPostgres(parser.parsePattern(source, 0, source.length, { unicode: true }));
  } catch {
    return undefined;
  }
}

/** The same for a pattern that was judged before. */
export function patternOf(source: string): Pattern {
  const compiled = compilePattern(source);
  // A mistake in the model is reported where the model is read; no text is compared with a pattern that cannot be used.
  if ('problem' in compiled) return { test: () => true, replace: (text) => text };
  return compiled.value;
}

function compileNew(source: string): Outcome<Pattern, PatternProblem> {
  try {
    new RegExp(source, 'u');
  } catch (error) {
    const reason = error instanceof Error ? error.message.replace(/^Invalid regular expression: /u, '') : String(error);
    return {
      problem: {
        says: `is no regular expression: ${reason}`,
        mend: 'Correct it; in YAML, put patterns in single quotes.',
      },
    };
  }

  try {
    const tree = parser.parsePattern(source, 0, source.length, { unicode: true });
    const automaton = RE2JS.compile(toLinear(tree));
    return {
      value: {
        test: (text) => automaton.test(text),
        replace: (text, by) => automaton.matcher(text).replaceAll(by),
      },
    };
  } catch (error) {
    if (error instanceof PatternRefused) return { problem: { says: error.message, mend: error.mend } };
    return {
      problem: {
        says: 'is too large, or has a part that is not known here',
        mend: 'Write it more simply, or as several fields.',
      },
    };
  }
}
