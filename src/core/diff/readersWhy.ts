import type { ReaderRating } from '../kinds/compatibility.ts';

/** The effect of a difference on readers, with its reason, by name. */
const reasons: Readonly<Record<string, string>> = {
  renamed: 'they know it by its old name',
  moved: 'they look for it where it was',
  'field-added': 'there is something new to read',
  'field-removed': 'what they read is gone',
  'field-split': 'what they read is gone, and comes in parts',
  'fields-joined': 'what they read is gone, and comes in one piece',
  'field-moved-along': 'they look for it where it was',
  'reference-turned': 'they find it on the other side',
  'values-pulled': 'its values come in another shape',
  'entries-sent': 'they look for them under their old type',
  'field-reshaped': 'its values come in another shape',
  'type-added': 'there is something new to read',
  'type-removed': 'what they read is gone',
  'term-added': 'entries may come with a term that they do not know',
  'term-removed': 'they know it by a term that is gone',
  'taxonomy-removed': 'what they read is gone',
  'languages-changed': 'there are other languages than they know',
};

const byRating: Readonly<Record<ReaderRating, string | undefined>> = {
  unaffected: undefined,
  notice: 'values may come that did not come before',
  break: 'what they rely on may not come any more',
};

/** Why readers may notice a difference, or break by it; nothing where they are unaffected. */
export const readersWhy = (name: string, rating: ReaderRating): string | undefined => {
  if (rating === 'unaffected') return undefined;
  return reasons[name] ?? byRating[rating];
};
