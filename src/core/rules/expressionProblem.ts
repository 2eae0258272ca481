/** Why an expression cannot be used: the problem, and where in it (offsets count from 0, in UTF-16 code units). */
export interface ExpressionProblem {
  readonly problem: string;
  readonly offset: number;
  readonly mend: string;
  /** The field that it names and that is not there, where that is the problem. */
  readonly misses?: string;
}
