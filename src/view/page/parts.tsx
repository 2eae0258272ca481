import { h, type Result } from 'hastscript';
import { isList, isObject, type Json } from '../../core/plain/json.ts';
import { groupThousands } from '../../core/plain/words.ts';
import { percent } from '../usageWords.ts';

/** What is written as HTML: a tree in which a text is never markup. */
export type Node = Result;
/** What may stand inside of something: nothing as well. */
export type Child = string | number | Node | undefined;

/** Some things one after the other. */
export const joined = (...children: readonly Child[]): Node => h(null, [...children]);

/** The fragment that something of the model stands under: of any name, and as no other. */
export const idOf = (category: 'type' | 'field' | 'shared' | 'taxonomy', name: string): string =>
  `${category}:${encodeURIComponent(name)}`;

/** A link to something else on the page. */
export const to = (id: string, children: Child): Node => <a href={`#${id}`}>{children}</a>;

/** Something that can be typed again: an address, a command, a file. */
export const typed = (text: string): Node => <code dir="ltr">{text}</code>;

/** Words of the model's own, in any direction of reading. */
export const words = (text: string): Node => <bdi>{text}</bdi>;

/** Text a line lower, and is read second. */
export const small = (...children: readonly Child[]): Node => <small>{joined(...children)}</small>;

export const quoted = (value: Json): Node => <q>{cut(sayJson(value))}</q>;

/** What is made of a value, where there is one. */
export const ifGiven = <T,>(value: T | undefined, make: (value: T) => Child): Child => {
  if (value === undefined) return undefined;
  return make(value);
};

/** The same of some things, where there are any. */
export const madeOfAny = <L extends readonly unknown[]>(items: L, make: (items: L) => Child): Child => {
  if (items.length === 0) return undefined;
  return make(items);
};

/** A bar of some length out of twenty, never empty where there is anything. */
export const bar = (part: number, total: number): Node => (
  <span class="bar" aria-hidden="true">
    <span class={`w${part > 0 && total > 0 ? Math.max(1, Math.round((20 * part) / total)) : 0}`} />
  </span>
);

/** A share as a bar, with the number that says the same. */
export const share = (part: number, total: number): Node => (
  <span class="share">
    {bar(part, total)}
    {total === 0 ? 'nothing to count' : percent(part, total)}
  </span>
);

export const number = (count: number, singular: string, many = `${singular}s`): Node =>
  joined(<b>{groupThousands(count)}</b>, ` ${count === 1 ? singular : many}`);

/** A rating with its own sign: no colour says anything alone. */
export const rated = (rating: 'good' | 'warn' | 'bad', text: string): Node => <span class={rating}>{text}</span>;

/** Things one after the other, with commas between them. */
export const listed = (items: readonly Child[]): Node =>
  joined(...items.flatMap((item, index) => (index === 0 ? [item] : [', ', item])));

interface Row {
  /** Where a link to it leads. */
  readonly id?: string;
  /** How deep it stands inside of others. */
  readonly depth?: number;
  readonly cells: readonly Child[];
}

interface TableParts {
  readonly caption: string;
  readonly titles: readonly string[];
  readonly rows: readonly Row[];
}

/**
 * A table with titles, which becomes cards where there is little room: each cell knows its title. A column in which nothing
 * stands is left out.
 */
export function table({ caption, titles, rows }: TableParts): Node {
  const shown = titles.flatMap((title, index) =>
    rows.some(({ cells }) => !isEmpty(cells[index])) ? [{ title, index }] : [],
  );
  return (
    <table>
      <caption>{caption}</caption>
      <thead>
        <tr>
          {shown.map(({ title }) => (
            <th scope="col">{title}</th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map(({ id, depth = 0, cells }) => (
          <tr id={id} class={depth > 0 ? `depth${Math.min(depth, 3)}` : undefined} data-find="">
            {shown.map(({ title, index }) =>
              index === 0 ? <th scope="row">{cells[index]}</th> : <td data-title={title}>{cells[index]}</td>,
            )}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** Whether nothing would be seen of something. */
const isEmpty = (child: Child): boolean =>
  child === undefined ||
  child === '' ||
  (typeof child === 'object' && child.type === 'root' && child.children.length === 0);

/** A value as a person reads it: a text as it is, what is in a list or an object in few signs. */
export function sayJson(value: Json | undefined): string {
  if (value === undefined) return 'nothing';
  if (typeof value === 'string') return value === '' ? '""' : value;
  if (isList(value)) return `[${value.map((item) => sayJson(item)).join(', ')}]`;
  if (!isObject(value)) return String(value);
  return Object.entries(value)
    .map(([key, value]) => `${key}: ${sayJson(value)}`)
    .join(', ');
}

/** So much of a long text is shown. */
const longest = 240;

export const cut = (text: string): string => {
  if (text.length > longest) return `${text.slice(0, longest).trimEnd()}…`;
  return text;
};
