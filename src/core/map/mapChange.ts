import type { Rename } from '../definition/rename.ts';
import { equal, type Json } from '../plain/json.ts';
import { type Arrow, type Box, boxId, type FieldOfBox, type ModelMap } from './modelMap.ts';

/** The changes of a part of a map. */
type Mark = 'added' | 'removed' | 'changed' | 'renamed' | 'moved';

interface Marked {
  readonly mark?: Mark;
  /** Its name before; of moved parts, where it was. */
  readonly was?: string;
  /** Where it is now, of moved parts. */
  readonly now?: string;
}

/** A field that is elsewhere now, in the names of now: in an object, in none any more, in another type. */
export interface FieldMove {
  readonly type: string;
  readonly from: string;
  readonly toType: string;
  readonly to: string;
}

/** Parts with another name or another place. */
interface SameAs {
  readonly renames: readonly Rename[];
  readonly moves: readonly FieldMove[];
}

interface MarkedField extends FieldOfBox, Marked {}
interface MarkedBox extends Omit<Box, 'groups'>, Marked {
  readonly groups: readonly { readonly group?: string; readonly fields: readonly MarkedField[] }[];
}
type MarkedArrow = Arrow & Marked;

/** A map with the changes of its parts since another. */
export interface MapChange {
  readonly boxes: readonly MarkedBox[];
  readonly arrows: readonly MarkedArrow[];
}

/**
 * Lays two maps over each other: the new content, and removed parts beside it.
 * @param before the older model in the names of the newer one.
 */
export function changeOf(before: ModelMap, after: ModelMap, same: SameAs): MapChange {
  const old = new Map(before.boxes.map((box) => [boxId(box), box]));
  const boxesAfter = new Set(after.boxes.map(boxId));
  const boxes = [
    ...after.boxes.map((box) => markedBox(box, old.get(boxId(box)), same)),
    ...before.boxes.filter((box) => !boxesAfter.has(boxId(box))).map((box): MarkedBox => ({ ...box, mark: 'removed' })),
  ];
  const [were, are] = [before, after].map(({ arrows }) => new Map(arrows.map((arrow) => [keyOf(arrow), arrow])));

  return {
    boxes,
    arrows: [
      ...after.arrows.map((arrow): MarkedArrow => {
        const oldArrow = were?.get(keyOf(arrow));
        const move = same.moves.find(({ toType, to }) => arrow.from === typeId(toType) && arrow.field === to);
        if (move) return { ...arrow, mark: 'moved', was: placeBefore(move) };
        if (!oldArrow) return { ...arrow, mark: 'added' };
        if (sayShape(oldArrow) === sayShape(arrow)) return arrow;
        return { ...arrow, mark: 'changed' };
      }),
      ...before.arrows
        .filter((arrow) => !are?.has(keyOf(arrow)))
        .filter((arrow) => !same.moves.some(({ type, from }) => arrow.from === typeId(type) && arrow.field === from))
        .map((arrow): MarkedArrow => ({ ...arrow, mark: 'removed' })),
    ],
  };
}

/** The same with nothing said of its parts. */
export const unchanged = ({ boxes, arrows }: ModelMap): MapChange => ({ boxes, arrows });

const keyOf = ({ what: category, from, to, field = '' }: Arrow): string => `${category} ${from} ${field} ${to}`;

const sayShape = ({ inverse, toMany, fromMany }: Arrow): string => JSON.stringify([inverse, toMany, fromMany]);

const typeId = (name: string): string => boxId({ what: 'type', name });

const placeBefore = ({ type, from, toType }: FieldMove): string => {
  if (type === toType) return from;
  return `${type}.${from}`;
};

function markedBox(box: Box, old: Box | undefined, same: SameAs): MarkedBox {
  if (!old) return { ...box, mark: 'added' };

  const { renames } = same;
  const types = new Map(
    renames.flatMap((rename) => (rename.what === 'type' ? [[rename.from, rename.to] as const] : [])),
  );
  const formerName = renames.find(
    (rename) =>
      (rename.what === 'type' || rename.what === 'taxonomy') && rename.what === box.what && rename.to === box.name,
  )?.from;
  const fieldsBefore = new Map(old.groups.flatMap(({ fields }) => fields).map((field) => [field.name, field]));
  const names = new Set(box.groups.flatMap(({ fields }) => fields).map(({ name }) => name));
  const removedFields = [...fieldsBefore.values()].filter(({ name }) => !names.has(name));
  const groups = box.groups.map(({ fields, ...group }) => ({
    ...group,
    fields: fields.map((field): MarkedField => {
      const before = fieldsBefore.get(field.name);
      const move = same.moves.find(({ toType, to }) => toType === box.name && to.split('.')[0] === field.name);
      if (move && box.what === 'type') return { ...field, mark: 'moved', was: placeBefore(move) };
      if (!before) return { ...field, mark: 'added' };

      const renamed = renames.find(
        (rename) =>
          rename.what === 'field' && (types.get(rename.type) ?? rename.type) === box.name && rename.to === field.name,
      );
      if (renamed) return { ...field, mark: 'renamed', was: renamed.from };
      if (isSame(before, field)) return field;
      return { ...field, mark: 'changed' };
    }),
  }));
  const groupsBefore =
    removedFields.length > 0
      ? [...groups, { fields: removedFields.map((field): MarkedField => goneField(field, box, same)) }]
      : groups;
  const isTouched =
    groupsBefore.some(({ fields }) => fields.some(({ mark }) => mark !== undefined)) ||
    !equal(box.definition, old.definition);
  const touched = isTouched ? 'changed' : undefined;
  const mark = formerName === undefined ? touched : 'renamed';

  return {
    ...box,
    groups: groupsBefore,
    ...(mark ? { mark } : {}),
    ...(formerName === undefined ? {} : { was: formerName }),
  };
}

/** A field that is not there any more: gone for good, or to another type. */
function goneField(field: FieldOfBox, { what: category, name }: Box, { moves }: SameAs): MarkedField {
  const move = category === 'type' ? moves.find(({ type, from }) => type === name && from === field.name) : undefined;
  if (move) return { ...field, mark: 'moved', now: `${move.toType}.${move.to}` };
  return { ...field, mark: 'removed' };
}

const isSame = (a: FieldOfBox, b: FieldOfBox): boolean =>
  equal(a.definition as unknown as Json, b.definition as unknown as Json);
