/** What a process ends with. Part of the interface: builds rely on it. */
export const exitCodes = {
  fine: 0,
  /** The work found something wrong. */
  wrong: 1,
  /** The call, the workspace or its input is unusable. */
  unusable: 2,
  /** Refused to protect data. */
  refused: 3,
  /** A fault in the tool itself. */
  fault: 70,
  /** Ctrl-C, as shells say it: 128 and the number of the signal. */
  stopped: 130,
} as const;
