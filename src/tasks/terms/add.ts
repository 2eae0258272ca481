import fs from 'node:fs';
import path from 'node:path';
import { compact, isObject, type Json, type JsonObject } from '../../core/plain/json.ts';
import { anySize, usualLimits } from '../../core/plain/limits.ts';
import { didYouMean } from '../../core/plain/nearest.ts';
import { slugify } from '../../core/plain/slugify.ts';
import type { Edit } from '../../core/source/editOperation.ts';
import { writeYaml } from '../../core/source/write.ts';
import { readYaml } from '../../core/source/yaml.ts';
import { readJsonList } from '../../core/taxonomy/jsonList.ts';
import { type Taxonomy, wordsFor } from '../../core/taxonomy/linkTaxonomy.ts';
import { type ReadList, readPlainList, readTable, type WantedTerm } from '../../core/taxonomy/termList.ts';
import { termsFileOf } from '../../workspace/contentTerms.ts';
import { editedText } from '../../workspace/edited.ts';
import { hashBytes, readTextIfThere, readTextOrRefuse } from '../../workspace/files.ts';
import type { Workspace } from '../../workspace/open.ts';
import { Trouble } from '../../workspace/trouble.ts';
import type { Call } from '../call.ts';
import { writing } from '../openForCall.ts';
import { writeModelFiles } from '../writeModel.ts';
import { taxonomyNamed } from './count.ts';
import { command, type TermsResult } from './result.ts';

/** Adds every term of a list or a table to a taxonomy, in its own file, and leaves all else there as it is. */
export async function addTerms(call: Call, name: string, from: string): Promise<TermsResult> {
  return writing(call, (workspace) => ({
    ...command,
    what: 'added',
    taxonomy: name,
    ...addTermList(workspace, name, from, readWanted(from, workspace.languages)),
  }));
}

type Added = Omit<Extract<TermsResult, { what: 'added' }>, 'lumbrik' | 'command' | 'what' | 'taxonomy'>;

/** @param from what the terms come from, for messages. */
export function addTermList(workspace: Workspace, name: string, from: string, terms: readonly WantedTerm[]): Added {
  const taxonomy = taxonomyNamed(workspace.model, name);
  const alreadyThere: Added['known'] = [];
  const words = wordsOf(taxonomy);
  const fresh = new Map<string, WantedTerm>();

  for (const wantedTerm of terms) {
    const labels =
      typeof wantedTerm.label === 'object' ? Object.values(wantedTerm.label) : [wantedTerm.label ?? wantedTerm.term];
    const existing = [wantedTerm.term, ...labels]
      .map((word) => words.get(slugify(word)))
      .find((name) => name !== undefined);

    if (existing !== undefined) alreadyThere.push({ term: wantedTerm.term, is: existing, line: wantedTerm.line });
    else if (fresh.has(wantedTerm.term))
      alreadyThere.push({ term: wantedTerm.term, is: wantedTerm.term, line: wantedTerm.line });
    else fresh.set(wantedTerm.term, wantedTerm);
  }

  const file = fileOf(workspace, taxonomy);
  if (fresh.size > 0) write(workspace, { taxonomy, file, terms: fresh, from, words });

  return { file, added: [...fresh.keys()], known: alreadyThere };
}

/** The terms that a list, a table or a file of JSON holds. @throws {Trouble} where it holds none of these. */
export function readWanted(from: string, languages: readonly string[]): readonly WantedTerm[] {
  if (!fs.existsSync(from))
    throw new Trouble('not-found', `there is no file ${from}`, { mend: 'Name a text file or a CSV file.' });

  const ending = path.extname(from).toLowerCase();
  if (!tables.has(ending) && !lists.has(ending) && ending !== '.json')
    throw new Trouble(
      'unusable-list',
      `${from} is neither a list nor a table: what ${ending} files hold is not known`,
      {
        mend: 'Write a term on each line of a .txt file, a table in a .csv file, or a list in a .json file.',
      },
    );

  const text = readTextOrRefuse(path.resolve(from), from, usualLimits).replace(/^\uFEFF/u, '');
  const read = readerFor(ending)(text, languages);
  if ('value' in read) return read.value;

  const { says: message, mend, line } = read.problem;
  throw new Trouble('unusable-list', `${from} ${message}`, { mend, where: { file: from, line, column: 1 } });
}

function readerFor(ending: string): (text: string, languages: readonly string[]) => ReadList {
  if (ending === '.json') return readJsonList;
  if (tables.has(ending)) return readTable;
  return readPlainList;
}

/** What files that hold terms are called: lists, a term on each line, and tables. */
const lists = new Set(['', '.txt', '.list', '.md']);
const tables = new Set(['.csv', '.tsv']);

/** Every word that means a term of the taxonomy, folded. */
function wordsOf(taxonomy: Taxonomy): ReadonlyMap<string, string> {
  const words = [...taxonomy.terms.values()].flatMap((term) =>
    wordsFor(term).map((word) => [slugify(word), term.name] as const),
  );
  return new Map(words);
}

function fileOf({ fileOf: placed }: Workspace, { name, isOpen }: Taxonomy): string {
  if (isOpen) return termsFileOf(name);
  return placed(['taxonomies', name]) ?? `model/taxonomies/${name}.yaml`;
}

/** Terms that are to be written, and where they come from and go. */
interface Fresh {
  readonly taxonomy: Taxonomy;
  /** The file that they are written to. */
  readonly file: string;
  readonly terms: ReadonlyMap<string, WantedTerm>;
  /** The file that lists them. */
  readonly from: string;
  /** Every word that means a term which is there. */
  readonly words: ReadonlyMap<string, string>;
}

function write({ root, limits }: Workspace, { taxonomy, file, terms: fresh, from, words }: Fresh): void {
  const text = readTextIfThere(path.join(root, file), file, limits);
  const before = text === undefined || text.trim() === '' ? writeYaml({ taxonomy: taxonomy.name }) : text;
  const places = placesOf(before);
  const under = new Map<string | undefined, WantedTerm[]>();

  for (const wantedTerm of fresh.values()) {
    const newParent = wantedTerm.under !== undefined && fresh.has(wantedTerm.under) ? wantedTerm.under : undefined;
    const parent = newParent ?? (wantedTerm.under === undefined ? undefined : words.get(slugify(wantedTerm.under)));
    if (wantedTerm.under !== undefined && (parent === undefined || (!fresh.has(parent) && !places.has(parent))))
      throw new Trouble(
        'unusable-list',
        `${from} puts ${wantedTerm.term} under \`${wantedTerm.under}\`, and ${file} has no such term`,
        {
          mend: didYouMean(wantedTerm.under, [...fresh.keys(), ...places.keys()]) ?? 'Add that term first.',
          where: { file: from, line: wantedTerm.line, column: 1 },
        },
      );

    const siblings = under.get(parent);
    if (siblings) siblings.push(wantedTerm);
    else under.set(parent, [wantedTerm]);
  }

  const grown = (wantedTerm: WantedTerm): Json => {
    const { term, label, about, synonyms } = wantedTerm;
    const below = (under.get(term) ?? []).map(grown);
    if (label === undefined && about === undefined && synonyms === undefined && below.length === 0) return term;
    return compact({
      term,
      label,
      about,
      synonyms,
      terms: below.length > 0 ? below : undefined,
    });
  };

  // From the end of the file upwards, so that places found before an edit are right after it too.
  const edits = [...under]
    .filter(([parent]) => parent === undefined || !fresh.has(parent))
    .map(([parent, terms]) => ({
      path: parent === undefined ? [] : (places.get(parent) ?? []),
      terms: terms.map(grown),
    }))
    .sort((a, b) => b.path.length - a.path.length)
    .flatMap(({ path: place, terms }) => editsAt(place, terms, before));
  const read = text === undefined ? null : hashBytes(text);
  writeModelFiles(root, [{ file, text: editedText(file, before, edits), from: read }]);
}

function editsAt(place: readonly (string | number)[], items: readonly Json[], text: string): readonly Edit[] {
  const reading = readYaml(text, anySize);
  const data = 'value' in reading ? reading.value.data : null;
  const parent = place.reduce<Json | undefined>(
    (holder, part) =>
      holder !== null && typeof holder === 'object' ? (holder as JsonObject)[String(part)] : undefined,
    data,
  );
  // A term that is an identifier alone becomes one with terms below it.
  if (typeof parent === 'string') return [{ do: 'set', path: place, value: { term: parent, terms: items } }];
  return [{ do: 'append', path: [...place, 'terms'], items }];
}

/** Where each term is in the data of a file. */
function placesOf(text: string): ReadonlyMap<string, readonly (string | number)[]> {
  const reading = readYaml(text, anySize);
  const places = new Map<string, readonly (string | number)[]>();

  const walk = (terms: Json | undefined, path: readonly (string | number)[]): void => {
    if (!Array.isArray(terms)) return;
    terms.forEach((item: Json, index) => {
      const innerPath = [...path, 'terms', index];
      if (typeof item === 'string') places.set(item, innerPath);
      else if (isObject(item) && typeof item.term === 'string') {
        places.set(item.term, innerPath);
        walk(item.terms, innerPath);
      }
    });
  };

  if ('value' in reading && isObject(reading.value.data)) walk(reading.value.data.terms, []);

  return places;
}
