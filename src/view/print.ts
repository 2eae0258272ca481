import { once } from 'node:events';
import { compact, type Json, ownValue } from '../core/plain/json.ts';
import { visibleLines } from '../core/plain/visible.ts';
import { type ErrorResult, resultVersion } from '../tasks/result.ts';
import type { Place, Trouble } from '../workspace/trouble.ts';
import { harmless } from './harmless.ts';
import { jsonPieces } from './jsonPieces.ts';
import { fitted, isAsciiOnly, type Look, lookFor, toAscii } from './look.ts';
import { paged } from './pager.ts';
import { troubleText } from './text/trouble.ts';

export interface Wish {
  /** `text`, `json`, or the name of a report that the command has. */
  readonly format: string;
  /** `false` where the caller wants no colour; nothing where the terminal decides. */
  readonly color: boolean | undefined;
  readonly debug: boolean;
}

/** How a result reads for a person. A note goes to standard error, so that the text alone can be sent on. */
export type View<R> = (result: R, look: Look) => string | { readonly text: string; readonly note: string };

/** How a result reads for other programs, by the name of the form: in pieces, since it may be large. */
type Reports<R> = Readonly<Record<string, (result: R) => Iterable<string | Uint8Array>>>;

/** The ways in which a command tells its result. */
export interface PrintOptions<R> {
  readonly view: View<R>;
  readonly reports: Reports<R>;
  /** As much of a result as the view prints, where that may be very little of it. */
  readonly shown?: (result: R) => R;
  /** What a person should know beside a report: on standard error, so that what is sent on stays as it is. */
  readonly note?: (result: R, look: Look) => string;
  /** Whether a text that is longer than the terminal is shown page by page: what is read from the top. */
  readonly isPaged?: boolean;
}

/** Prints a result on standard output: for a person, as it is, or as a report. */
export async function printResult<R>(
  result: R,
  { view, reports, shown = (result) => result, note, isPaged = false }: PrintOptions<R>,
  { format, color }: Wish,
): Promise<void> {
  const report = ownValue(reports, format);
  if (report) {
    await printPieces(report(result));
    // There may be a million rows, and nothing to say of them.
    const look = lookFor(process.stderr, color);
    if (note && note(result, look) !== '') write(process.stderr, note(harmless(result), look));
    return;
  }
  if (format === 'json') {
    await writeAll(jsonPieces(result as Json));
    return;
  }

  const look = lookFor(process.stdout, color);
  const output = view(harmless(shown(result)), look);
  const text = fitted(typeof output === 'string' ? output : output.text, look);
  if (!(isPaged && (await paged(text)))) write(process.stdout, text);
  if (typeof output !== 'string') write(process.stderr, fitted(output.note, look));
}

/** Prints pieces of a report: exact for a program; what others wrote does nothing on a terminal. */
export const printPieces = (pieces: Iterable<string | Uint8Array>): Promise<void> =>
  writeAll(process.stdout.isTTY ? madeVisible(pieces) : pieces);

function* madeVisible(pieces: Iterable<string | Uint8Array>): Iterable<string | Uint8Array> {
  for (const piece of pieces) yield typeof piece === 'string' ? visibleLines(piece) : piece;
}

/** Prints what stopped a command: for a person on standard error, for a program on standard output. */
export function printTrouble(trouble: Trouble, { format, color, debug }: Wish): void {
  const { code, message, mend, where, also } = trouble;
  const result: ErrorResult = {
    lumbrik: resultVersion,
    error: compact({ code, says: message, where: where ? placeOf(where) : undefined, mend, also: [...also] }),
  };

  if (format === 'json')
    write(
      process.stdout,
      `${JSON.stringify(result, undefined, 2)}
`,
    );
  else {
    const look = lookFor(process.stderr, color);
    write(process.stderr, fitted(troubleText(harmless(result).error, look), look));
  }

  if (debug) write(process.stderr, `${visibleLines(trouble.stack ?? '')}\n`);
}

/** A place alone: what else the thing has that was found there is not printed. */
const placeOf = ({ file, line, column }: Place): Place => compact({ file, line, column });

/** Writes pieces one after the other, no faster than they are taken: all together may be more than a text can be. */
async function writeAll(pieces: Iterable<string | Uint8Array>): Promise<void> {
  let waiting = '';
  const flush = async (): Promise<void> => {
    const isTaken = process.stdout.write(isAsciiOnly(process.env) ? toAscii(waiting) : waiting);
    waiting = '';
    if (!isTaken) await once(process.stdout, 'drain');
  };

  for (const piece of pieces) {
    if (typeof piece !== 'string') {
      await flush();
      if (!process.stdout.write(piece)) await once(process.stdout, 'drain');
      continue;
    }

    waiting += piece;
    if (waiting.length >= enough) await flush();
  }

  await flush();
}

const enough = 1 << 16;

function write(stream: NodeJS.WriteStream, text: string): void {
  stream.write(isAsciiOnly(process.env) ? toAscii(text) : text);
}
