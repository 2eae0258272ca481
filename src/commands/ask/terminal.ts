import {
  createPrompt,
  isDownKey,
  isEnterKey,
  isUpKey,
  makeTheme,
  useKeypress,
  usePagination,
  usePrefix,
  useRef,
  useState,
} from '@inquirer/core';
import select from '@inquirer/select';
import { compact } from '../../core/plain/json.ts';
import { visible, visibleLines } from '../../core/plain/visible.ts';
import { glyphs, lookFor } from '../../view/look.ts';
import { clearProgress } from '../../view/progress.ts';
import { answered } from './answered.ts';
import type { Asker, Choosing, Writing } from './asker.ts';

/** So many choices are looked through with the arrow keys; more of them by typing as well. */
const fewChoices = 9;

const leaving = '';

/** Asks on a terminal: lists to choose from with arrow keys and search, problems shown while you type. */
export class TerminalAsker implements Asker {
  readonly isEnded = false;
  readonly #paint = lookFor(process.stderr, undefined).paint;
  readonly #context = { output: process.stderr };
  readonly #theme = {
    prefix: { idle: this.#paint.warn('?'), done: this.#paint.good(glyphs.fine) },
    icon: { cursor: glyphs.next },
    style: {
      message: (text: string): string => this.#paint.strong(text),
      answer: this.#paint.name,
      highlight: this.#paint.name,
      description: this.#paint.soft,
      keysHelpTip: (): string => this.#paint.soft('arrows and Enter; typing looks for a word'),
      error: (text: string): string => this.#paint.bad(text),
    },
  };

  say(text: string): void {
    clearProgress();
    process.stderr.write(text);
  }

  async choose({ lead = '', message, choices, leave }: Choosing): Promise<string | undefined> {
    this.say(lead);
    const shown = choices.map(({ value, says: message = value, about }) =>
      compact({
        value,
        name: visible(message),
        short: visible(message),
        description: about === undefined ? undefined : visible(about),
      }),
    );
    const shownChoices =
      leave === undefined ? shown : [...shown, { value: leaving, name: `(${leave})`, short: `(${leave})` }];
    const question = { message: visibleLines(message), theme: this.#theme, pageSize: fewChoices };
    const chosen = await answered(
      choices.length <= fewChoices
        ? select({ ...question, choices: shownChoices, loop: false }, this.#context)
        : pick({ ...question, choices: shownChoices }, this.#context),
    );

    if (chosen === leaving) return undefined;
    return chosen;
  }

  async write({ lead = '', message, leave, wrong }: Writing): Promise<string | undefined> {
    this.say(lead);
    const hint = leave === undefined ? '' : ` ${this.#paint.soft(`(Enter to ${leave})`)}`;
    const text = await answered(
      line(
        { message: visibleLines(message) + hint, isNeeded: leave === undefined, wrong, theme: this.#theme },
        this.#context,
      ),
    );

    if (text === '') return undefined;
    return text;
  }

  end(): void {
    // Each question closes the part that it opened.
  }
}

interface Shown {
  readonly name: string;
  readonly description?: string;
}

/** Choices in which a word is found: those that start with it, those that have it, those that are about it. */
function found<C extends Shown>(choices: readonly C[], term = ''): readonly C[] {
  const word = term.trim().toLowerCase();
  const rank = ({ name, description = '' }: C): number => {
    if (name.toLowerCase().startsWith(word)) return 0;
    if (name.toLowerCase().includes(word)) return 1;
    if (description.toLowerCase().includes(word)) return 2;
    return 3;
  };

  return choices.filter((choice) => rank(choice) < 3).toSorted((a, b) => rank(a) - rank(b));
}

interface PickAsked {
  readonly message: string;
  readonly choices: readonly (Shown & { readonly value: string })[];
  readonly pageSize: number;
  readonly theme: object;
}

/**
 * One of many choices, found by a word. Typed text counts at once: anyone who types a word and Enter ahead of the
 * screen means the first choice for that word, and not the one that the screen still shows.
 */
const pick = createPrompt<string, PickAsked>(({ message, choices, pageSize, theme: styles }, done) => {
  const theme = makeTheme<ListTheme>(listTheme, styles as Partial<ListTheme>);
  const [chosen, setChosen] = useState<string>();
  const [shown, setShown] = useState({ typed: '', active: 0 });
  const latest = useRef(shown);
  const status = chosen === undefined ? 'idle' : 'done';
  const prefix = usePrefix({ status, theme });

  const show = (next: typeof shown): void => {
    latest.current = next;
    setShown(next);
  };

  useKeypress((key, reader) => {
    const { typed, active } = latest.current;
    const matching = found(choices, typed);
    if (isEnterKey(key)) {
      const choice = matching[active];
      if (!choice) return void reader.write(typed);
      setChosen(choice.name);
      done(choice.value);
    } else if (isUpKey(key)) show({ typed, active: Math.max(0, active - 1) });
    else if (isDownKey(key)) show({ typed, active: Math.min(matching.length - 1, active + 1) });
    else show({ typed: reader.line, active: 0 });
  });

  const items = found(choices, shown.typed);
  const page = usePagination({
    items,
    active: Math.max(0, shown.active),
    renderItem: ({ item, isActive }) =>
      isActive ? theme.style.highlight(`${theme.icon.cursor} ${item.name}`) : `  ${item.name}`,
    pageSize,
    loop: false,
  });
  const question = `${prefix} ${theme.style.message(message, status)}`;
  if (chosen !== undefined) return `${question} ${theme.style.answer(chosen)}`;

  const about = items[shown.active]?.description;
  const below = items.length === 0 ? theme.style.error('Nothing is called so') : page;

  return [
    `${question} ${shown.typed}`,
    [below, ' ', about === undefined ? '' : theme.style.description(about), theme.style.keysHelpTip()]
      .filter((text) => text !== '')
      .join('\n'),
  ];
});

/** What a list is drawn with beside what every question is. */
interface ListTheme {
  readonly icon: { readonly cursor: string };
  readonly style: {
    readonly highlight: (text: string) => string;
    readonly description: (text: string) => string;
    readonly keysHelpTip: () => string;
  };
}
const listTheme: ListTheme = {
  icon: { cursor: glyphs.next },
  style: { highlight: String, description: String, keysHelpTip: () => '' },
};

interface LineAsked {
  readonly message: string;
  readonly isNeeded: boolean;
  readonly wrong: Writing['wrong'];
  readonly theme: object;
}

/** A line of text, with its problem below while you type. */
const line = createPrompt<string, LineAsked>(({ message, isNeeded, wrong, theme: styles }, done) => {
  const theme = makeTheme(styles);
  const [status, setStatus] = useState<'idle' | 'done'>('idle');
  const [typed, setTyped] = useState('');
  const prefix = usePrefix({ status, theme });
  const text = typed.trim();
  const empty = isNeeded ? 'Type something' : undefined;
  const reason = text === '' ? empty : wrong?.(text);
  useKeypress((key, reader) => {
    if (!isEnterKey(key)) {
      setTyped(reader.line);
      return;
    }
    // Enter has emptied the line: what cannot be taken stays there to be mended.
    if (reason !== undefined) {
      reader.write(typed);
      return;
    }

    setStatus('done');
    done(text);
  });
  const shownText = status === 'done' ? theme.style.answer(typed) : typed;
  const below = text !== '' && reason !== undefined && status !== 'done' ? theme.style.error(visible(reason)) : '';

  return [`${prefix} ${theme.style.message(message, status)} ${shownText}`, below];
});
