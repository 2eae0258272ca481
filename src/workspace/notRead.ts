/** Why a file was not read: the problem and its place. */
export interface NotRead {
  /** The problem, said of the file: "is not in UTF-8". */
  readonly says: string;
  readonly mend: string;
  readonly line: number;
  readonly column: number;
  /** A link that leads somewhere, never followed. */
  readonly isLink?: true;
  /** A file that has more than is read. */
  readonly isTooLarge?: true;
}

export const notRead = (message: string, mend: string, line = 1, column = 1): NotRead => ({
  says: message,
  mend,
  line,
  column,
});
