import type { Assets } from '../entry/assets.ts';
import type { AssetLimits, Report } from '../kinds/define.ts';
import { sayBytes } from '../plain/bytes.ts';
import type { Path } from '../plain/json.ts';
import { nearest } from '../plain/nearest.ts';
import { list } from '../plain/words.ts';

/** A file that a value names, and where in the value it does. */
interface NamedFile {
  readonly file: string;
  readonly inside: Path;
}

/** Checks the file that a value names against what its field allows. */
export function checkAsset({ file, inside }: NamedFile, limits: AssetLimits, assets: Assets, report: Report): void {
  const facts = assets.get(file);
  if (facts?.isLink) {
    report('missing-asset', {
      says: `names the file ${file}, which is a symbolic link, and links are never followed`,
      mend: 'Put the file itself there.',
      inside,
    });
    return;
  }
  if (!facts) {
    const near = nearest(file, assets);
    report('missing-asset', {
      says: `names the file ${file}, and there is none in assets/`,
      mend: near === undefined ? 'Put it there, or name another.' : `Did you mean ${near}?`,
      inside,
    });
    return;
  }
  const { media, size, width, height } = facts;
  if (limits.media && !(media !== undefined && limits.media.some((one) => matches(media, one))))
    report('media-not-allowed', {
      says: `is ${media ?? 'of no known media type'}, only ${list(limits.media, 'or')} may stand here`,
      limit: [...limits.media],
      mend: 'Use another file, or convert it.',
      inside,
    });
  if (limits.maxSize !== undefined && size > limits.maxSize)
    report('asset-too-large', {
      says: `has ${sayBytes(size)}, at most ${sayBytes(limits.maxSize)} are allowed`,
      limit: limits.maxSize,
      mend: 'Make the file smaller.',
      inside,
    });
  const bounds = [
    ['across', width, limits.minWidth, limits.maxWidth],
    ['down', height, limits.minHeight, limits.maxHeight],
  ] as const;
  for (const [direction, pixels, min, max] of bounds) {
    if (min === undefined && max === undefined) continue;
    if (pixels !== undefined && pixels >= (min ?? 0) && pixels <= (max ?? pixels)) continue;
    const bound =
      min !== undefined && (pixels ?? 0) < min ? `at least ${min} are needed` : `at most ${max} are allowed`;
    report('wrong-dimensions', {
      says: pixels === undefined ? 'has no pixels to be counted' : `has ${pixels} pixels ${direction}, ${bound}`,
      limit: min !== undefined && (pixels ?? 0) < min ? min : (max ?? 0),
      mend: 'Use a picture of another size.',
      inside,
    });
  }
}

const matches = (media: string, wanted: string): boolean =>
  wanted.endsWith('/*') ? media.startsWith(wanted.slice(0, -1)) : media === wanted;
