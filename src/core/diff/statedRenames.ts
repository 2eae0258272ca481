import { beside, keyOfField } from '../definition/fieldName.ts';
import type { ModelDoc } from '../definition/model.ts';
import { addressOfRename, type Rename } from '../definition/rename.ts';
import type { Move } from '../model/move.ts';
import { namesBeside } from '../model/renameValues.ts';
import type { RenameGuess } from './differences/renamed.ts';

/** What the architect said about renames, so that nothing has to be guessed there. */
export interface StatedRenames {
  readonly renames: readonly Rename[];
  /** Addresses of the older model that are no renames, however much they look like it. */
  readonly apart: ReadonlySet<string>;
  /** Fields that are elsewhere in their types, in the names of the newer model. */
  readonly moves?: readonly Move[];
}

/** A stated rename of something that is not there before, or to something that is not there after. */
export interface Misstated {
  readonly rename: Rename;
  readonly missing: 'before' | 'after';
  /** The existing names. */
  readonly names: readonly string[];
}

/** Why a stated rename does not fit two models; `undefined` if it fits. */
export function misstatedIn(rename: Rename, before: ModelDoc, after: ModelDoc): Misstated | undefined {
  const old = namesBeside(before, rename);
  if (!old.includes(rename.what === 'field' ? keyOfField(rename.from) : rename.from))
    return { rename, missing: 'before', names: old };
  const names = namesBeside(after, rename);
  if (names.includes(rename.to)) return undefined;
  return { rename, missing: 'after', names };
}

/** A rename with its surroundings named as after some other renames: a type, a taxonomy, an object. */
export const inNewNames = (rename: Rename, done: readonly RenameGuess[]): Rename =>
  done.reduce((renamed, { rename: outer }) => renameAround(renamed, outer), rename);

/** The same the other way: called as it was before them. */
export const inOldNames = (rename: Rename, done: readonly RenameGuess[]): Rename =>
  done
    .toReversed()
    .filter(({ rename: { what: category } }) => category === 'type' || category === 'taxonomy')
    .reduce(
      (renamed, { rename: outer }) => renameAround(renamed, { ...outer, from: outer.to, to: outer.from }),
      rename,
    );

function renameAround(rename: Rename, outer: Rename): Rename {
  if (outer.what === 'type' && 'type' in rename && rename.type === outer.from) return { ...rename, type: outer.to };
  if (outer.what === 'taxonomy' && rename.what === 'term' && rename.taxonomy === outer.from)
    return { ...rename, taxonomy: outer.to };
  if (outer.what !== 'field') return rename;

  const renamed = (path: string): string => {
    if (path === outer.from || path.startsWith(`${outer.from}.`))
      return beside(outer.from, outer.to) + path.slice(outer.from.length);
    return path;
  };

  if (rename.what === 'choice' && rename.type === outer.type) return { ...rename, field: renamed(rename.field) };

  if (rename.what === 'field' && rename.type === outer.type && rename.from !== outer.from)
    return { ...rename, from: renamed(rename.from) };
  return rename;
}

/** A rename in the names that all had before some others. */
const undone = (rename: Rename, done: readonly Rename[]): Rename =>
  done.toReversed().reduce((renamed, outer) => {
    const from = outer.what === 'field' ? beside(outer.from, outer.to) : outer.to;
    return renameAround(renamed, { ...outer, from, to: keyOfField(outer.from) });
  }, rename);

interface Stated {
  readonly renames: readonly Rename[];
  readonly moves: readonly Move[];
}

/**
 * Statements about renames and moves, with a rename that was made after them. Renames are reported in the names of before,
 * moves in those of after.
 */
export function withRename({ renames, moves }: Stated, next: Rename): Stated {
  const first = undone(next, renames);
  const existing = renames.find(
    (rename) => addressOfRename({ ...rename, from: nowCalled(rename) }) === addressOfRename(first),
  );
  const last = existing ? { ...existing, to: next.to } : first;
  const isBack = (last.what === 'field' ? keyOfField(last.from) : last.from) === last.to;
  // A field that was moved is reported by its move alone.
  const isMoved = moves.some(({ type, to }) => next.what === 'field' && type === next.type && to === next.from);
  const otherRenames = renames.filter((rename) => rename !== existing);

  return {
    renames: isMoved || isBack ? otherRenames : [...otherRenames, last],
    moves: moves
      .map((move) => ({
        ...(renameAround({ what: 'field', ...move }, next) as Rename & { what: 'field' }),
        from: fieldAfter(move.type, move.from, next),
        to: fieldAfter(move.type, move.to, next),
      }))
      .map(({ type, from, to }) => ({ type, from, to })),
  };
}

/** The same with a move that was made after them. */
export function withMove({ renames, moves }: Stated, next: Move): Stated {
  const existing = moves.find(({ type, to }) => type === next.type && to === next.from);
  const otherMoves = moves.filter((move) => move !== existing);
  const last = existing ? { ...existing, to: next.to } : next;
  return { renames, moves: last.from === last.to ? otherMoves : [...otherMoves, last] };
}

/** The new place of a renamed part, with the old names of its surroundings. */
const nowCalled = ({ what: category, from, to }: Rename): string => {
  if (category !== 'field') return to;
  return beside(from, to);
};

const fieldAfter = (type: string, path: string, { what: category, ...next }: Rename): string => {
  if (
    category === 'field' &&
    'type' in next &&
    next.type === type &&
    (path === next.from || path.startsWith(`${next.from}.`))
  )
    return beside(next.from, next.to) + path.slice(next.from.length);
  return path;
};
