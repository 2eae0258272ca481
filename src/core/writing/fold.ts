/** A word without accents, in small letters, without a full stop behind it: as it is compared with another. */
export const foldWord = (word: string): string =>
  word
    .normalize('NFD')
    .replace(/\p{M}+/gu, '')
    .toLowerCase()
    .replace(/\.$/u, '')
    .trim();

/** Caches results per language: the dictionaries of the platform take milliseconds to ask. */
export function perLanguages<T>(make: (languages: readonly string[]) => T): (languages: readonly string[]) => T {
  const cache = new Map<string, T>();
  return (languages) => {
    const key = languages.join(' ');
    const created = cache.get(key) ?? make(languages);
    cache.set(key, created);
    return created;
  };
}

/** The languages of a workspace, and English: units and months are often written in it. */
export const withEnglish = (languages: readonly string[]): readonly string[] => [...new Set([...languages, 'en'])];
