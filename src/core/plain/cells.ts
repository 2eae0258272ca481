import { isList, isObject, type Json } from './json.ts';

/** The text between the items of a list in a cell, by default in a table with commas. */
export const listSeparator = '; ';

/** The text of a cell that stands for a value. */
export function cellOf(value: Json | undefined, separator: string): string {
  if (value === undefined || value === null) return '';
  if (isList(value)) {
    const items = value.map((item) => (isObject(item) || isList(item) ? undefined : String(item ?? '')));
    const mark = separator.trim() === '' ? separator : separator.trim();
    const isPlain =
      !/^[[{]/u.test(items[0] ?? '') &&
      items.every((item) => item !== undefined && item.trim() === item && item !== '' && !item.includes(mark));

    if (isPlain && items.length > 0) return items.join(separator);
    return JSON.stringify(value);
  }
  if (isObject(value)) return JSON.stringify(value);
  return String(value);
}

/** Whether a spreadsheet would compute a cell when it opens the table. Numbers with a sign are numbers. */
export const isFormula = (cell: string): boolean =>
  /^[=+\-@\t\r]/u.test(cell) && !/^[+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?$/iu.test(cell);

/** A cell as it is written: in quotes where it was, or has to be. */
export const written = (text: string, delimiter: string, isQuoted: boolean): string => {
  if (isQuoted || text.includes(delimiter) || /["\r\n]|^\s|\s$/u.test(text)) return `"${text.replaceAll('"', '""')}"`;
  return text;
};
