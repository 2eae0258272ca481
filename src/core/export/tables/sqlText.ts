import type { Cell } from './table.ts';

/** Names that PostgreSQL keeps for itself (its manual, appendix C). */
const reserved = new Set(
  `all analyse analyze and any array as asc asymmetric authorization between bigint binary bit boolean both case cast
  char character check coalesce collate collation column concurrently constraint create cross current_catalog
  current_date current_role current_schema current_time current_timestamp current_user dec decimal default deferrable
  desc distinct do else end except exists extract false fetch float for foreign freeze from full grant greatest group
  grouping having ilike in initially inner inout int integer intersect interval into is isnull join lateral leading
  least left like limit localtime localtimestamp national natural nchar none normalize not notnull null nullif numeric
  offset on only or order out outer overlaps overlay placing position precision primary real references returning right
  row select session_user setof similar smallint some substring symmetric system_user table tablesample then time
  timestamp to trailing treat trim true union unique user using values varchar variadic verbose when where window with
  xmlattributes xmlconcat xmlelement xmlexists xmlforest xmlnamespaces xmlparse xmlpi xmlroot xmlserialize xmltable`.split(
    /\s+/u,
  ),
);

/** The longest name, in bytes of UTF-8. */
const longestName = 63;

/** A name as it is in a statement. */
export const nameText = (name: string): string => {
  if (/^[a-z_][a-z0-9_]*$/u.test(name) && !reserved.has(name)) return name;
  return `"${name.replaceAll('"', '""')}"`;
};

/** Names in SQL, separated by commas. */
export const namesText = (names: readonly string[]): string => names.map(nameText).join(', ');

/** A text as it is in a statement: without anything that a setting of the server could read otherwise. */
export const textLiteral = (text: string): string => `'${text.replaceAll("'", "''")}'`;

/** A value as it is in a statement. */
export function cellText(cell: Cell): string {
  if (cell === null) return 'null';
  if (typeof cell === 'string') return textLiteral(cell);
  if (typeof cell === 'object') return textLiteral(JSON.stringify(cell.json));
  return String(cell);
}

/** A name in the way of databases: `firstLit` as first_lit. */
export const snake = (name: string): string =>
  name
    .replace(/([\p{Ll}\d])(\p{Lu})/gu, '$1_$2')
    .replace(/(\p{Lu})(\p{Lu}\p{Ll})/gu, '$1_$2')
    .replace(/[^\p{L}\p{N}_]+/gu, '_')
    .toLowerCase();

/** Gives unique names. */
export class Names {
  readonly #taken = new Set<string>();

  of(wantedName: string): string {
    for (let number = 1; ; number += 1) {
      const end = number === 1 ? '' : `_${number}`;
      const name = `${fitting(wantedName, longestName - end.length)}${end}`;
      if (this.#taken.has(name)) continue;
      this.#taken.add(name);
      return name;
    }
  }
}

/** As much of a name as so many bytes hold. */
function fitting(name: string, bytes: number): string {
  let [text, size] = ['', 0];
  for (const sign of name) {
    size += new TextEncoder().encode(sign).length;
    if (size > bytes) break;
    text += sign;
  }

  return text;
}
