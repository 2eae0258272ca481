import { type Pattern, parsePattern, RefersBack } from './parse.ts';

/** Why a pattern is not safe to run on texts that anybody may write. */
export interface Unsafe {
  readonly says: string;
  /** A piece of text that hurts the more the more often it is repeated, if there is one. */
  readonly pump?: string;
}

/** So many repetitions hurt as much as endless ones. */
const asGoodAsEndless = 10;
const mostPositions = 400;

/**
 * Finds patterns on which a backtracking engine can take exponential time.
 *
 * The method: the pattern becomes its position automaton (Glushkov), whose edges are counted, because two ways to get
 * from one position to the next (as in `(a*)*`) are two things to try. Time is exponential where, on some loop, the same
 * text can be read in two ways: where the automaton, run beside itself, gets from a pair of equal positions to a pair
 * of different ones and back (Weber and Seidl 1991, "exponential degree of ambiguity"), or where such a loop uses an
 * edge that counts twice. Whether two positions take a common character is tried out on sample characters.
 */
export function findExponential(source: string): Unsafe | undefined {
  let pattern: Pattern;
  try {
    pattern = parsePattern(source);
  } catch (error) {
    if (error instanceof RefersBack) return { says: 'refers back to a group, so how long it takes cannot be told' };
    throw error;
  }
  const samples = samplesFor(source);
  return [pattern, ...lookarounds(pattern)].map((part) => findIn(part, samples)).find((found) => found !== undefined);
}

/** What stands in lookarounds is matched on its own. */
function lookarounds(pattern: Pattern): readonly Pattern[] {
  switch (pattern.is) {
    case 'character':
      return [];
    case 'nothing':
      return pattern.inner ? [pattern.inner, ...lookarounds(pattern.inner)] : [];
    case 'repeat':
      return lookarounds(pattern.inner);
    default:
      return pattern.parts.flatMap(lookarounds);
  }
}

function findIn(pattern: Pattern, samples: readonly string[]): Unsafe | undefined {
  const automaton = new Automaton(samples);
  if (!automaton.build(pattern)) return { says: 'is too large to tell how long it takes' };
  const pump = automaton.findPump();
  return pump === undefined ? undefined : { says: 'can take exponential time', pump };
}

/* ── the position automaton ──────────────────────────────────────────────────────────────────────────────────── */

/** How often something can be done, where twice is as bad as often. */
type Count = 0 | 1 | 2;
const cap = (count: number): Count => (count >= 2 ? 2 : count === 1 ? 1 : 0);

/** A piece of pattern: where it can begin and end, each in how many ways, and in how many ways it can be skipped. */
interface Piece {
  readonly first: ReadonlyMap<number, Count>;
  readonly last: ReadonlyMap<number, Count>;
  readonly empty: Count;
}

const none: Piece = { first: new Map(), last: new Map(), empty: 1 };

class Automaton {
  readonly #samples: readonly string[];
  /** The sample characters that each position takes. */
  readonly #takes: ReadonlySet<string>[] = [];
  readonly #edges: Map<number, Count>[] = [];

  constructor(samples: readonly string[]) {
    this.#samples = samples;
  }

  /** @returns false where the pattern is too large. */
  build(pattern: Pattern): boolean {
    this.#piece(pattern);
    return this.#takes.length <= mostPositions;
  }

  #piece(pattern: Pattern): Piece {
    if (this.#takes.length > mostPositions) return none;
    switch (pattern.is) {
      case 'nothing':
        return none;
      case 'character':
        return this.#position(pattern.source);
      case 'sequence':
        return pattern.parts.reduce<Piece>((before, part) => this.#join(before, this.#piece(part)), none);
      case 'choice':
        return pattern.parts
          .map((part) => this.#piece(part))
          .reduce((a, b) => ({
            first: sum(a.first, b.first),
            last: sum(a.last, b.last),
            empty: cap(a.empty + b.empty),
          }));
      case 'repeat':
        return this.#repeat(pattern);
    }
  }

  #position(source: string): Piece {
    const position = this.#takes.length;
    const matches = new RegExp(`^(?:${source})$`, 'su');
    this.#takes.push(new Set(this.#samples.filter((sample) => matches.test(sample))));
    this.#edges.push(new Map());
    const here = new Map<number, Count>([[position, 1]]);
    return { first: here, last: here, empty: 0 };
  }

  #join(a: Piece, b: Piece): Piece {
    this.#connect(a.last, b.first);
    return {
      first: sum(a.first, times(b.first, a.empty)),
      last: sum(b.last, times(a.last, b.empty)),
      empty: cap(a.empty * b.empty),
    };
  }

  #repeat({ inner, least, most }: Extract<Pattern, { is: 'repeat' }>): Piece {
    if (most === 0) return none;
    if (most < asGoodAsEndless) {
      // A few repetitions are written out: the needed ones, then each further one only after the one before it.
      let piece = none;
      for (let i = most; i > 0; i -= 1) {
        const one = this.#join(this.#piece(inner), piece);
        piece = i > least ? { ...one, empty: cap(one.empty + 1) } : one;
      }
      return piece;
    }
    const piece = this.#piece(inner);
    this.#connect(piece.last, piece.first);
    return least === 0 ? { ...piece, empty: 1 } : piece;
  }

  #connect(from: ReadonlyMap<number, Count>, to: ReadonlyMap<number, Count>): void {
    for (const [a, waysOut] of from)
      for (const [b, waysIn] of to) this.#edges[a]?.set(b, cap((this.#edges[a]?.get(b) ?? 0) + waysOut * waysIn));
  }

  /** A text that can be read in two ways on some loop, so that each repetition of it doubles the work. */
  findPump(): string | undefined {
    for (let start = 0; start < this.#takes.length; start += 1) {
      const pump = this.#pumpAt(start);
      if (pump !== undefined) return pump;
    }
    return undefined;
  }

  /** Runs the automaton beside itself from a position, looking for a way back that was not the same all along. */
  #pumpAt(start: number): string | undefined {
    const startKey = `${start},${start},0`;
    const cameFrom = new Map<string, { readonly key: string; readonly letter: string }>([
      [startKey, { key: '', letter: '' }],
    ]);
    const queue: (readonly [left: number, right: number, apart: 0 | 1])[] = [[start, start, 0]];
    for (let next = queue.shift(); next; next = queue.shift()) {
      const [left, right, apart] = next;
      const key = next.join(',');
      for (const [a, countA] of this.#edges[left] ?? [])
        for (const [b, countB] of this.#edges[right] ?? []) {
          const letter = this.#common(a, b);
          if (letter === undefined) continue;
          const isTwofold = left === right && a === b && (countA > 1 || countB > 1);
          const nowApart = apart === 1 || a !== b || isTwofold ? 1 : 0;
          if (a === start && b === start && nowApart === 1) return this.#textTo(key, cameFrom) + letter;
          const reached = `${a},${b},${nowApart}`;
          if (cameFrom.has(reached)) continue;
          cameFrom.set(reached, { key, letter });
          queue.push([a, b, nowApart]);
        }
    }
    return undefined;
  }

  #common(a: number, b: number): string | undefined {
    const others = this.#takes[b];
    for (const letter of this.#takes[a] ?? []) if (others?.has(letter)) return letter;
    return undefined;
  }

  #textTo(key: string, cameFrom: ReadonlyMap<string, { readonly key: string; readonly letter: string }>): string {
    let text = '';
    for (let step = cameFrom.get(key); step && step.key !== ''; step = cameFrom.get(step.key))
      text = step.letter + text;
    return text;
  }
}

function sum(a: ReadonlyMap<number, Count>, b: ReadonlyMap<number, Count>): ReadonlyMap<number, Count> {
  const all = new Map(a);
  for (const [position, count] of b) all.set(position, cap((all.get(position) ?? 0) + count));
  return all;
}

const times = (a: ReadonlyMap<number, Count>, factor: Count): ReadonlyMap<number, Count> =>
  factor === 0 ? new Map() : new Map([...a].map(([position, count]) => [position, cap(count * factor)]));

/** Characters of every common sort, and those that the pattern itself names, with their neighbours. */
function samplesFor(source: string): readonly string[] {
  const named = [...source].flatMap((letter) => {
    const point = letter.codePointAt(0) ?? 0;
    return [point - 1, point, point + 1]
      .filter((one) => one > 0 && (one < 0xd800 || one > 0xdfff) && one <= 0x10ffff)
      .map((one) => String.fromCodePoint(one));
  });
  return [...new Set([...'aAzZ09_ -.,:;/@#!?"\'()[]{}+*&%$\t\n\réßñ中あא😀', ...named])];
}
