import { Trouble } from '../workspace/trouble.ts';

/** The option --limit, in words. */
export const limitOption = (describe: string) => ({ type: 'string', requiresArg: true, describe }) as const;

/** The number that --limit gives, 0 for all; `undefined` where it is not given. */
export function limitOf(text: unknown): number | undefined {
  if (text === undefined) return undefined;
  const limit = Number(text);
  if (Number.isInteger(limit) && limit >= 0) return limit;
  throw new Trouble('unusable-call', `--limit ${String(text)} is no number`, {
    mend: 'Write for example --limit 50, or 0 for all.',
  });
}
