import { isDay } from './calendar.ts';
import type { Json } from './json.ts';

const time = /^[Tt ](?:[01]\d|2[0-3]):[0-5]\d:(?:[0-5]\d|60)(?:\.\d+)?(?:[Zz]|[+-](?:[01]\d|2[0-3]):[0-5]\d)$/u;

/**
 * Whether a value is one moment, the same everywhere (RFC 3339, section 5.6): a date-time with its offset, or a full date
 * alone, on a day that the calendar has.
 */
export const isMoment = (value: Json | undefined): value is string =>
  typeof value === 'string' && isDay(value.slice(0, 10)) && (value.length === 10 || time.test(value.slice(10)));

/** Milliseconds since 1970. A leap second counts as the one before it, which programs know. */
export const instantOf = (moment: string): number =>
  Date.parse(moment.replace(/:60(?=[.Zz+-])/u, ':59').replace(' ', 'T'));
