import { clockReader } from './clock.ts';
import { digitStyles, namedMonthStyles } from './days.ts';
import type { ReadText, WritingStyle } from './style.ts';

const isoDay: ReadText = (text) => (/^\d{4}-\d{2}-\d{2}$/u.test(text) ? text : undefined);

/** A day, and a time behind a blank, a comma or a dash. */
const shape = /^(.*?\d{2})(?:,\s*|\s+[-–]\s+|\s+)(\d{1,2}(?:[:.h]\d{2})?(?:[:.]\d{2})?\s*(?:\p{L}[\p{L}.\s]*)?)$/u;

/** Days with a time behind them, for fields that keep no distance to UTC: nobody wrote one. */
export const dayWithTimeStyles: readonly WritingStyle[] = [...digitStyles, ...namedMonthStyles].map((day) => ({
  ...day,
  kinds: ['dateTime'],
  reader: (target, readNumber) => {
    const isLocal = target.options.offset === 'none' || target.options.offset === 'optional';
    if (!isLocal) return undefined;
    const readDay = day.reader({ ...target, kind: 'date' }, readNumber);
    const readClock = clockReader(target.languages);
    return (text) => {
      const [, written = '', clock = ''] = shape.exec(text) ?? [];
      const [date, time] = [
        readDay?.(written) ?? (day.name === 'year-first' ? isoDay(written) : undefined),
        readClock(clock),
      ];
      return date === undefined || time === undefined
        ? undefined
        : `${date}T${time}${String(time).length === 5 ? ':00' : ''}`;
    };
  },
}));
