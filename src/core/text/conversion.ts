import type * as convert from './convert.ts';
import type * as render from './render.ts';

/** The functions that convert structured text. */
export type Conversion = typeof convert & typeof render;

let loaded: Conversion | undefined;

/**
 * Loads the parsers of Markdown and HTML, which are large and which most commands never need. To be awaited before
 * values are carried from or to structured text.
 */
export async function loadConversion(): Promise<Conversion> {
  loaded ??= { ...(await import('./convert.ts')), ...(await import('./render.ts')) };
  return loaded;
}

/** The parsers, once they are loaded. @throws {Error} where {@link loadConversion} was not awaited before. */
export function conversion(): Conversion {
  if (!loaded) throw new Error('structured text is converted before its parsers were loaded');
  return loaded;
}
