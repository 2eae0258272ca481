import { keyOfField } from '../definition/fieldName.ts';
import type { ModelDoc } from '../definition/model.ts';
import type { TypeDoc } from '../definition/type.ts';
import { kinds } from '../kinds/index.ts';
import { type Move, moveInModel, pathAbove, unfitFor } from '../model/move.ts';
import { formOf } from '../model/nestedFields.ts';
import { namesWithin } from '../model/provenance.ts';
import { ownValue } from '../plain/json.ts';
import { isApart } from './apart.ts';
import { likeFields } from './likeFields.ts';
import { pair, unlike, type Weight } from './likeness.ts';
import { typesThatDiffer } from './typesThatDiffer.ts';

/** A field that is elsewhere in its type, which was recognised, or stated by the architect. */
export interface MoveGuess {
  readonly move: Move;
  /** How sure it is, from 0 to 1; 1 where it was stated. */
  readonly sure: number;
  readonly reasons: readonly string[];
  readonly stated: boolean;
}

/** What goes for moves beside the models. */
interface StatedMoves {
  /** Moves that the architect stated. */
  readonly moves: readonly Move[];
  /** Addresses of fields that were not moved, however much they look like it. */
  readonly apart: ReadonlySet<string>;
}

/** How sure a move has to be: it is stated beside a removed field and a new one that are called alike. */
const worthSaying = 0.7;

/**
 * Recognises fields that only are elsewhere in their type: in an object, or in none any more. Outer fields come first,
 * and each move is carried out before the next is looked for, so that what stood inside goes along.
 * @returns the moves, the older model with all of them carried out, and the stated moves that do not fit.
 */
export function matchMoves(
  before: ModelDoc,
  after: ModelDoc,
  stated: StatedMoves,
): { readonly moves: readonly MoveGuess[]; readonly moved: ModelDoc; readonly misplaced: readonly Move[] } {
  const moves: MoveGuess[] = [];
  let model = before;

  const accept = (guess: MoveGuess): void => {
    moves.push(guess);
    model = moveInModel(model, guess.move);
  };

  const misplaced: Move[] = [];
  for (const move of stated.moves)
    if (isPossible(move, model, after)) accept({ move, sure: 1, reasons: ['you said so'], stated: true });
    else misplaced.push(move);

  for (const { type: name } of typesThatDiffer(model, after)) {
    for (let depth = 0; depth < deepest; depth += 1)
      for (const guess of movesIn(name, model, after, { depth, apart: stated.apart }))
        accept({ ...guess, stated: false });
  }

  return { moves, moved: model, misplaced };
}

/** So deep fields are looked for inside objects. */
const deepest = 6;

/** Whether a field can be where it is stated to, by the models on both sides. */
function isPossible({ type, from, to }: Move, before: ModelDoc, after: ModelDoc): boolean {
  const [oldFields, newFields] = [ownValue(before.types, type)?.fields, ownValue(after.types, type)?.fields];
  if (
    !oldFields ||
    !newFields ||
    !formOf(oldFields, from) ||
    formOf(oldFields, to) ||
    !formOf(newFields, to) ||
    formOf(newFields, from)
  )
    return false;
  return unfitFor(oldFields, { from, to }) === undefined && unfitFor(newFields, { from, to }, [to]) === undefined;
}

/** How sure it is at most that a field which is gone, or one that is new, belongs together with one in another place. */
export interface Elsewhere {
  readonly gone: ReadonlyMap<string, number>;
  readonly isNew: ReadonlyMap<string, number>;
}

/** What speaks for moves in a type, for anyone who would take the same fields for something else. */
export function elsewhereIn(type: string, before: ModelDoc, after: ModelDoc, apart: ReadonlySet<string>): Elsewhere {
  const [removed, isNew] = [new Map<string, number>(), new Map<string, number>()];
  const [oldFields, newFields] = [ownValue(before.types, type)?.fields, ownValue(after.types, type)?.fields];
  if (!oldFields || !newFields) return { gone: removed, isNew };

  const from = namesWithin(oldFields).filter((name) => !formOf(newFields, name));
  const to =
    from.length > 0 ? namesWithin(newFields).filter((name) => formOf(newFields, name) && !formOf(oldFields, name)) : [];
  // Where all are in the type itself, nothing can have been moved.
  if (![...from, ...to].some((name) => name.includes('.'))) return { gone: removed, isNew };

  for (const a of from)
    for (const b of to) {
      const move = { type, from: a, to: b };
      const isOpen = !isRefused(move, apart) && isPossible(move, before, after);
      const certainty = isOpen ? likeMoved([a, oldFields], [b, newFields]).sure : 0;
      if (certainty < worthSaying) continue;
      removed.set(a, Math.max(certainty, removed.get(a) ?? 0));
      isNew.set(b, Math.max(certainty, isNew.get(b) ?? 0));
    }

  return { gone: removed, isNew };
}

/** Whether somebody said that a field was not moved, or not there. */
const isRefused = ({ type, from, to }: Move, apart: ReadonlySet<string>): boolean =>
  isApart(apart, `${type}.${from}`, `${type}.${to}`);

/** The moves in a type of fields that stand so many objects deep before. */
function movesIn(
  type: string,
  before: ModelDoc,
  after: ModelDoc,
  { depth, apart }: { readonly depth: number; readonly apart: ReadonlySet<string> },
): readonly Omit<MoveGuess, 'stated'>[] {
  const [oldFields, newFields] = [ownValue(before.types, type)?.fields, ownValue(after.types, type)?.fields];
  if (!oldFields || !newFields) return [];

  const removed = namesWithin(oldFields).filter((name) => depthOf(name) === depth && !formOf(newFields, name));
  const isNew =
    removed.length > 0
      ? namesWithin(newFields).filter((name) => formOf(newFields, name) && !formOf(oldFields, name))
      : [];

  const like = (from: string, to: string): Weight => {
    const move = { type, from, to };
    if (isRefused(move, apart) || !isPossible(move, before, after)) return unlike;
    const weight = likeMoved([from, oldFields], [to, newFields]);
    if (weight.sure >= worthSaying) return weight;
    return unlike;
  };

  return pair(removed, isNew, like).map(({ from, to, ...guess }) => ({ move: { type, from, to }, ...guess }));
}

const depthOf = (name: string): number => name.split('.').length - 1;

function likeMoved(
  [from, oldFields]: readonly [string, TypeDoc['fields']],
  [to, newFields]: readonly [string, TypeDoc['fields']],
): Weight {
  const [a, b] = [formOf(oldFields, from), formOf(newFields, to)];
  const isBody = a !== undefined && kinds.get(a.kind)?.isBody(a) === true;
  if (!a || !b || isBody || pathAbove(from) === pathAbove(to)) return unlike;
  return likeFields([keyOfField(from), a], [keyOfField(to), b], () => undefined);
}
