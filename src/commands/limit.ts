import { Trouble } from '../workspace/trouble.ts';

/** The option --limit, in words. */
export const limitOption = (describe: string) => ({ type: 'string', requiresArg: true, describe }) as const;

/** The number that --limit, or another option, gives; `undefined` where it is not given. */
export function limitOf(text: unknown, option = 'limit'): number | undefined {
  if (text === undefined) return undefined;
  const limit = Number(text);
  if (Number.isInteger(limit) && limit >= 0) return limit;
  throw new Trouble('unusable-call', `--${option} ${String(text)} is no number`, {
    mend: option === 'limit' ? 'Write for example --limit 50, or 0 for all.' : `Write for example --${option} 10.`,
  });
}
