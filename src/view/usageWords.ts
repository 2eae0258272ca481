import { groupThousands, rangeOf } from '../core/plain/words.ts';
import type { ProfileResult } from '../tasks/profile.ts';

type FieldTold = ProfileResult['types'][number]['fields'][number];

/** `100 %`, `0.4 %`, never `0 %` or `100 %` of what is not. */
export function percent(part: number, total: number): string {
  if (total === 0) return '';
  const share = (100 * part) / total;
  if (part > 0 && share < 0.1) return '< 0.1 %';
  if (part < total && share > 99.9) return '> 99.9 %';
  return `${Number.isInteger(share) || share >= 10 ? Math.min(Math.round(share), part < total ? 99 : 100) : share.toFixed(1)} %`;
}

/** `all 12`, `about 4,000`: how many different values there are. */
export function distinctWords({ distinct, values }: FieldTold): string {
  if (!distinct) return '';
  const number = groupThousands(distinct.count);
  if (distinct.error !== undefined) return `about ${number}`;
  if (distinct.count === values && values > 1) return `all ${number}`;
  return number;
}

/** `12 … 30 … 80 long`: the smallest, the one in the middle, the largest. */
export function rangeWords({ sizes, items }: FieldTold): string {
  const list = items && items.largest > 1 ? rangeOf(items.smallest, items.largest, 'item') : '';
  if (!sizes) return list;

  const { smallest, median, largest } = sizes;
  const unit = sizes.of === 'characters' ? ' long' : '';
  const span =
    smallest.size === largest.size
      ? `${smallest.says}${unit}`
      : `${[...new Set([smallest.says, median.says, largest.says])].join(' … ')}${unit}`;

  return [span, list].filter(Boolean).join(', ');
}

/** The most frequent values that are worth to be reported: those that stand more than once, or alone. */
export const frequentValues = ({ frequent, distinct }: FieldTold): FieldTold['frequent'] =>
  frequent.filter(({ count: times }) => times > 1 || distinct?.count === 1);

/** A label with its identifier behind it, shortened to the identifier. */
export const inShort = (value: unknown, message: string): string => {
  if (typeof value === 'string' && message.endsWith(` (${value})`)) return value;
  return message;
};
