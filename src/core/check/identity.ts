import { type Json, own, type Path } from '../json.ts';
import { idRule, isId } from '../model/address.ts';
import { statuses } from '../model/document.ts';
import { didYouMean } from '../nearest.ts';
import { list, quote } from '../words.ts';
import { type Entry, isEmpty } from './entry.ts';
import type { FindingName } from './findings.ts';

/** Takes what is wrong with an entry, at a path inside it. */
export type Find = (finding: FindingName, path: Path, says: string, mend: string) => void;

const times = ['created', 'changed', 'publicFrom', 'publicUntil'] as const;

/** Checks what every entry has of itself: its identifier, its status, its times. */
export function checkIdentity(entry: Entry, find: Find): void {
  checkWindow(entry, find);
  if (!isId(entry.id))
    find(
      'malformed-identifier',
      'id' in entry.values ? ['id'] : [],
      `has the identifier ${quote(entry.id)}`,
      `Rename it: ${idRule}.`,
    );
  const status = own(entry.values, 'status');
  if (status !== undefined && !statuses.some((one) => one === status))
    find(
      'unknown-status',
      ['status'],
      `is ${quote(status)}, none of ${list(statuses, 'or')}`,
      `Write ${list(statuses, 'or')}.${didYouMean(String(status), statuses)}`,
    );
  for (const name of times) {
    const time = own(entry.values, name);
    if (time !== undefined && !isEmpty(time) && !isTime(time))
      find(
        'malformed-time',
        [name],
        `is ${quote(time)}, no time`,
        'Write it as RFC 3339 says: 2026-03-01T09:30:00Z, or a day alone: 2026-03-01.',
      );
  }
}

/** When an entry starts and stops being public, where both are said: not the wrong way round. */
function checkWindow(entry: Entry, find: Find): void {
  const from = own(entry.values, 'publicFrom');
  const until = own(entry.values, 'publicUntil');
  if (
    from === undefined ||
    until === undefined ||
    !isTime(from) ||
    !isTime(until) ||
    Date.parse(String(from)) < Date.parse(String(until))
  )
    return;
  find(
    'window-reversed',
    ['publicUntil'],
    `is ${quote(until)}, and the entry is public only from ${String(from)}`,
    'Swap the two, or correct one.',
  );
}

/** RFC 3339, section 5.6: a date-time with its offset, or a full date alone. */
const isTime = (value: Json | undefined): boolean =>
  typeof value === 'string' &&
  /^\d{4}-(?:0[1-9]|1[0-2])-(?:0[1-9]|[12]\d|3[01])(?:[Tt ](?:[01]\d|2[0-3]):[0-5]\d:(?:[0-5]\d|60)(?:\.\d+)?(?:[Zz]|[+-]\d{2}:\d{2}))?$/u.test(
    value,
  );
