import { type Entry, isEmpty, ownFactKeys, statusOf } from '../entry/entry.ts';
import { compact, type Json, ownValue } from '../plain/json.ts';
import { instantOf, isMoment } from '../plain/moment.ts';

/** When a published entry is there for readers: from and until a moment (RFC 3339, or a day), where it says so. */
export interface Window {
  readonly from?: string;
  readonly until?: string;
}

/** Why readers do not see a published entry at a moment: its time has not come yet, or is over; and the date of that. */
export interface Hidden {
  readonly why: 'not-yet' | 'no-longer';
  readonly date: string;
}

/** The time that an entry is public; `undefined` if it has none. A malformed moment is reported elsewhere. */
export function windowOf(entry: Entry): Window | undefined {
  const [from, until] = timesOf(entry).map((time) => (isMoment(time) ? time : undefined));
  if (from === undefined && until === undefined) return undefined;
  return compact({ from, until });
}

/** From and until when an entry is public, as it says it. */
const timesOf = (entry: Entry): readonly (Json | undefined)[] => {
  const { values } = entry;
  const { publicFrom, publicUntil } = ownFactKeys(entry);
  return [publicFrom, publicUntil].map((key) => (key === undefined ? undefined : ownValue(values, key)));
};

/** Why a published entry is not there for readers at a moment (RFC 3339); `undefined` where it is. */
export function hiddenAt(window: Window | undefined, moment: string): Hidden | undefined {
  if (window?.from !== undefined && instantOf(moment) < instantOf(window.from))
    return { why: 'not-yet', date: window.from };
  if (window?.until !== undefined && instantOf(moment) >= instantOf(window.until))
    return { why: 'no-longer', date: window.until };
  return undefined;
}

/**
 * Why readers who come to a published entry do not find another one: at a moment, or at the first one after it that they
 * see the entry themselves. `undefined` where they find it, or see neither.
 */
export function hiddenFrom(
  reader: Window | undefined,
  target: Window | undefined,
  currentTime: string,
): Hidden | undefined {
  if (target === undefined) return undefined;
  const ownHidden = hiddenAt(reader, currentTime);
  if (ownHidden?.why === 'no-longer') return undefined;
  return hiddenAt(target, ownHidden?.date ?? currentTime);
}

/**
 * Whether readers can see an entry at a moment (RFC 3339): it is published, and its time has come and not gone. Where a time
 * that it says is no moment, nobody knows, and readers do not see it.
 */
export const isPublicAt = (entry: Entry, currentTime: string): boolean =>
  statusOf(entry) === 'published' &&
  timesOf(entry).every((time) => time === undefined || isEmpty(time) || isMoment(time)) &&
  hiddenAt(windowOf(entry), currentTime) === undefined;
