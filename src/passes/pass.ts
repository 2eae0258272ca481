import type { EntryStore, Shift, Stored, Unreadable } from '../stores/store.ts';
import type { MemorySpace } from '../workspace/memory/partMemory.ts';
import type { FoundSoFar } from './progress.ts';

/**
 * Work on every entry of a store. A worker makes a result of each part of the store; the pass takes the results in the
 * order of the store; then the pass finishes.
 *
 * A result is plain data wherever other workers take part. Each pass is handed its own results, so its
 * functions are declared as methods: passes of all sorts can be walked together.
 */
export interface Pass<Result, Made = unknown, Rest = unknown> {
  /** Prepares the work in this thread. Called once, and only where this thread has to work. */
  prepare(store: EntryStore): Promise<BeginPart<Made, Rest>>;
  /** The same work for other workers; absent where only this thread can do it. */
  readonly elsewhere?: WorkRequest | undefined;
  /** Where results are kept for the next time; absent where nothing is kept. */
  readonly memory?: MemorySpace | undefined;
  /** Takes the result for the next part, or for the next piece of a part. */
  take(part: PartMade<Made, Rest>): Promise<void> | void;
  /** The result for a part that has moved in its file. */
  moved?(result: Made, by: Shift): Made;
  /** The same of the rest. */
  movedRest?(rest: Rest, by: Shift): Rest;
  /** The findings so far, shown while the walk lasts. */
  soFar?(): FoundSoFar | undefined;
  finish(): Promise<Result> | Result;
}

/** Begins the work on a part. */
export type BeginPart<Made, Rest = undefined> = () => PartWork<Made, Rest>;

/** The work on one part: it sees each entry once, in order. */
export interface PartWork<Made, Rest = undefined> {
  see(stored: Stored): Promise<void> | void;
  /** Takes what cannot be read as an entry. */
  unreadable?(item: Unreadable): void;
  /** @param mayBeKept whether the result may be kept for the next time. */
  done(mayBeKept: boolean): PartResult<Made, Rest>;
}

/** The result of the work on a part. */
export interface PartResult<Made, Rest = undefined> {
  readonly result: Made;
  /** The rest of it: large, seldom needed again, and kept apart. */
  readonly rest: Rest;
  /** Whether the result holds at any other moment too. */
  readonly isLasting?: boolean;
}

/** What a pass takes of a part. */
interface PartMade<Made, Rest> {
  readonly result: Made;
  /** The rest; where it is kept from an earlier time, what reads it. */
  readonly rest: Rest | (() => Promise<Rest>);
  /** The key under which the part is kept: another one once anything in the part is. */
  readonly key: string | undefined;
}

/** Work that any worker can do: it is known by its name, and all it needs is plain data. */
export interface Work<Data = unknown, Made = unknown, Rest = unknown> {
  readonly name: string;
  prepare(data: Data, store: EntryStore): Promise<BeginPart<Made, Rest>>;
}

/** A request to a worker: plain data. */
export interface WorkRequest {
  /** The name of the work. */
  readonly work: string;
  readonly data: unknown;
}

/** Asks for work. */
export const request = <Data>({ name }: Work<Data>, data: Data): WorkRequest => ({ work: name, data });

/** Work on each entry, in this thread alone. */
export interface EachEntry<Result> extends Pick<PartWork<undefined>, 'see' | 'unreadable'> {
  finish(): Result;
}

/** A pass that needs this thread: its work is no plain data. */
export const eachEntry = <Result>({
  see,
  unreadable,
  finish,
}: EachEntry<Result>): Pass<Result, undefined, undefined> => ({
  prepare: async () => () => ({
    see,
    ...(unreadable && { unreadable }),
    done: () => ({ result: undefined, rest: undefined }),
  }),
  take: () => undefined,
  finish,
});
