import { parse } from 'csv-parse/browser/esm/sync';
import { isId } from '../definition/address.ts';
import { compact } from '../plain/json.ts';
import { didYouMean } from '../plain/nearest.ts';
import type { Outcome } from '../plain/outcome.ts';
import { slugify } from '../plain/slugify.ts';
import { humanize, list, quote } from '../plain/words.ts';

/** A term that somebody wants to add, with the term that it should stand under. */
export interface WantedTerm {
  readonly term: string;
  readonly label?: string | Readonly<Record<string, string>>;
  readonly about?: string;
  readonly synonyms?: readonly string[];
  readonly under?: string;
  /** Where it is in the list: the line, counted from 1. */
  readonly line: number;
}

/** Why a list cannot be read. */
interface ListProblem {
  readonly says: string;
  readonly mend: string;
  readonly line: number;
}

/** The terms of a list, or the problem of the list. */
export type ReadList = Outcome<readonly WantedTerm[], ListProblem>;

/**
 * Reads a plain list: a term on each line, indented below the term that it stands under. A line is a label, or an
 * identifier and a label as `holm-bay: Holm Bay`.
 */
export function readPlainList(text: string): ReadList {
  const data = dataIn(text);
  if (data !== undefined) return { problem: data };

  const terms: WantedTerm[] = [];
  const above: { readonly indent: number; readonly term: string }[] = [];
  for (const [index, raw] of text.split(/\r?\n/u).entries()) {
    const line = index + 1;
    if (raw.trim() === '' || raw.trimStart().startsWith('#')) continue;

    const indent = raw.search(/\S/u);
    const content = raw.trim().replace(/^[-*•]\s+/u, '');
    const [, identifier, rest] = /^([a-z0-9-]+):\s+(.+)$/u.exec(content) ?? [];
    const label = rest ?? content;
    const term = identifier ?? slugify(label);
    if (!isId(term)) return { problem: unfit(label, line) };

    while ((above.at(-1)?.indent ?? -1) >= indent) above.pop();
    const under = above.at(-1)?.term;
    terms.push(
      compact({
        term,
        label: goesWithoutSaying(label, term) ? undefined : label,
        under,
        line,
      }),
    );
    above.push({ indent, term });
  }

  return { value: terms };
}

/** That a text holds data or markup and no list: its content would be treated as terms. */
function dataIn(text: string): ListProblem | undefined {
  const start = text.trimStart();
  const line = text.slice(0, text.length - start.length).split('\n').length;
  if (!/^(?:[{[<]|---\s|@prefix|%YAML)/u.test(start)) return undefined;
  return {
    says: 'holds data and no list of words',
    mend: 'Write a term on each line, or a table in a .csv file.',
    line,
  };
}

const columns = ['term', 'label', 'about', 'synonyms', 'under', 'path'] as const;

/**
 * Reads a table (RFC 4180; comma, semicolon or tabulator) whose first row names its columns: `term`, `label`, `label:fr`, `about`,
 * `synonyms` (with `|` between), and `under` or `path` (Coast / North / Skerries, with `/` or `>` between). `term`, `label` or
 * `path` is needed.
 */
export function readTable(text: string, languages: readonly string[]): ReadList {
  const [head = ''] = text.replace(/^\uFEFF/u, '').split('\n', 1);
  let rows: readonly (readonly string[])[];

  try {
    rows = parse(text, {
      bom: true,
      delimiter: [';', '\t'].find((sign) => head.includes(sign) && !head.includes(',')) ?? ',',
      trim: true,
      skip_empty_lines: true,
      relax_column_count: true,
    });
  } catch (error) {
    const line = Number(/line (\d+)/u.exec(String(error))?.[1] ?? 1);
    return { problem: { says: 'is no table of comma-separated values', mend: 'Close the quotes.', line } };
  }

  const [names = [], ...body] = rows;
  const wrong = columnMistake(names, languages);
  if (wrong) return { problem: { ...wrong, line: 1 } };

  const terms: WantedTerm[] = [];
  const listed = new Set(body.flatMap((row) => placesAbove(row[names.indexOf('path')] ?? '').at(-1)?.term ?? []));
  for (const [index, row] of body.entries()) {
    const cells = new Map(names.map((name, index) => [name, row[index] ?? '']));
    const above = placesAbove(cells.get('path') ?? '');
    const read = rowTerm(withPath(cells, above), index + 2, languages);
    if ('problem' in read) return read;

    // What a path leads through is there as well, written down or not.
    for (const [position, { term, label }] of above.slice(0, -1).entries())
      if (!listed.has(term)) {
        listed.add(term);
        const under = above[position - 1]?.term;
        terms.push(
          compact({
            term,
            label: goesWithoutSaying(label, term) ? undefined : label,
            under,
            line: index + 2,
          }),
        );
      }

    terms.push(read.value);
  }

  return { value: terms };
}

/** What is wrong with the columns of a table of terms. */
function columnMistake(
  names: readonly string[],
  languages: readonly string[],
): { readonly says: string; readonly mend: string } | undefined {
  const knownColumns = [...columns, ...languages.map((language) => `label:${language}`)];
  const unknown = names.find((name) => !knownColumns.includes(name));
  if (unknown !== undefined)
    return {
      says: `has a column ${quote(unknown)}`,
      mend: didYouMean(unknown, knownColumns) ?? `Name the columns ${list(knownColumns)}.`,
    };

  const isNaming = names.some((name) => name === 'term' || name === 'path' || name.startsWith('label'));
  if (isNaming) return undefined;
  return { says: 'has no column `term`, `label` or `path`', mend: 'Name the columns in the first row.' };
}

/** The terms that a path leads through, the last one being the term itself. */
const placesAbove = (path: string): readonly { readonly term: string; readonly label: string }[] =>
  path
    .split(/[/>]/u)
    .map((part) => part.trim())
    .filter(Boolean)
    .map((label) => ({ term: slugify(label), label }));

/** Cells with what their path says of the term, where they do not say it themselves. */
function withPath(
  cells: ReadonlyMap<string, string>,
  above: ReturnType<typeof placesAbove>,
): ReadonlyMap<string, string> {
  const parent = above.at(-1);
  if (!parent) return cells;

  const isSaid = [...cells].some(([name, cell]) => (name === 'term' || name.startsWith('label')) && cell !== '');
  return new Map([
    ...cells,
    ['under', above.at(-2)?.term ?? ''],
    ...(isSaid ? [] : [['label', parent.label] as const]),
  ]);
}

function rowTerm(
  cells: ReadonlyMap<string, string>,
  line: number,
  languages: readonly string[],
): Outcome<WantedTerm, ListProblem> {
  const cell = (name: string): string => cells.get(name) ?? '';
  const labels = languages.flatMap((language) => {
    const label = cell(`label:${language}`) || (language === languages[0] ? cell('label') : '');
    if (label === '') return [];
    return [[language, label] as const];
  });
  const [first] = labels;
  const term = cell('term') || slugify(first?.[1] ?? '');
  if (!isId(term)) return { problem: unfit(cell('term') || (first?.[1] ?? ''), line) };

  const label = labels.length > 1 ? Object.fromEntries(labels) : first?.[1];
  const synonyms = cell('synonyms')
    .split('|')
    .map((part) => part.trim())
    .filter(Boolean);

  return {
    value: compact({
      term,
      label: label === undefined || goesWithoutSaying(label, term) ? undefined : label,
      about: cell('about') === '' ? undefined : cell('about'),
      synonyms: synonyms.length > 0 ? synonyms : undefined,
      under: cell('under') === '' ? undefined : cell('under'),
      line,
    }),
  };
}

/** Whether a label is what the identifier says in words anyway. */
const goesWithoutSaying = (label: WantedTerm['label'], term: string): boolean =>
  label === term || label === humanize(term);

const unfit = (text: string, line: number): ListProblem => ({
  says: text === '' ? 'has a row without a term' : `has ${quote(text)}, of which no identifier can be made`,
  mend: 'Give it one: small letters, digits and single hyphens.',
  line,
});
