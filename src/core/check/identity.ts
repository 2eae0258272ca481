import { isId } from '../definition/address.ts';
import { type BuiltIn, statuses } from '../definition/builtIn.ts';
import { type Entry, factUnder, isEmpty, ownFactKeys } from '../entry/entry.ts';
import type { MessageData, MessageName } from '../messages/words.ts';
import { type Json, ownValue, type Path } from '../plain/json.ts';
import { instantOf, isMoment } from '../plain/moment.ts';
import { nearest } from '../plain/nearest.ts';

/** Takes problems of an entry, at a path inside it. */
export type Find = <M extends MessageName>(message: M, path: Path, data: MessageData<M>) => void;

/** Checks that the identifier of an entry is written as identifiers are. */
export function checkId(entry: Entry, find: Find): void {
  const { id, values } = entry;
  if (isId(id)) return;
  const { id: key } = ownFactKeys(entry);
  const path = key !== undefined && key in values ? [key] : [];
  find('malformed-identifier', path, { id });
}

/**
 * Checks the value of a key that every entry may have, such as its status.
 * @returns whether the key is one of those.
 */
export function checkReserved(key: string, entry: Entry, find: Find): boolean {
  const name = factUnder(key, entry);
  if (name === undefined) return false;
  checks[name](entry, key, find);
  return true;
}

/** Checks the value under a key. */
type CheckReserved = (entry: Entry, key: string, find: Find) => void;

const checks: Readonly<Record<BuiltIn, CheckReserved>> = {
  // The place of the entry gives them where they are absent, so a mistake in a name is a finding about the entry.
  id: ({ values }, key, find) => {
    const value = values[key];
    if (typeof value !== 'number' && holdsNoName(value)) find('malformed-identifier:value', [key], { value });
  },
  type: ({ values }, key, find) => {
    const value = values[key];
    if (holdsNoName(value)) find('unknown-type:value', [key], { value, key });
  },
  status: checkStatus,
  created: checkTime,
  changed: checkTime,
  publicFrom: checkTime,
  publicUntil: (entry, key, find) => {
    checkTime(entry, key, find);
    const { values } = entry;
    const { publicFrom } = ownFactKeys(entry);
    checkWindow(publicFrom === undefined ? undefined : ownValue(values, publicFrom), values[key], key, find);
  },
};

/** Whether something is there that is no name: it would be passed over without a word. */
const holdsNoName = (value: Json | undefined): value is Json =>
  value !== undefined && typeof value !== 'string' && !isEmpty(value);

function checkStatus({ values }: Entry, key: string, find: Find): void {
  const status = values[key];
  if (statuses.some((name) => name === status)) return;
  find('unknown-status', [key], { status: status ?? null, near: nearest(String(status), statuses) });
}

function checkTime({ values }: Entry, key: string, find: Find): void {
  const time = values[key];
  if (time === undefined || isEmpty(time) || isMoment(time)) return;
  find('malformed-time', [key], { time });
}

/** When an entry starts and stops being public, where both are stated: not the wrong way round. */
function checkWindow(from: Json | undefined, until: Json | undefined, key: string, find: Find): void {
  if (!isMoment(from) || !isMoment(until) || instantOf(from) < instantOf(until)) return;
  find('window-reversed', [key], { from, until });
}
