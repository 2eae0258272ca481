import { didYouMean } from '../plain/nearest.ts';
import { list, quote } from '../plain/words.ts';
import type { Taxonomy, Term } from './linkTaxonomy.ts';

/** What the pattern of a taxonomy's addresses can name. */
const places = ['taxonomy', 'term', 'path', 'language'] as const;
const place = /\{([^{}]*)\}/gu;

/** Why a pattern makes no addresses of terms. */
export function addressMistake(pattern: string): { readonly says: string; readonly mend: string } | undefined {
  const names = [...pattern.matchAll(place)].map(([, name = '']) => name);
  const unknown = names.find((name) => !places.some((place) => place === name));
  if (unknown !== undefined)
    return {
      says: `there is nothing called ${quote(unknown)} to put into the address of a term`,
      mend: didYouMean(unknown, places) ?? `Name ${list([...places], 'or')}.`,
    };
  if (names.includes('term') || names.includes('path')) return undefined;
  return { says: 'every term would have the same address', mend: 'Put {term} or {path} into it.' };
}

/** The address of a term, made by the pattern of its taxonomy; `{path}` is the term with those above it. */
export function termAddress({ name, definition }: Taxonomy, term: Term, language: string): string | undefined {
  const values: Readonly<Record<string, string>> = {
    taxonomy: name,
    term: term.name,
    path: term.path.join('/'),
    language,
  };
  return definition.address?.replace(place, (_, name: string) => values[name] ?? '');
}
