import { resultVersion } from '../tasks/result.ts';
import type { Trouble } from '../workspace/trouble.ts';
import { isAsciiOnly, type Look, lookFor, toAscii } from './look.ts';
import { troubleText } from './text/trouble.ts';

type Format = 'text' | 'json';

export interface Wish {
  readonly format: Format;
  /** `false` where the caller wants no colour; nothing where the terminal decides. */
  readonly color: boolean | undefined;
  readonly debug: boolean;
}

/** Prints a result on standard output: for a person, or as it is. */
export function printResult<R>(result: R, text: (result: R, look: Look) => string, { format, color }: Wish): void {
  write(
    process.stdout,
    format === 'json' ? `${JSON.stringify(result, undefined, 2)}\n` : text(result, lookFor(process.stdout, color)),
  );
}

/** Prints what stopped a command: for a person on standard error, for a program on standard output. */
export function printTrouble(trouble: Trouble, { format, color, debug }: Wish): void {
  const { code, message: says, mend, where, also } = trouble;
  if (format === 'json')
    write(
      process.stdout,
      `${JSON.stringify({ lumbrik: resultVersion, error: { code, says, ...(where ? { where } : {}), mend, also } }, undefined, 2)}\n`,
    );
  else write(process.stderr, troubleText(trouble, lookFor(process.stderr, color)));
  if (debug) write(process.stderr, `${trouble.stack ?? ''}\n`);
}

function write(stream: NodeJS.WriteStream, text: string): void {
  stream.write(isAsciiOnly(process.env) ? toAscii(text) : text);
}
