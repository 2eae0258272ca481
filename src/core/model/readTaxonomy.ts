import { isList, type Json, type JsonObject, own, type Path } from '../json.ts';
import { capital, count, quote } from '../words.ts';
import { idRule, isId } from './address.ts';
import { type Branch, type TaxonomyDoc, TaxonomyFile, type TermDoc, TermEntry } from './document.ts';
import type { Parts, ReadFile } from './found.ts';
import { type Mistake, parseWith } from './mistakes.ts';
import { readHead } from './readHead.ts';

/** What was read of a taxonomy's file, with every mistake in it. */
export function readTaxonomy(data: JsonObject): ReadFile {
  const head = readHead(TaxonomyFile, data, 'taxonomy', 'a taxonomy');
  const read = readTerms(own(data, 'terms') ?? null);
  const mistakes = [...head.mistakes, ...read.mistakes];
  if (head.name === undefined) return { mistakes };
  const { $schema: _, taxonomy: __, terms: ___, ...options } = head.options ?? { taxonomy: '' };
  const inFile = ([part, term, ...rest]: Path): Path => {
    const place = part === 'terms' ? read.places.get(String(term)) : undefined;
    return place ? [...place, ...rest] : part === undefined || part === 'tree' ? ['terms'] : [part];
  };
  return {
    found: {
      what: 'taxonomy',
      name: head.name,
      form: { ...options, terms: Object.fromEntries(read.terms), tree: read.tree },
      inFile,
    },
    mistakes,
  };
}

interface ReadTerms {
  readonly terms: Map<string, TermDoc>;
  readonly tree: readonly Branch[];
  /** Where each term stands in the file. */
  readonly places: Map<string, Path>;
  readonly mistakes: Mistake[];
}

const deepestTerm = 32;

function readTerms(data: Json): ReadTerms {
  const read = { terms: new Map<string, TermDoc>(), places: new Map<string, Path>(), mistakes: [] as Mistake[] };
  return { ...read, tree: readBranches(data, ['terms'], read) };
}

function readBranches(data: Json, path: Path, read: Omit<ReadTerms, 'tree'>): readonly Branch[] {
  if (data === null) return [];
  if (!isList(data)) {
    read.mistakes.push({
      path,
      says: '`terms` is no list',
      mend: 'Write each term on a line of its own: `- { term: north, label: North }`.',
    });
    return [];
  }
  if (path.length > 2 * deepestTerm) {
    read.mistakes.push({
      path,
      says: `terms are nested more than ${count(deepestTerm, 'level')} deep`,
      mend: 'Make the hierarchy flatter.',
    });
    return [];
  }
  return data.flatMap((item, index) => readBranch(item, [...path, index], read));
}

function readBranch(data: Json, path: Path, read: Omit<ReadTerms, 'tree'>): readonly Branch[] {
  const parsed = parseWith(TermEntry, data, 'a term');
  if ('mistakes' in parsed) {
    read.mistakes.push(...parsed.mistakes.map((mistake) => ({ ...mistake, path: [...path, ...mistake.path] })));
    return [];
  }
  const { term, terms, ...options } =
    typeof parsed.value === 'string' ? { term: parsed.value, terms: undefined } : parsed.value;
  if (!isId(term)) {
    read.mistakes.push({ path, says: `${quote(term)} is no identifier of a term`, mend: `${capital(idRule)}.` });
    return [];
  }
  if (read.terms.has(term)) {
    read.mistakes.push({
      path,
      says: `the term \`${term}\` stands twice`,
      mend: 'Give one of the two another identifier.',
    });
    return [];
  }
  read.terms.set(term, options);
  read.places.set(term, path);
  const below = readBranches(terms ?? null, [...path, 'terms'], read);
  return [below.length > 0 ? { term, terms: below } : { term }];
}

/** Reads what a taxonomy's file says below its name. */
export function readTaxonomyParts(data: Json): Parts<TaxonomyDoc> {
  const { found, mistakes } = readTaxonomy({ ...Object(data), taxonomy: 'a' });
  return found?.what === 'taxonomy' && mistakes.length === 0 ? { value: found.form } : { mistakes };
}
