import { count, list, quote } from '../plain/words.ts';
import { choices, sayStyle, styleNamed, writingStyles } from './index.ts';
import { choiceOf, type ReadBeside, type Reading, readingsFor } from './readings.ts';
import type { ReadText, Target } from './style.ts';
import { wordBeside } from './unit.ts';

/** How the texts of a field are best read, from all of them together. */
export interface Weighed {
  /** The styles by which they are read, the preferred ones of each choice first. */
  readonly written: readonly string[];
  /** How the texts are written, with counts, as a sentence. */
  readonly says: string;
  /** What a person has to confirm; `undefined` where each text has one reading and nothing is dropped. */
  readonly asks: string | undefined;
  /** A text, and the value it becomes. */
  readonly example: readonly [text: string, value: Reading['value']];
}

/** Texts with the same readings by the same styles. */
interface Alike {
  readonly readings: readonly Reading[];
  readonly example: string;
  count: number;
}

/** So many different words are named that would be dropped. */
const mostWords = 4;

/** Reads texts one by one, and tells from all of them together by which styles they are intended. */
export class Weighing {
  readonly #target: Target;
  readonly #readings: (text: string) => readonly Reading[];
  readonly #alike = new Map<string, Alike>();
  readonly #words = new Set<string>();
  #texts = 0;

  constructor(target: Target, beside: ReadBeside) {
    this.#target = target;
    this.#readings = readingsFor(target, beside);
  }

  /** Takes a text into account. @returns a value that it may mean. */
  readonly read: ReadText = (text) => {
    const readings = this.#readings(text);
    this.#texts += 1;
    const key = readings.map(({ ways }) => ways.join()).join(' | ');
    const alike = this.#alike.get(key) ?? { readings, example: text, count: 0 };
    alike.count += 1;
    this.#alike.set(key, alike);
    const isWordDropped = readings[0]?.ways.some((way) => way.includes('with-word')) ?? false;
    if (isWordDropped && this.#words.size <= mostWords) this.#words.add(wordBeside(text.trim()) ?? '');
    return usualFirst(readings, this.#target)[0]?.value;
  };

  /** How the texts are best read; `undefined` where the kind reads them all by itself, and no other reading is possible. */
  get weighed(): Weighed | undefined {
    const preferred = this.#preferred();
    const uses = [...this.#alike.values()].flatMap((alike) => {
      const reading = best(alike.readings, preferred);
      if (!reading) return [];

      return [{ alike, reading, way: preferredWay(reading, preferred) }];
    });
    const used = new Set(uses.flatMap(({ way }) => way));
    for (const [choice, style] of preferred) {
      const rivals = [...used].filter((name) => choiceOf(name) === choice);
      if (rivals.length > 0 && !rivals.some((name) => familyOf(name) === style)) used.add(style);
    }

    const doubts = this.#doubts(preferred);
    for (const { style } of doubts) used.add(style);
    const [commonest] = uses.filter(({ way }) => way.length > 0).toSorted((a, b) => b.alike.count - a.alike.count);
    const shown = commonest ?? uses.find(({ alike }) => alike.readings.length > 1);
    if (used.size === 0 || !shown) return undefined;

    const families = [...preferred.values()];
    const rank = (name: string): number => {
      if (families.includes(familyOf(name))) return 0;
      return 1;
    };
    const order = [...new Set(writingStyles.map(({ name }) => name))];
    const written = order.filter((name) => used.has(name)).toSorted((a, b) => rank(a) - rank(b));
    const { alike, reading } = shown;
    const example = [alike.example, reading.value] as const;
    const sentences = [
      this.#says(written, { uses, example, isDoubted: doubts.length > 0 }),
      ...doubts.map((doubt) => this.#sayDoubt(doubt)),
    ];

    return { written, says: sentences.filter(Boolean).join('. '), asks: this.#asks(written, doubts), example };
  }

  /** Of each choice the style that the most texts prove; the usual one where they prove none. */
  #preferred(): ReadonlyMap<string, string> {
    return new Map(
      [...choices].map(([name, choice]) => {
        const proofs = [...this.#proofs(name)].toSorted(([, a], [, b]) => b - a);
        const [first, second] = proofs;
        const usual = choice.usual(this.#target);
        return [name, first && first[1] > (second?.[1] ?? 0) ? first[0] : usual] as const;
      }),
    );
  }

  /** How many texts are read by one family of a choice's styles alone. */
  #proofs(choice: string): ReadonlyMap<string, number> {
    const proofs = new Map<string, number>();
    for (const { readings, count: texts } of this.#alike.values()) {
      const [only, ...rest] = new Set(stylesOf(readings, choice).map(familyOf));
      if (only !== undefined && rest.length === 0) proofs.set(only, (proofs.get(only) ?? 0) + texts);
    }

    return proofs;
  }

  /** The choices that some texts leave open, with the style that is preferred and what the texts say. */
  #doubts(preferred: ReadonlyMap<string, string>): readonly Doubt[] {
    return [...preferred].flatMap(([choice, preferredStyle]): readonly Doubt[] => {
      const open = [...this.#alike.values()].filter(({ readings }) => isOpen(readings, choice));
      const texts = open.reduce((sum, alike) => sum + alike.count, 0);
      const [first] = open;
      if (!first) return [];

      const proofs = this.#proofs(choice);
      const proving = proofs.get(preferredStyle) ?? 0;
      const against = [...proofs.values()].reduce((sum, number) => sum + number, 0) - proving;
      const reading = best(first.readings, preferred);
      const style = stylesOf(reading ? [reading] : [], choice).find((name) => familyOf(name) === preferredStyle);

      return [{ style: style ?? preferredStyle, open: texts, proving, against, example: first.example }];
    });
  }

  #says(
    written: readonly string[],
    { uses, example, isDoubted }: { uses: readonly Use[]; example: Weighed['example']; isDoubted: boolean },
  ): string {
    const counted = written.flatMap((name) => {
      const texts = uses.reduce((sum, { way, alike }) => sum + (way.includes(name) ? alike.count : 0), 0);
      const wording = styleNamed(name)?.says;
      if (texts === 0 || wording === undefined) return [];

      return [{ texts, says: wording }];
    });
    const [first, ...rest] = counted.toSorted((a, b) => b.texts - a.texts);
    if (!first) return '';

    const verb = isDoubted ? 'read as written' : 'written';
    const start = `${first.texts} of ${count(this.#texts, 'text')} ${first.texts === 1 ? 'is' : 'are'} ${verb} ${first.says}`;
    const [text, value] = example;

    return `${list([start, ...rest.map(({ texts, says: message }) => `${texts} ${message}`)])}, such as ${quote(text)} as ${quote(value)}`;
  }

  #sayDoubt({ style, open, proving, against, example }: Doubt): string {
    const texts = `${open} of ${count(this.#texts, 'text')}, such as ${quote(example)}, can be read in more than one way`;
    if (proving + against === 0) return `${texts}, and no text proves which is right`;
    const sentence = `${count(proving, 'text proves', 'texts prove')} that they are written ${sayStyle(style)}`;
    return `${texts}; ${sentence}, ${against === 0 ? 'none proves' : count(against, 'text proves', 'texts prove')} the contrary`;
  }

  #asks(written: readonly string[], doubts: readonly Doubt[]): string | undefined {
    const chosen = doubts.map(({ style }) => sayStyle(style));
    const confirmed = written.flatMap((name) =>
      name === 'with-word' ? this.#askForWords() : (styleNamed(name)?.asks?.(this.#target) ?? []),
    );
    const parts = [chosen.length > 0 ? `Are the texts written ${list(chosen)}?` : '', ...confirmed].filter(Boolean);
    if (parts.length === 0) return undefined;

    return [...new Set(parts)].join(' ');
  }

  #askForWords(): string {
    const words = [...this.#words].slice(0, mostWords).map((word) => `“${word}”`);
    const more = this.#words.size > mostWords ? ['other words'] : [];
    return `May ${list([...words, ...more])} beside the numbers be dropped?`;
  }
}

interface Use {
  readonly alike: Alike;
  readonly way: readonly string[];
}

interface Doubt {
  readonly style: string;
  readonly open: number;
  readonly proving: number;
  readonly against: number;
  readonly example: string;
}

/** A style that only reads years of two digits beside another is of one family with it. */
const familyOf = (style: string): string => style.replace(/-short-year$/u, '');

/** The styles of a choice by which some of the readings come about. */
function stylesOf(readings: readonly Reading[], choice: string): readonly string[] {
  const names = readings.flatMap(({ ways }) => ways.flat().filter((name) => choiceOf(name) === choice));
  return [...new Set(names)];
}

/** Whether styles of a choice read a text as different values: what one value needs, another one does not. */
function isOpen(readings: readonly Reading[], choice: string): boolean {
  const needed = readings.map((reading) => stylesOf([reading], choice)).filter(({ length }) => length > 0);
  return needed.some((styles, index) =>
    needed.slice(index + 1).some((rest) => !rest.some((name) => styles.includes(name))),
  );
}

const shortest = (ways: readonly (readonly string[])[]): readonly string[] =>
  ways.reduce((least, way) => (way.length < least.length ? way : least), ways[0] ?? []);

/** How many styles of a way are other answers to their choices than the preferred ones. */
function stylesAgainst(way: readonly string[], preferred: ReadonlyMap<string, string>): number {
  const isAgainst = (name: string): boolean => {
    const choice = choiceOf(name);
    return choice !== undefined && preferred.get(choice) !== familyOf(name);
  };
  return way.filter(isAgainst).length;
}

/** The way to a reading that needs the fewest styles, and of these the fewest that are not preferred. */
function preferredWay({ ways }: Reading, preferred: ReadonlyMap<string, string>): readonly string[] {
  const [first] = ways.toSorted(
    (a, b) => a.length - b.length || stylesAgainst(a, preferred) - stylesAgainst(b, preferred),
  );
  return first ?? [];
}

/** The readings in an order: those first that go by the preferred styles; where none tells, those that need the fewest. */
function byPreference(readings: readonly Reading[], preferred: ReadonlyMap<string, string>): readonly Reading[] {
  if (readings.length < 2) return readings;

  const cost = ({ ways }: Reading): number => {
    // What the kind reads by itself goes by some style, too, where one reads the same.
    const styled = ways.filter(({ length }) => length > 0);
    return Math.min(...(styled.length > 0 ? styled : ways).map((way) => stylesAgainst(way, preferred)));
  };

  return readings.toSorted((a, b) => cost(a) - cost(b) || shortest(a.ways).length - shortest(b.ways).length);
}

const best = (readings: readonly Reading[], preferred: ReadonlyMap<string, string>): Reading | undefined =>
  byPreference(readings, preferred)[0];

/** The readings of a text in an order: those first that are usual for the field and the main language. */
export function usualFirst(readings: readonly Reading[], target: Target): readonly Reading[] {
  if (readings.length < 2) return readings;
  return byPreference(readings, new Map([...choices].map(([name, choice]) => [name, choice.usual(target)])));
}
