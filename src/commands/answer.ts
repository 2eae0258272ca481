import type { Argv } from 'yargs';
import { list } from '../core/plain/words.ts';
import type { Call } from '../tasks/call.ts';
import { type PrintOptions, printResult, type View, type Wish } from '../view/print.ts';
import { watchProgress } from '../view/progress.ts';
import { exitCodes } from '../workspace/exitCodes.ts';
import { Trouble } from '../workspace/trouble.ts';

/** The arguments of a call, as yargs hands them over. */
export type Arguments = Readonly<Record<string, unknown>>;

/** A command as it is registered: its words are known at once, all the rest is loaded when it is called. */
export interface CommandModule {
  readonly builder: (yargs: Argv) => Argv;
  readonly handler: (args: Arguments) => Promise<void>;
}

/** Options that every command has, as yargs hands them over. */
function wishOf(args: Arguments): Wish {
  return {
    format: textOf(args.format) ?? 'text',
    color: colorOf(args),
    debug: args.debug === true,
  };
}

/** Whether colours are wanted; nothing where the terminal decides. */
export const colorOf = ({ color }: Arguments): boolean | undefined => {
  if (typeof color === 'boolean') return color;
  return undefined;
};

/** A text argument, or nothing. A number that was typed is a text: addresses and revisions look like numbers. */
export const textOf = (value: unknown): string | undefined => {
  if (value === undefined) return undefined;
  return String(value);
};

/** An argument that may be given several times, as texts. */
export const textsOf = (value: unknown): readonly string[] => {
  if (value === undefined) return [];
  return [value].flat().map(String);
};

/**
 * Does a command's work and prints its result.
 * @param view how its result reads for a person, and in forms beside text and JSON where it has such.
 * @param isFine whether the work found nothing wrong, or the exit code where that has one to itself.
 */
export async function answer<R>(
  args: Arguments,
  work: (call: Call) => Promise<R> | R,
  view: View<R> | PrintOptions<R>,
  isFine: (result: R) => boolean | number = () => true,
): Promise<void> {
  const wish = wishOf(args);
  const ways = typeof view === 'function' ? { view, reports: {} } : view;
  refuseFormat(wish.format, ['json', ...Object.keys(ways.reports)]);
  const { watch, done } = watchProgress(wish.format !== 'text');
  try {
    const result = await work({ workspace: textOf(args.workspace), watch });
    done();
    // Before it is printed: anyone who reads may have read enough.
    process.exitCode = exitCodeOf(isFine(result));
    await printResult(result, ways, wish);
  } finally {
    done();
  }
}

/** Whether everything in the place of an entry could be read: otherwise counts are incomplete. */
export const isComplete = ({ unreadable }: { readonly unreadable: number }): boolean => unreadable === 0;

/** @throws {Trouble} where the result has no such form: a program expects the form, and would get a text. */
export function refuseFormat(format: string, forms: readonly string[]): void {
  if (format === 'text' || forms.includes(format)) return;
  throw new Trouble('unusable-call', `this is not told as --format ${format}`, {
    mend: forms.length > 0 ? `Take ${list(['text', ...forms], 'or')}.` : 'Leave it out.',
  });
}

function exitCodeOf(isFine: boolean | number): number {
  if (typeof isFine === 'number') return isFine;
  if (isFine) return exitCodes.fine;
  return exitCodes.wrong;
}
