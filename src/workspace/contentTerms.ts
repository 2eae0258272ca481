import fs from 'node:fs';
import path from 'node:path';
import type { ModelDoc } from '../core/definition/model.ts';
import type { Mistake } from '../core/model/mistakes.ts';
import type { ModelFile } from '../core/model/read.ts';
import { readContentTerms } from '../core/model/readTaxonomy.ts';
import { isObject } from '../core/plain/json.ts';
import { didYouMean } from '../core/plain/nearest.ts';
import { list } from '../core/plain/words.ts';
import type { ContentTerms } from '../core/taxonomy/linkTaxonomy.ts';

const place = 'content/';
/** How the names of files end that hold the terms of an open taxonomy. */
export const termsEnding = '.terms.yaml';

/** Whether a file below the workspace holds the terms of an open taxonomy: `content/topic.terms.yaml`. */
export const isTermsFile = (file: string): boolean =>
  file.startsWith(place) && file.endsWith(termsEnding) && !file.slice(place.length).includes('/');

/** The file that holds the terms of an open taxonomy. */
export const termsFileOf = (taxonomy: string): string => `${place}${taxonomy}${termsEnding}`;

/** The files of terms that lie at the top of the content folder. */
export function termsFilesIn(root: string): readonly string[] {
  const folder = path.join(root, place);
  if (!fs.existsSync(folder) || fs.lstatSync(folder).isSymbolicLink()) return [];
  return fs
    .readdirSync(folder)
    .map((name) => `${place}${name}`)
    .filter(isTermsFile)
    .sort();
}

/** What the terms files say, by taxonomy, and every mistake in them. */
export function contentTermsIn(
  files: readonly ModelFile[],
  { taxonomies }: ModelDoc,
): {
  readonly terms: ReadonlyMap<string, ContentTerms>;
  readonly mistakes: readonly (Mistake & { readonly file: string })[];
} {
  const terms = new Map<string, ContentTerms>();
  const mistakes: (Mistake & { readonly file: string })[] = [];
  for (const { file, source } of files) {
    const { data } = source;
    if (data === null) continue;
    if (!isObject(data)) {
      mistakes.push({ file, path: [], says: 'the file holds no keys', mend: 'Start it with `taxonomy: aName`.' });
      continue;
    }

    const { name, content, mistakes: inFile } = readContentTerms(data);
    mistakes.push(...inFile.map((mistake) => ({ ...mistake, file })));
    if (name === undefined) continue;

    const open = Object.keys(taxonomies).filter((taxonomy) => taxonomies[taxonomy]?.open);
    if (!open.includes(name))
      mistakes.push({
        file,
        path: ['taxonomy'],
        says: Object.hasOwn(taxonomies, name)
          ? `\`${name}\` is closed: its terms stand in the model`
          : `there is no taxonomy \`${name}\``,
        mend:
          didYouMean(name, open) ??
          (open.length > 0
            ? `The open ones are ${list(open)}.`
            : 'Say `open: true` in the taxonomy, or delete the file.'),
      });
    else if (file !== termsFileOf(name))
      mistakes.push({
        file,
        path: ['taxonomy'],
        says: `the terms of \`${name}\` are looked for in ${termsFileOf(name)}`,
        mend: 'Give the file that name.',
      });
    else terms.set(name, content);
  }

  return { terms, mistakes };
}
