/** The bytes and entries read since the last time. */
export interface ReadProgress {
  readonly count: number;
  /** How much of all there is has been now, from 0 to 1, where that is known. */
  readonly share?: number;
  /** Problems of it, as far as that shows before all is read. */
  readonly found?: () => FoundSoFar | undefined;
}

/** The findings so far. */
export interface FoundSoFar {
  readonly count: number;
  /** The latest, with its place. */
  readonly latest: string;
}
