const start = '<fill in';

/** A text that stands for a value which somebody has to write: the checker refuses it wherever it still stands. */
export const placeholder = Object.assign((what: string): string => `${start}: ${what}>`, { start });
