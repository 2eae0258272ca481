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
  /** The text of each row, with and without colours, and its entry. */
  readonly rows: readonly { readonly text: string; readonly plain: string; readonly entry: string }[];
  /** Where to start: the row that the cursor is on, and the word that is looked for. */
  readonly at: number;
  readonly query: string;
  /** How many lines the terminal has. */
  readonly height: number;
  readonly look: Look;
}

/** How a walk was left: to open an entry, or for good. */
export interface WalkOutcome {
  readonly open?: string;
  readonly at: number;
  readonly query: string;
}

/** Lines beside the rows: heading, titles, the search, keys, and room for the cursor. */
const frame = 7;

const help = 'arrows walk · / looks for a word · Enter opens the entry in your editor · q leaves';

/** A table to walk through with the arrow keys: what a word is found in, one row of it chosen. */
export const listView = createPrompt<WalkOutcome, Walked>(({ heading, title, rows, height, look, ...start }, done) => {
  const [position, setAt] = useState(start.at);
  const [query, setQuery] = useState(start.query);
  const [isTyping, setTyping] = useState(false);
  const [isLeft, setLeft] = useState(false);
  const { paint } = look;
  const matches = rows.filter(({ plain }) => plain.toLowerCase().includes(query.toLowerCase()));
  const room = Math.max(3, height - frame);
  const current = Math.min(position, Math.max(0, matches.length - 1));

  const leave = (outcome: WalkOutcome): void => {
    setLeft(true);
    done(outcome);
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
    const to = rowAfter(key, { selected: current, room, last: matches.length - 1 });
    const chosen = matches[current];
    if (to !== undefined) setAt(to);
    else if (key.name === '/' || signOf(key) === '/') setTyping(true);
    else if (isEnterKey(key) && chosen) leave({ open: chosen.entry, at: current, query });
    else if (key.name === 'q' || key.name === 'escape') leave({ at: current, query });
  });

  if (isLeft) return '';
  const first = Math.max(0, Math.min(current - Math.floor(room / 2), matches.length - room));
  const shown = matches
    .slice(first, first + room)
    .map(({ text }, index) => rowText(text, first + index === current, look));
  const search = isTyping || query !== '' ? searchText(query, matches.length, look) : '';
  const place = matches.length > room ? paint.soft(`${current + 1} of ${matches.length}`) : '';

  return [
    `${heading}${search}`,
    ['', `  ${paint.soft(title)}`, ...shown, '', [paint.soft(help), place].filter(Boolean).join('  ')].join('\n'),
  ];
});

/** The words that are searched for, and how many rows have them. */
const searchText = (query: string, found: number, { paint }: Look): string =>
  `  ${paint.name(`/${query}`)} ${paint.soft(`${found} found`)}`;

/** A row of the list, marked where it is chosen. */
const rowText = (text: string, isChosen: boolean, { paint }: Look): string =>
  isChosen ? `${paint.warn(glyphs.next)} ${paint.strong(text)}` : `  ${text}`;

/** The sign that a key types, where it has no name. */
const signOf = (key: KeypressEvent): string | undefined =>
  (key as KeypressEvent & { readonly sequence?: string }).sequence;

/** The row to which a key leads; nothing where it leads to none. */
function rowAfter(
  key: KeypressEvent,
  { selected, room, last }: { readonly selected: number; readonly room: number; readonly last: number },
): number | undefined {
  const to = (row: number): number => Math.max(0, Math.min(row, last));
  if (isUpKey(key)) return to(selected - 1);
  if (isDownKey(key)) return to(selected + 1);
  if (key.name === 'pageup') return to(selected - room);
  if (key.name === 'pagedown' || key.name === 'space') return to(selected + room);
  if (key.name === 'home') return 0;
  if (key.name !== 'end') return undefined;
  return to(last);
}
