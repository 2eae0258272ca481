/** A shell that completes calls of Lumbrik: its arguments, and the characters that are safe on its line. */
export interface Shell {
  readonly name: string;
  /** How a person turns completion on for good. */
  readonly install: string;
  /** The script that makes the shell ask, by `lumbrik --complete <name> …`. */
  readonly script: string;
  /** The typed text, by the arguments that the script hands over. */
  readonly typedLine: (handedOver: readonly string[]) => TypedLine;
}

interface TypedLine {
  /** The words behind the name of the program, without their quotes; the last one perhaps in part, perhaps empty. */
  readonly words: readonly string[];
  /** The line that tells the shell of one word that may be in the place of the last. */
  readonly offer: (candidate: Candidate) => string;
}

export interface Candidate {
  readonly word: string;
  /** What it is, in a few words, for shells that show it. */
  readonly about?: string | undefined;
}
