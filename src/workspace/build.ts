/** Which build this is: another one may read the same files otherwise. Set by the build; a run from source remembers nothing. */
export const build: string | undefined = process.env.LUMBRIK_BUILD;
