import readline from 'node:readline/promises';
import { visible, visibleLines } from '../../core/plain/visible.ts';
import { clearProgress } from '../../view/progress.ts';
import type { Asker, Choice, Choosing, Writing } from './asker.ts';

const keyOf = ({ key, value }: Choice): string => key ?? value;

/** Asks line by line: for input that is piped in, and terminals that cannot move their cursor. */
export class LinesAsker implements Asker {
  readonly #reader = readline.createInterface({ input: process.stdin, output: process.stderr, terminal: false });
  readonly #lines = this.#reader[Symbol.asyncIterator]();
  isEnded = false;

  say(text: string): void {
    process.stderr.write(text);
  }

  async choose({ lead = '', message, choices, leave }: Choosing): Promise<string | undefined> {
    const ways = choices.map((choice) =>
      choice.key === undefined
        ? visible(choice.says ?? choice.value)
        : `[${choice.key}] ${visible(choice.says ?? choice.value)}`,
    );
    clearProgress();
    const among = choices.every(({ key }) => key === undefined) ? ways.join(', ') : ways.join('\n  ');
    this.say(`${lead}${visibleLines(message)}\n  ${among}\n  ${enter(leave)}`);

    for (;;) {
      const word = await this.#line();
      if (word === undefined || (word === '' && leave !== undefined)) return undefined;

      const chosen = choices.find((choice) => isMeant(choice, word));
      if (chosen) return chosen.value;

      const options =
        choices.length > mostNamed ? 'one of them' : `one of ${choices.map(keyOf).map(visible).join(', ')}`;
      this.say(
        `  “${visible(word)}” is none of them.\n  Type ${options}${leave === undefined ? '' : `, or Enter to ${leave}`}: `,
      );
    }
  }

  async write({ lead = '', message, leave, wrong }: Writing): Promise<string | undefined> {
    clearProgress();
    this.say(`${lead}${visibleLines(message)}\n  ${enter(leave)}`);
    for (;;) {
      const text = await this.#line();
      if (text === undefined || (text === '' && leave !== undefined)) return undefined;
      const reason = text === '' ? 'Type something' : wrong?.(text);
      if (reason === undefined) return text;
      this.say(`  ${visible(reason)}: `);
    }
  }

  end(): void {
    this.#reader.close();
  }

  async #line(): Promise<string | undefined> {
    const line = await this.#lines.next();
    if (line.done) this.isEnded = true;
    // On a terminal, Enter has ended the line.
    if (process.stdin.isTTY !== true) this.say('\n');
    if (line.done) return undefined;
    return line.value.trim();
  }
}

/** So many keys are named again where another was typed. */
const mostNamed = 12;

const enter = (leave: string | undefined): string => {
  if (leave === undefined) return '';
  return `(Enter to ${leave}) `;
};

/** A key of one letter is intended by any word that starts with it: `y`, `Yes`. */
const isMeant = (choice: Choice, word: string): boolean => {
  const key = keyOf(choice);
  return word === key || (key.length === 1 && /\p{L}/u.test(key) && word.charAt(0).toLowerCase() === key);
};
