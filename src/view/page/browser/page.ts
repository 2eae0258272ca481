/** What a page can do beyond reading: show only what a word is found in. Without it, everything is there and nothing is lost. */

const form = document.querySelector<HTMLFormElement>('search form');
const field = form?.querySelector('input');
const output = form?.querySelector('output');

/** Something that may be hidden: an article, a row, a term, a finding. */
interface Findable {
  readonly element: HTMLElement;
  /** What it is found by: all its words. */
  readonly text: string;
  /** What it is in: that is shown with it. */
  readonly above: Findable | undefined;
  /** The heading of an article: where that has the words, all of it is intended. */
  readonly heading: string;
  readonly isLeaf: boolean;
}

/** Gathered once, when it is first asked for: a large page has many texts. */
let gathered: readonly Findable[] | undefined;

function findables(): readonly Findable[] {
  if (gathered) return gathered;

  const findables = new Map<Element, Findable>();
  const elements = [...document.querySelectorAll<HTMLElement>('[data-find]')];
  const holders = new Set(elements.map((element) => element.parentElement?.closest('[data-find]')));
  for (const element of elements) {
    const above = element.parentElement?.closest('[data-find]');
    findables.set(element, {
      element,
      text: lower(element.textContent),
      above: above ? findables.get(above) : undefined,
      heading: element.localName === 'article' ? lower(element.querySelector('h3')?.textContent) : '',
      isLeaf: !holders.has(element),
    });
  }

  gathered = [...findables.values()];

  return gathered;
}

const lower = (text: string | null | undefined): string => (text ?? '').toLocaleLowerCase();

/** Shows elements with all of some words in it, with what it is in; everything where no word is requested. */
function filter(query: string): void {
  const words = lower(query).split(/\s+/u).filter(Boolean);
  const hasAll = (text: string): boolean => words.every((word) => text.includes(word));
  let count = 0;
  for (const { element, text, above, heading, isLeaf } of findables()) {
    // Nothing has to be done with what is in something hidden.
    if (above?.element.hidden) continue;
    const isFound = hasAll(text);
    const isHidden = !(isFound || (above !== undefined && above.heading !== '' && hasAll(above.heading)));
    if (element.hidden !== isHidden) element.hidden = isHidden;
    if (isFound && (isLeaf || (heading !== '' && hasAll(heading)))) count += 1;
  }

  if (output) output.textContent = words.length === 0 ? '' : `${count} found`;
}

/** What a link leads to is shown, whatever was looked for. */
function reveal(): void {
  const target = document.getElementById(location.hash.slice(1));
  if (!target?.closest('[hidden]') || !field) return;
  field.value = '';
  filter('');
  target.scrollIntoView();
}

/** Takes the field into use; the keys: a slash leads to it, Escape ends looking. */
function start(input: HTMLInputElement, around: HTMLFormElement): void {
  around.hidden = false;
  let waiting: ReturnType<typeof setTimeout> | undefined;
  input.addEventListener('input', () => {
    clearTimeout(waiting);
    waiting = setTimeout(() => filter(input.value), 80);
  });
  around.addEventListener('submit', (event) => {
    event.preventDefault();
    filter(input.value);
  });
  document.addEventListener('keydown', (event) => {
    if (event.key === '/' && document.activeElement !== input) {
      event.preventDefault();
      input.focus();
    }

    if (event.key === 'Escape' && document.activeElement === input) {
      input.value = '';
      filter('');
    }
  });
  // What is printed is the whole.
  addEventListener('beforeprint', () => filter(''));
  addEventListener('afterprint', () => filter(input.value));
  addEventListener('hashchange', reveal);
}

if (form && field) start(field, form);
