import type { Severity } from './findings.ts';

/** Something that is as bad as a finding, once or as often as it counts. */
interface Rated {
  readonly severity: Severity;
  readonly count?: number;
}

/** Whether a finding is an error. */
export const isError = ({ severity }: Rated): boolean => severity === 'error';

/** How many errors and warnings there are. */
export function severitiesOf(rated: Iterable<Rated>): { readonly errors: number; readonly warnings: number } {
  let [errors, warnings] = [0, 0];
  for (const each of rated) {
    const { count = 1 } = each;
    if (isError(each)) errors += count;
    else warnings += count;
  }

  return { errors, warnings };
}
