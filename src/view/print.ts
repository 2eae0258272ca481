import { once } from 'node:events';
import { compact, type Json } from '../core/plain/json.ts';
import { visibleLines } from '../core/plain/visible.ts';
import { type ErrorResult, resultVersion } from '../tasks/result.ts';
import type { Place, Trouble } from '../workspace/trouble.ts';
import { harmless } from './harmless.ts';
import { jsonPieces } from './jsonPieces.ts';
import { isAsciiOnly, type Look, lookFor, toAscii } from './look.ts';
import { troubleText } from './text/trouble.ts';

type Format = 'text' | 'json';

export interface Wish {
  readonly format: Format;
  /** `false` where the caller wants no colour; nothing where the terminal decides. */
  readonly color: boolean | undefined;
  readonly debug: boolean;
}

/** How a result reads for a person. A note goes to standard error, so that the text alone can be sent on. */
export type View<R> = (result: R, look: Look) => string | { readonly text: string; readonly note: string };

/** Prints a result on standard output: for a person, or as it is. */
export async function printResult<R>(result: R, view: View<R>, { format, color }: Wish): Promise<void> {
  if (format === 'json') {
    await writeAll(jsonPieces(result as Json));
    return;
  }
  const said = view(harmless(result), lookFor(process.stdout, color));
  write(process.stdout, typeof said === 'string' ? said : said.text);
  if (typeof said !== 'string') write(process.stderr, said.note);
}

/** Prints what stopped a command: for a person on standard error, for a program on standard output. */
export function printTrouble(trouble: Trouble, { format, color, debug }: Wish): void {
  const { code, message: says, mend, where, also } = trouble;
  const result: ErrorResult = {
    lumbrik: resultVersion,
    error: { code, says, ...(where ? { where: placeOf(where) } : {}), mend, also: [...also] },
  };
  if (format === 'json')
    write(
      process.stdout,
      `${JSON.stringify(result, undefined, 2)}
`,
    );
  else write(process.stderr, troubleText(harmless(result).error, lookFor(process.stderr, color)));
  if (debug) write(process.stderr, `${visibleLines(trouble.stack ?? '')}\n`);
}

/** A place alone: what else the thing has that was found there is not printed. */
const placeOf = ({ file, line, column }: Place): Place => compact({ file, line, column });

/** Writes pieces one after the other, no faster than they are taken: all together may be more than a text can be. */
async function writeAll(pieces: Iterable<string>): Promise<void> {
  let waiting = '';
  const flush = async (): Promise<void> => {
    const isTaken = process.stdout.write(isAsciiOnly(process.env) ? toAscii(waiting) : waiting);
    waiting = '';
    if (!isTaken) await once(process.stdout, 'drain');
  };
  for (const piece of pieces) {
    waiting += piece;
    if (waiting.length >= enough) await flush();
  }
  await flush();
}

const enough = 1 << 16;

function write(stream: NodeJS.WriteStream, text: string): void {
  stream.write(isAsciiOnly(process.env) ? toAscii(text) : text);
}
