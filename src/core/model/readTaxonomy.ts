import { idRule, isId } from '../definition/address.ts';
import type { Branch, TaxonomyDoc, TermDoc } from '../definition/taxonomy.ts';
import { ContentTermsFile, TaxonomyFile, TermEntry } from '../definition/taxonomy.ts';
import { compact, isList, type Json, type JsonObject, ownValue, type Path } from '../plain/json.ts';
import { didYouMean } from '../plain/nearest.ts';
import { capital, count, quote } from '../plain/words.ts';
import type { ContentTerms } from '../taxonomy/linkTaxonomy.ts';
import { type Mistake, parseWith } from './mistakes.ts';
import type { ParsedFile, Parts } from './parsedDefinition.ts';
import { readHead } from './readHead.ts';

/** The content of a taxonomy's file, with every mistake in it. */
export function readTaxonomy(data: JsonObject): ParsedFile {
  const head = readHead(TaxonomyFile, data, 'taxonomy', 'a taxonomy');
  const read = readTerms(ownValue(data, 'terms') ?? null);
  const mistakes = [...head.mistakes, ...read.mistakes];
  if (head.name === undefined) return { mistakes };

  const { $schema: _, taxonomy: __, terms: ___, ...ownOptions } = head.options ?? { taxonomy: '' };
  const options = compact(ownOptions as Readonly<Record<string, Json | undefined>>);

  const inFile = ([part, term, ...rest]: Path): Path => {
    const place = part === 'terms' ? read.places.get(String(term)) : undefined;
    if (place) return [...place, ...rest];
    if (part === undefined || part === 'tree') return ['terms'];
    return [part];
  };

  return {
    found: {
      what: 'taxonomy',
      name: head.name,
      definition: { ...options, terms: Object.fromEntries(read.terms), tree: read.tree },
      inFile,
    },
    mistakes,
  };
}

interface ReadTerms {
  readonly terms: Map<string, TermDoc>;
  readonly tree: readonly Branch[];
  /** Where each term is in the file. */
  readonly places: Map<string, Path>;
  /** Where terms stand too that stand first elsewhere. */
  readonly others: { readonly term: string; readonly path: Path }[];
  readonly mistakes: Mistake[];
}

const deepestTerm = 32;

function readTerms(data: Json): ReadTerms {
  const read = {
    terms: new Map<string, TermDoc>(),
    places: new Map<string, Path>(),
    others: [] as { term: string; path: Path }[],
    mistakes: [] as Mistake[],
  };
  const tree = readBranches(data, ['terms'], read);
  for (const { term, path } of read.others)
    if (!read.terms.has(term))
      read.mistakes.push({
        path,
        says: `there is no term \`${term}\` that could stand here too`,
        mend: didYouMean(term, read.terms.keys()) ?? 'Name a term that stands elsewhere in the taxonomy.',
      });

  return { ...read, tree };
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
  if ('problem' in parsed) {
    read.mistakes.push(...parsed.problem.map((mistake) => ({ ...mistake, path: [...path, ...mistake.path] })));
    return [];
  }
  if (typeof parsed.value !== 'string' && 'also' in parsed.value) {
    read.others.push({ term: parsed.value.also, path: [...path, 'also'] });
    return [{ term: parsed.value.also, also: true }];
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
      mend: 'Give one of the two another identifier, or write `also: …` where it stands too.',
    });
    return [];
  }

  read.terms.set(term, compact(options as Readonly<Record<string, Json | undefined>>) as TermDoc);
  read.places.set(term, path);
  const below = readBranches(terms ?? null, [...path, 'terms'], read);

  return [below.length > 0 ? { term, terms: below } : { term }];
}

/** The content of a file of terms, with the name of its taxonomy. */
export function readContentTerms(data: JsonObject): {
  readonly name?: string;
  readonly content: ContentTerms;
  readonly mistakes: readonly Mistake[];
} {
  const head = readHead(ContentTermsFile, data, 'taxonomy', 'a file of terms');
  const { terms, tree, mistakes } = readTerms(ownValue(data, 'terms') ?? null);
  return compact({
    name: head.name,
    content: { terms: Object.fromEntries(terms), tree },
    mistakes: [...head.mistakes, ...mistakes],
  });
}

/** Reads what a taxonomy's file says below its name. */
export function readTaxonomyParts(data: Json): Parts<TaxonomyDoc> {
  const { found: definition, mistakes } = readTaxonomy({ ...Object(data), taxonomy: 'a' });
  if (definition?.what === 'taxonomy' && mistakes.length === 0) return { value: definition.definition };
  return { problem: mistakes };
}
