import readline from 'node:readline/promises';
import { visible } from '../../core/plain/visible.ts';

/** A question to whoever sits at the keyboard. */
export interface Question {
  readonly name: string;
  readonly text: string;
  /** What may be answered; anything where it is not given. */
  readonly among?: readonly string[];
}

/** Whether questions are asked: where the call wants them, or on a terminal where it answers none of them itself. */
export const isAsking = (args: Readonly<Record<string, unknown>>, isSilent: boolean): boolean =>
  args.ask === true || (args.ask === undefined && isSilent && args.format !== 'json' && process.stdin.isTTY === true);

/**
 * Asks what a call left out, one question after the other, on standard error so that the result stays alone on standard
 * output. An empty answer leaves it out; the end of the input ends the questions.
 */
export async function askFor(questions: readonly Question[]): Promise<Readonly<Record<string, string>>> {
  const asker = readline.createInterface({ input: process.stdin, output: process.stderr, terminal: false });
  const lines = asker[Symbol.asyncIterator]();
  const answers: Record<string, string> = {};
  try {
    for (const { name, text, among } of questions) {
      for (;;) {
        process.stderr.write(
          `${visible(text)}${among ? `\n  ${among.map(visible).join(', ')}` : ''}\n  (Enter to leave it out) `,
        );
        const line = await lines.next();
        if (line.done) return answers;
        const answer = line.value.trim();
        if (answer === '') break;
        if (!among || among.includes(answer)) {
          answers[name] = answer;
          break;
        }
        process.stderr.write(`  “${visible(answer)}” is none of them.\n`);
      }
    }
    return answers;
  } finally {
    asker.close();
  }
}
