import { isId } from '../definition/address.ts';
import { compact, isList, isObject, type Json, type JsonObject } from '../plain/json.ts';
import { slugify } from '../plain/slugify.ts';
import { humanize, quote } from '../plain/words.ts';
import type { ReadList, WantedTerm } from './termList.ts';

/** The keys under which other programs keep what we call otherwise. */
const keys = {
  term: ['term', 'id', 'key', 'slug'],
  label: ['label', 'name', 'title', 'text'],
  about: ['about', 'description', 'definition'],
  synonyms: ['synonyms', 'altLabels', 'aliases'],
  below: ['terms', 'children', 'narrower', 'items'],
} as const;

/**
 * Reads terms in JSON: a list of words, or of groups with an identifier, a label and those below (`terms`, `children`); or a
 * map of identifiers to these.
 */
export function readJsonList(text: string): ReadList {
  let data: Json;
  try {
    data = JSON.parse(text) as Json;
  } catch (error) {
    return {
      problem: {
        says: `is no JSON: ${error instanceof Error ? error.message : error}`,
        mend: 'Correct it there.',
        line: 1,
      },
    };
  }

  const terms: WantedTerm[] = [];
  const problem = takeAll(data, undefined, terms, 0);

  if (problem === undefined) return { value: terms };
  return {
    problem: {
      says: problem,
      mend: 'Write a list of words, or of groups such as { "term": …, "label": …, "terms": [ … ] }.',
      line: 1,
    },
  };
}

const deepest = 32;

/** @returns the value that cannot become a term. */
function takeAll(data: Json, under: string | undefined, terms: WantedTerm[], depth: number): string | undefined {
  if (depth > deepest) return `is nested more than ${deepest} deep`;

  const items: readonly Json[] | undefined = isList(data) ? data : undefined;
  const named = isObject(data) ? Object.entries(data).map(([term, value]) => withName(term, value)) : items;
  if (!named) return `holds ${quote(JSON.stringify(data))} where terms are expected`;

  for (const item of named) {
    const problem = take(typeof item === 'string' ? { label: item } : item, under, terms, depth);
    if (problem !== undefined) return problem;
  }

  return undefined;
}

function withName(term: string, value: Json): Json {
  if (typeof value === 'string') return { term, label: value };
  if (isList(value)) return { term, terms: value };
  if (isObject(value)) return { term, ...value };
  return { term };
}

function take(item: Json, under: string | undefined, terms: WantedTerm[], depth: number): string | undefined {
  if (!isObject(item)) return `holds ${quote(JSON.stringify(item))} where a term is expected`;

  const label = wordsOf(first(item, keys.label));
  const name = first(item, keys.term);
  const main = typeof label === 'object' ? Object.values(label)[0] : label;
  const term = typeof name === 'string' || typeof name === 'number' ? String(name) : slugify(main ?? '');
  if (!isId(term)) return `has ${quote(JSON.stringify(item))}, of which no identifier can be made`;

  const about = first(item, keys.about);
  const synonyms = first(item, keys.synonyms);
  const words = isList(synonyms) ? synonyms.filter((synonym) => typeof synonym === 'string') : [];
  terms.push(
    compact({
      term,
      label: label === undefined || label === term || label === humanize(term) ? undefined : label,
      about: typeof about === 'string' && about !== '' ? about : undefined,
      synonyms: words.length > 0 ? words : undefined,
      under,
      line: 1,
    }),
  );
  const below = first(item, keys.below);

  if (below === undefined || below === null) return undefined;
  return takeAll(below, term, terms, depth + 1);
}

const first = (item: JsonObject, names: readonly string[]): Json | undefined =>
  names.map((name) => item[name]).find((value) => value !== undefined);

function wordsOf(value: Json | undefined): string | Readonly<Record<string, string>> | undefined {
  if (typeof value === 'string') return value === '' ? undefined : value;
  if (!isObject(value)) return undefined;
  const texts = Object.entries(value).filter(
    (pair): pair is [string, string] => typeof pair[1] === 'string' && pair[1] !== '',
  );

  if (texts.length > 0) return Object.fromEntries(texts);
  return undefined;
}
