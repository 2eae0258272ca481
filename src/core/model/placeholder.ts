const start = '<fill in';

/** A text that stands for a value which somebody has to write: the checker refuses it wherever it still stands. */
export const placeholder = Object.assign((kind: string): string => `${start}: ${kind}>`, { start });
