import { type FindingName, findings } from '../../core/definition/findingNames.ts';
import type { LocatedFinding } from '../../passes/locatedFinding.ts';
import type { CheckResult } from '../../tasks/check/check.ts';

/** Something that a check found, in the model or in an entry, as reports for other programs tell it. */
export interface ReportItem
  extends Pick<LocatedFinding, 'severity' | 'file' | 'line' | 'column' | 'says' | 'mend'>,
    Partial<Pick<LocatedFinding, 'entry' | 'end' | 'pointer' | 'fix'>> {
  /** The name of the finding. */
  readonly name: string;
  /** The finding in one sentence: the field and its problem. */
  readonly message: string;
}

/** The name of a mistake in the model among findings. */
export const mistakeName = 'model-mistake';

/** What a finding means, whatever it is found in. */
export const meaningOf = (name: string): string => {
  if (name === mistakeName) return 'The model has a mistake.';
  return findings[name as FindingName] ?? name;
};

/** All that a check found: mistakes in the model, or findings in entries where there are none. */
export function* toldBy({ mistakes, findings }: CheckResult): Iterable<ReportItem> {
  for (const { file, line, column, says: message, mend } of mistakes)
    yield { name: mistakeName, severity: 'error', file, line, column, says: message, mend, message: sentence(message) };
  for (const { finding: name, message: _, ...rest } of findings)
    yield { name, ...rest, message: sentence([field(rest.pointer), rest.says].filter(Boolean).join(' ')) };
}

/** `hours.opens` for the pointer `/hours/opens` */
const field = (pointer: string): string =>
  pointer
    .split('/')
    .slice(1)
    .map((part) => part.replaceAll('~1', '/').replaceAll('~0', '~'))
    .join('.');

const sentence = (text: string): string => {
  if (/[.!?…]$/u.test(text)) return text;
  return `${text}.`;
};
