import { entryScheme } from './tree.ts';

/** What addresses start with where nothing is stated. */
export const usualSchemes = ['https', 'http', 'mailto', 'tel'] as const;

/** A link or a picture as a text says it. */
export interface TextLink {
  readonly url: string;
  /** Whether the target is shown instead of it. */
  readonly isPicture: boolean;
  /** The alternative text of a picture. */
  readonly alt?: string | undefined;
}

/** Where an address leads, as far as a workspace can tell. */
export type Target =
  | { readonly to: 'entry'; readonly entry: string }
  | { readonly to: 'asset'; readonly file: string }
  | { readonly to: 'elsewhere'; readonly scheme: string | undefined };

/**
 * Where an address of a text leads: to an entry (`entry:keeper/ada-rook`), to a file of the workspace
 * (`assets/photos/a.png`, also from the root or from a folder beside; of a picture and of a document also without that
 * folder, `photos/a.png`, `manual.pdf`), or elsewhere.
 */
export function targetOf({ url, isPicture }: Pick<TextLink, 'url' | 'isPicture'>): Target {
  const scheme = schemeOf(url);
  if (scheme !== undefined && `${scheme}:` === entryScheme)
    return { to: 'entry', entry: url.slice(entryScheme.length) };
  if (scheme !== undefined) return { to: 'elsewhere', scheme };

  const [, prefix = '', rest = ''] = /^((?:\.{0,2}\/)*)([^?#]*)/u.exec(url) ?? [];
  const isBelow = rest.startsWith(assetFolder);
  const file = decoded(isBelow ? rest.slice(assetFolder.length) : rest);
  const isBeside = !prefix.includes('/') && (isPicture || documentName.test(file));
  if (file === '' || !(isBelow || isBeside)) return { to: 'elsewhere', scheme: undefined };
  return { to: 'asset', file };
}

const assetFolder = 'assets/';

/** The names of files that are no pages of a site: what a link leads to under such a name is kept among the assets. */
const documentName =
  /\.(?:pdf|docx?|xlsx?|pptx?|od[tsp]|rtf|txt|[ct]sv|epub|ics|vcf|gpx|kml|geojson|zip|gz|tar|7z|mp[34]|m4a|og[gv]|wav|flac|webm|mov|png|jpe?g|gif|webp|avif|svg|tiff?|bmp)$/iu;

/** Whether a file is a picture, as its name says. */
export const isPictureName = (file: string): boolean => /\.(?:png|jpe?g|gif|webp|avif|svg|tiff?|bmp)$/iu.test(file);

/** The scheme of an address, in small letters. Blanks and control characters are passed over, as browsers do. */
export function schemeOf(url: string): string | undefined {
  // biome-ignore lint/suspicious/noControlCharactersInRegex: that is what is to be passed over.
  return /^([a-z][a-z0-9+.-]*):/iu.exec(url.replace(/[\u0000-\u0020\u007f]+/gu, ''))?.[1]?.toLowerCase();
}

/** Why an address may not be led to: its scheme, in a text that allows some. */
export function forbiddenScheme(url: string, schemes: readonly string[] = usualSchemes): string | undefined {
  const scheme = schemeOf(url);
  if (scheme === undefined || `${scheme}:` === entryScheme) return undefined;
  if (schemes.some((allowed) => allowed.toLowerCase() === scheme)) return undefined;
  return scheme;
}

function decoded(path: string): string {
  try {
    return decodeURIComponent(path);
  } catch {
    return path;
  }
}
