import {
  createPrompt,
  isDownKey,
  isEnterKey,
  isUpKey,
  type KeypressEvent,
  useKeypress,
  useState,
} from '@inquirer/core';
import { glyphs, type Look } from '../../view/look.ts';

/** Rows to walk through. */
export interface Walked {
  readonly heading: string;
  readonly title: string;
  /** What stands in each row, without its colours too, and the entry that it is about. */
  readonly rows: readonly { readonly text: string; readonly plain: string; readonly entry: string }[];
  /** Where to start: the row that the cursor is on, and the word that is looked for. */
  readonly at: number;
  readonly query: string;
  /** How many lines the terminal has. */
  readonly height: number;
  readonly look: Look;
}

/** How a walk was left: to open an entry, or for good. */
export interface Left {
  readonly open?: string;
  readonly at: number;
  readonly query: string;
}

/** Lines beside the rows: heading, titles, what is looked for, keys, and room for the cursor. */
const frame = 7;

const help = 'arrows walk · / looks for a word · Enter opens the entry in your editor · q leaves';

/** A table to walk through with the arrow keys: what a word is found in, one row of it chosen. */
export const listView = createPrompt<Left, Walked>(({ heading, title, rows, height, look, ...start }, done) => {
  const [at, setAt] = useState(start.at);
  const [query, setQuery] = useState(start.query);
  const [isTyping, setTyping] = useState(false);
  const [isLeft, setLeft] = useState(false);
  const { paint } = look;
  const found = rows.filter(({ plain }) => plain.toLowerCase().includes(query.toLowerCase()));
  const room = Math.max(3, height - frame);
  const here = Math.min(at, Math.max(0, found.length - 1));
  const leave = (left: Left): void => {
    setLeft(true);
    done(left);
  };

  useKeypress((key, reader) => {
    if (isTyping && !isEnterKey(key) && key.name !== 'escape') {
      setQuery(reader.line);
      setAt(0);
      return;
    }
    if (isTyping) {
      if (key.name === 'escape') setQuery('');
      setTyping(false);
      reader.clearLine(0);
      return;
    }
    reader.clearLine(0);
    const to = rowAfter(key, { here, room, last: found.length - 1 });
    const chosen = found[here];
    if (to !== undefined) setAt(to);
    else if (key.name === '/' || signOf(key) === '/') setTyping(true);
    else if (isEnterKey(key) && chosen) leave({ open: chosen.entry, at: here, query });
    else if (key.name === 'q' || key.name === 'escape') leave({ at: here, query });
  });

  if (isLeft) return '';
  const first = Math.max(0, Math.min(here - Math.floor(room / 2), found.length - room));
  const shown = found.slice(first, first + room).map(({ text }, index) => {
    const isHere = first + index === here;
    return isHere ? `${paint.warn(glyphs.next)} ${paint.strong(text)}` : `  ${text}`;
  });
  const asked = isTyping || query !== '' ? `  ${paint.name(`/${query}`)} ${paint.soft(`${found.length} found`)}` : '';
  const place = found.length > room ? paint.soft(`${here + 1} of ${found.length}`) : '';
  return [
    `${heading}${asked}`,
    ['', `  ${paint.soft(title)}`, ...shown, '', [paint.soft(help), place].filter(Boolean).join('  ')].join('\n'),
  ];
});

/** The sign that a key types, where it has no name. */
const signOf = (key: KeypressEvent): string | undefined =>
  (key as KeypressEvent & { readonly sequence?: string }).sequence;

/** The row to which a key leads; nothing where it leads to none. */
function rowAfter(
  key: KeypressEvent,
  { here, room, last }: { readonly here: number; readonly room: number; readonly last: number },
): number | undefined {
  const to = (row: number): number => Math.max(0, Math.min(row, last));
  if (isUpKey(key)) return to(here - 1);
  if (isDownKey(key)) return to(here + 1);
  if (key.name === 'pageup') return to(here - room);
  if (key.name === 'pagedown' || key.name === 'space') return to(here + room);
  if (key.name === 'home') return 0;
  return key.name === 'end' ? to(last) : undefined;
}
