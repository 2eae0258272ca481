import { isId } from '../definition/address.ts';
import { type reservedNames, statuses } from '../definition/builtIn.ts';
import { type Entry, isEmpty } from '../entry/entry.ts';
import type { MessageData, MessageName } from '../messages/words.ts';
import type { Json, JsonObject, Path } from '../plain/json.ts';
import { nearest } from '../plain/nearest.ts';

/** Takes what is wrong with an entry, at a path inside it. */
export type Find = <M extends MessageName>(message: M, path: Path, data: MessageData<M>) => void;

/** Checks that the identifier of an entry is written as identifiers are. */
export function checkId({ id, values }: Entry, find: Find): void {
  if (isId(id)) return;
  const path = 'id' in values ? ['id'] : [];
  find('malformed-identifier', path, { id });
}

/**
 * Checks the value of a key that every entry may have, such as its status.
 * @returns whether the key is one of those.
 */
export function checkReserved(key: string, values: JsonObject, find: Find): boolean {
  const check = checks.get(key);
  check?.(values, find);
  return check !== undefined;
}

type CheckReserved = (values: JsonObject, find: Find) => void;

const checkNothing: CheckReserved = () => {};

const checksByName: Readonly<Record<(typeof reservedNames)[number], CheckReserved>> = {
  // Taken from where the entry lies if they are not said: a mistake in them is told of the entry.
  id: checkNothing,
  type: checkNothing,
  status: checkStatus,
  created: ({ created }, find) => checkTime('created', created, find),
  changed: ({ changed }, find) => checkTime('changed', changed, find),
  publicFrom: ({ publicFrom }, find) => checkTime('publicFrom', publicFrom, find),
  publicUntil: ({ publicFrom, publicUntil }, find) => {
    checkTime('publicUntil', publicUntil, find);
    checkWindow(publicFrom, publicUntil, find);
  },
};

const checks: ReadonlyMap<string, CheckReserved> = new Map(Object.entries(checksByName));

function checkStatus({ status }: JsonObject, find: Find): void {
  if (statuses.some((one) => one === status)) return;
  find('unknown-status', ['status'], { status: status ?? null, near: nearest(String(status), statuses) });
}

function checkTime(name: string, time: Json | undefined, find: Find): void {
  if (time === undefined || isEmpty(time) || isTime(time)) return;
  find('malformed-time', [name], { time });
}

/** When an entry starts and stops being public, where both are said: not the wrong way round. */
function checkWindow(from: Json | undefined, until: Json | undefined, find: Find): void {
  if (!isTime(from) || !isTime(until) || Date.parse(from) < Date.parse(until)) return;
  find('window-reversed', ['publicUntil'], { from, until });
}

/** RFC 3339, section 5.6: a date-time with its offset, or a full date alone. */
const isTime = (value: Json | undefined): value is string =>
  typeof value === 'string' &&
  /^\d{4}-(?:0[1-9]|1[0-2])-(?:0[1-9]|[12]\d|3[01])(?:[Tt ](?:[01]\d|2[0-3]):[0-5]\d:(?:[0-5]\d|60)(?:\.\d+)?(?:[Zz]|[+-]\d{2}:\d{2}))?$/u.test(
    value,
  );
