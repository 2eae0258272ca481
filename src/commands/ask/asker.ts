/** What can be chosen. */
export interface Choice {
  readonly value: string;
  /** The word to type for it without arrow keys. Default: the value itself. */
  readonly key?: string;
  /** How it reads: its value if nothing is stated. */
  readonly says?: string;
  readonly about?: string;
}

interface Question {
  /** The text shown above the question: its subject. */
  readonly lead?: string;
  readonly message: string;
  /** What giving no answer does: `leave it out`. Where nothing is stated, an answer is needed. */
  readonly leave?: string | undefined;
}

/** A question with a list of answers. */
export interface Choosing extends Question {
  readonly choices: readonly Choice[];
}

/** A question whose answer is a text. */
export interface Writing extends Question {
  /** Why a text cannot be taken, as far as that can be reported while it is typed. */
  readonly wrong?: ((text: string) => string | undefined) | undefined;
}

/** Asks anyone who sits at the keyboard, on standard error so that the result stays alone on standard output. */
export interface Asker {
  /** Whether there is nobody any more who could answer. */
  readonly isEnded: boolean;
  /** Says something in between. */
  say(text: string): void;
  /** One of some choices; `undefined` where it was left, or the input has ended. */
  choose(question: Choosing): Promise<string | undefined>;
  /** A text; `undefined` where it was left, or the input has ended. */
  write(question: Writing): Promise<string | undefined>;
  end(): void;
}
