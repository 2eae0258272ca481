/** Smaller models and revisions, in bytes, are read in no time: nothing is remembered of them, and nothing written. */
export const worthRemembering = 64 * 1024;
