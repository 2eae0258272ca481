/** Small letters, digits and single hyphens: the form of identifiers and slugs. Accents are dropped. */
export const slugify = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/\p{M}+/gu, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/gu, '-')
    .replace(/^-+|-+$/gu, '');
