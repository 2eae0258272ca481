import type { Assets } from '../entry/assets.ts';
import type { AssetLimits, FoundFile, Report } from '../kinds/kindParts.ts';
import type { Path } from '../plain/json.ts';
import { nearest } from '../plain/nearest.ts';

/** Checks the file that a value names against what its field allows. */
export function checkAsset({ file, inside }: FoundFile, limits: AssetLimits, assets: Assets, report: Report): void {
  const facts = assets.get(file);
  if (facts?.isLink) {
    report('missing-asset:link', { file }, { inside });
    return;
  }
  if (!facts) {
    report('missing-asset', { file, near: nearest(file, assets) }, { inside });
    return;
  }

  const { media, size, width, height } = facts;

  if (limits.media && !(media !== undefined && limits.media.some((allowed) => matches(media, allowed))))
    report('media-not-allowed', { media, allowed: limits.media }, { limit: [...limits.media], inside });
  if (limits.maxSize !== undefined && size > limits.maxSize)
    report('asset-too-large', { size, bound: limits.maxSize }, { limit: limits.maxSize, inside });
  const bounds = [
    ['across', width, limits.minWidth, limits.maxWidth],
    ['down', height, limits.minHeight, limits.maxHeight],
  ] as const;

  for (const [direction, pixels, min, max] of bounds) {
    if (min === undefined && max === undefined) continue;
    if (pixels !== undefined && pixels >= (min ?? 0) && pixels <= (max ?? pixels)) continue;
    reportPixels(report, pixels, { direction, min, max }, inside);
  }
}

const matches = (media: string, pattern: string): boolean => {
  if (pattern.endsWith('/*')) return media.startsWith(pattern.slice(0, -1));
  return media === pattern;
};

/** The fewest and the most pixels in a direction. */
interface PixelBounds {
  readonly direction: string;
  readonly min: number | undefined;
  readonly max: number | undefined;
}

function reportPixels(report: Report, pixels: number | undefined, { direction, min, max }: PixelBounds, inside: Path) {
  const isSmall = min !== undefined && (pixels ?? 0) < min;
  const bound = isSmall ? min : (max ?? 0);
  if (pixels === undefined) report('wrong-dimensions', {}, { limit: bound, inside });
  else
    report(
      isSmall ? 'wrong-dimensions:small' : 'wrong-dimensions:large',
      { size: pixels, bound, direction },
      { limit: bound, inside },
    );
}
