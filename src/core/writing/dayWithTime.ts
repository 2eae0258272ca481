import { clockReader } from './clock.ts';
import { digitStyles, namedMonthStyles } from './days.ts';
import type { ReadText, WritingStyle } from './style.ts';

const isoDay: ReadText = (text) => {
  if (/^\d{4}-\d{2}-\d{2}$/u.test(text)) return text;
  return undefined;
};

/** A day, and a time behind a blank, a comma or a dash. */
const shape = /^(.*?\d{2})(?:,\s*|\s+[-–]\s+|\s+)(\d{1,2}(?:[:.h]\d{2})?(?:[:.]\d{2})?\s*(?:\p{L}[\p{L}.\s]*)?)$/u;

/** A distance to UTC behind a time: `+02:00`, `+0200`, `+02`, `Z`, `UTC`. */
const offset = /^(.*?)\s*(?:(Z|UTC|GMT)|([+-]\d{2}):?(\d{2})?)$/u;

/** A text without its distance to UTC, and that as values have it; nothing where none is written. */
function withOffset(text: string): { readonly local: string; readonly says: string } | undefined {
  const [match, local = '', zero, hours, minutes = '00'] = offset.exec(text) ?? [];
  if (match === undefined) return undefined;
  return { local, says: zero === undefined ? `${hours}:${minutes}` : 'Z' };
}

/** Days with a time behind them. What keeps a distance to UTC needs one in the text: nobody can tell it else. */
export const dayWithTimeStyles: readonly WritingStyle[] = [...digitStyles, ...namedMonthStyles].map((day) => ({
  ...day,
  kinds: ['dateTime'],
  reader: (target, readNumber) => {
    const { offset: demand = 'required' } = target.options;
    const readDay = day.reader({ ...target, kind: 'date' }, readNumber);
    const readClock = clockReader(target.languages);

    return (text) => {
      const stated = demand === 'none' ? undefined : withOffset(text);
      if (demand === 'required' && !stated) return undefined;

      const [, written = '', clock = ''] = shape.exec(stated?.local ?? text) ?? [];
      const [date, time] = [
        readDay?.(written) ?? (day.name === 'year-first' ? isoDay(written) : undefined),
        readClock(clock),
      ];

      if (date === undefined || time === undefined) return undefined;
      return `${date}T${time}${String(time).length === 5 ? ':00' : ''}${stated?.says ?? ''}`;
    };
  },
}));
