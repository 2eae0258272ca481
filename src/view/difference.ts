import { diffWordsWithSpace } from 'diff';
import { clip, glyphs, type Look, oneLine } from './look.ts';
import widthOf from './width.ts';

/** A piece of two texts laid over each other: what both have, what goes, what comes. */
interface Piece {
  readonly value: string;
  readonly removed: boolean;
  readonly added: boolean;
}

/** So many words may differ; of texts that differ in more, each is shown as a whole. */
const mostWords = 2000;

/** Two texts by their words: what stays, what goes, what comes. */
export const wordsOf = (before: string, after: string): readonly Piece[] =>
  diffWordsWithSpace(before, after, { maxEditLength: mostWords }) ?? [
    { value: before, removed: true, added: false },
    { value: after, added: true, removed: false },
  ];

/**
 * An old and a new value on one line, side by side: `3 → 4`. Of long texts that have most in common, one is shown, with
 * what differs in brackets inside: `…on a rock [in the sea → on land], since…`.
 */
export function fromTo(before: unknown, after: unknown, width: number, look: Pick<Look, 'paint'>): string {
  const arrow = look.paint.soft(` ${glyphs.arrow} `);
  const room = Math.max(10, Math.floor((width - 3) / 2));
  if (typeof before === 'string' && typeof after === 'string' && widthOf(before) + widthOf(after) + 3 > width) {
    const pieces = wordsOf(plain(before), plain(after));
    const common = pieces.reduce((sum, { value, added, removed }) => sum + (added || removed ? 0 : value.length), 0);
    if (common * 2 >= Math.min(before.length, after.length)) return insideText(pieces, width, look);
  }

  // A text that looks like the number it was is in quotes: `3 → "3"`.
  const isText = typeof before !== typeof after && !Array.isArray(after) && String(before) === String(after);

  const show = (value: unknown): string => {
    if (value === undefined) return 'nothing';
    if (Array.isArray(value)) return clip(`[${value.map((item) => oneLine(item, room)).join(', ')}]`, room);
    return oneLine(isText && typeof value === 'string' ? JSON.stringify(value) : value, room);
  };

  return show(before) + arrow + show(after);
}

const plain = (text: string): string => text.replace(/\s+/gu, ' ');

/** So much of what both texts have is shown beside what differs. */
const around = 20;

/** A stretch of two texts: the same in both, or what goes and what comes instead of it. */
type Stretch = { readonly same: string } | { readonly goes: string; readonly comes: string };

/** Pieces as stretches; what differs on both sides of a mere blank differs as one. */
function stretchesOf(pieces: readonly Piece[]): readonly Stretch[] {
  const stretches: Stretch[] = [];
  for (const [index, { value, added, removed }] of pieces.entries()) {
    const last = stretches.at(-1);
    const isChange = added || removed;
    const isGap = !isChange && value.trim() === '' && last !== undefined && 'goes' in last && index < pieces.length - 1;
    if (!isChange && !isGap) {
      stretches.push({ same: value });
      continue;
    }

    const before = last && 'goes' in last ? last : { goes: '', comes: '' };
    const grown = { goes: before.goes + (added ? '' : value), comes: before.comes + (removed ? '' : value) };
    stretches.splice(last && 'goes' in last ? -1 : stretches.length, 1, grown);
  }

  return stretches;
}

/** One text with what differs in brackets; what does not differ is left out but for a few words. */
function insideText(pieces: readonly Piece[], width: number, { paint }: Pick<Look, 'paint'>): string {
  const stretches = stretchesOf(pieces);
  let room = width - 1;
  let line = '';
  for (const [index, stretch] of stretches.entries()) {
    if ('same' in stretch) {
      const text = middleOf(stretch.same, index > 0, index < stretches.length - 1);
      if (widthOf(text) > room) return line + clip(text, Math.max(2, room));
      room -= widthOf(text);
      line += text;
      continue;
    }
    if (room < leastForChange) return `${line}…`;

    const [goes, comes] = inRoom(shown(stretch.goes), shown(stretch.comes), room - '[ → ]'.length);
    const gap = stretch.comes.endsWith(' ') ? ' ' : '';
    room -= widthOf(goes) + widthOf(comes) + '[ → ]'.length + gap.length;
    line += `${paint.soft('[')}${paint.bad(goes)} ${paint.soft(glyphs.arrow)} ${paint.good(comes)}${paint.soft(']')}${gap}`;
  }

  return line;
}

/** So many columns what differs needs at least to be reported. */
const leastForChange = 16;

/** Two texts cut so that both fit into a room together: a short one leaves more to the other. */
function inRoom(goes: string, comes: string, room: number): readonly [string, string] {
  const half = Math.floor(room / 2);
  const second = Math.max(Math.min(widthOf(comes), half), room - widthOf(goes));
  return [clip(goes, room - Math.min(second, widthOf(comes))), clip(comes, second)];
}

const shown = (text: string): string => text.trim() || 'nothing';

/** What both texts have, without its middle, or without the end that is far from what differs. */
function middleOf(text: string, hasBefore: boolean, hasAfter: boolean): string {
  if (text.length <= 2 * around + 3) return text;
  const start = text.slice(0, around).replace(/\S*$/u, '').trimEnd();
  const end = text.slice(-around).replace(/^\S*/u, '').trimStart();
  return `${hasBefore ? `${start} ` : ''}…${hasAfter ? ` ${end}` : ''}`;
}
