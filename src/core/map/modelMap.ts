import { type FieldDoc, isRequiredOf } from '../definition/field.ts';
import { wordsIn } from '../definition/wording.ts';
import type { Field, Model, Type } from '../model/link.ts';
import { fieldsWithin } from '../model/nestedFields.ts';
import { provenanceOf } from '../model/provenance.ts';
import { compact, own } from '../plain/json.ts';
import { capital, humanize } from '../plain/words.ts';

/** A model as boxes and what leads from one to another. */
export interface ModelMap {
  readonly boxes: readonly Box[];
  readonly arrows: readonly Arrow[];
}

/** A type, a kit or a taxonomy. */
export interface Box {
  readonly what: 'type' | 'kit' | 'taxonomy';
  readonly name: string;
  readonly label: string;
  /** The fields of a type or a kit by the groups of their form; those of kits stand in the boxes of these. */
  readonly groups: readonly { readonly group?: string; readonly fields: readonly FieldOfBox[] }[];
  /** How many terms a taxonomy has. */
  readonly terms?: number;
}

export interface FieldOfBox {
  readonly name: string;
  readonly label: string;
  readonly kind: string;
  readonly many: boolean;
  readonly required: boolean;
  /** All that is said of it: by that it shows whether it changed. */
  readonly definition: FieldDoc;
}

/** What leads from one box to another: a reference, the use of a taxonomy or a kit, or that a type extends another. */
export interface Arrow {
  readonly what: 'reference' | 'term' | 'kit' | 'extends';
  readonly from: string;
  readonly to: string;
  /** The path of the field, of a reference or a term. */
  readonly field?: string;
  /** What a reference is called as seen from its target. */
  readonly inverse?: string;
  /** Whether one entry may point at several, and whether several may point at one. */
  readonly toMany?: boolean;
  readonly fromMany?: boolean;
  /** The addresses by which it is counted how often it is used: one for each type that has the field. */
  readonly addresses?: readonly string[];
}

/** How boxes are named in arrows: names of types, kits and taxonomies may be the same. */
export const boxId = ({ what, name }: Pick<Box, 'what' | 'name'>): string => `${what}:${name}`;

/** Draws up the map of a model: nothing of how it looks. */
export function mapOf(model: Model): ModelMap {
  const { definition, types, taxonomies, readingOrder } = model;
  const { kits = {}, types: uses = {} } = definition.shared ?? {};
  const owners = ownersIn(model);
  const fieldsIn = (box: string): readonly Field[] => [...(owners.get(box)?.values() ?? [])].map(({ field }) => field);
  const boxes: readonly Box[] = [
    ...[...types.values()].map(
      (type): Box => ({
        what: 'type',
        name: type.name,
        label: capital(type.label.one),
        groups: groupsOf(type, fieldsIn(`type:${type.name}`)),
      }),
    ),
    ...Object.keys(kits).map(
      (name): Box => ({
        what: 'kit',
        name,
        label: humanize(name),
        groups: [{ fields: fieldsIn(`kit:${name}`).map(fieldOfBox) }],
      }),
    ),
    ...[...taxonomies.values()].map(
      ({ name, definition: one, terms }): Box => ({
        what: 'taxonomy',
        name,
        label: wordsIn(one.label, readingOrder) ?? humanize(name),
        groups: [],
        terms: terms.size,
      }),
    ),
  ];
  const arrows = [
    ...[...owners].flatMap(([box, fields]) => [...fields.values()].flatMap((one) => arrowsOf(box, one))),
    ...[...types.keys()].flatMap((name): readonly Arrow[] => {
      const { extends: base, kits: used = [] } = own(uses, name) ?? {};
      const from = boxId({ what: 'type', name });
      return [
        ...(base === undefined ? [] : [{ what: 'extends', from, to: boxId({ what: 'type', name: base }) } as const]),
        ...used.map((kit) => ({ what: 'kit', from, to: boxId({ what: 'kit', name: kit }) }) as const),
      ];
    }),
  ];
  const known = new Set(boxes.map(boxId));
  return { boxes, arrows: arrows.filter(({ to }) => known.has(to)) };
}

/** A field where it is drawn, with the types whose entries have it there. */
interface Owned {
  readonly field: Field;
  readonly in: string[];
}

/** The fields of each box: what arrives by a kit or a base type is drawn where it is made, once. */
function ownersIn({ definition, types }: Model): ReadonlyMap<string, ReadonlyMap<string, Owned>> {
  const owners = new Map<string, Map<string, Owned>>();
  for (const type of types.values())
    for (const field of type.fields.values()) {
      const made = provenanceOf(definition, type.name, field.name).find(
        ({ what }) => what === 'type' || what === 'kit',
      );
      const box = boxId(
        made?.what === 'kit' || made?.what === 'type'
          ? { what: made.what, name: made.name }
          : { what: 'type', name: type.name },
      );
      const fields = owners.get(box) ?? new Map<string, Owned>();
      owners.set(box, fields);
      const owned = fields.get(field.name) ?? { field, in: [] };
      fields.set(field.name, owned);
      owned.in.push(type.name);
    }
  return owners;
}

function groupsOf({ definition }: Type, fields: readonly Field[]): Box['groups'] {
  const names = [undefined, ...(definition.groups ?? [])];
  return names.flatMap((group) => {
    const those = fields.filter(({ common }) => (common.group ?? undefined) === group);
    return those.length === 0 ? [] : [compact({ group, fields: those.map(fieldOfBox) })];
  });
}

const fieldOfBox = ({ name, label, kind, common, definition }: Field): FieldOfBox => ({
  name,
  label,
  kind: kind.name,
  many: common.many !== undefined,
  required: common.required !== undefined && isRequiredOf(common.required, 'published'),
  definition,
});

function arrowsOf(from: string, { field: outer, in: types }: Owned): readonly Arrow[] {
  return fieldsWithin(new Map([[outer.name, outer]])).flatMap((field): readonly Arrow[] => {
    const { kind, options, common, name } = field;
    const { types: targets, inverse, inverseMax } = kind.pointsAt(options);
    const taxonomy = kind.taxonomy(options);
    const addresses = [...new Set([field.address, ...types.map((type) => `${type}.${name}`)])];
    return [
      ...targets.map((type) =>
        compact({
          what: 'reference' as const,
          from,
          to: boxId({ what: 'type', name: type }),
          field: name,
          inverse,
          toMany: common.many !== undefined,
          fromMany: inverseMax !== 1,
          addresses,
        }),
      ),
      ...(taxonomy === undefined
        ? []
        : [{ what: 'term', from, to: boxId({ what: 'taxonomy', name: taxonomy }), field: name, addresses } as const]),
    ];
  });
}

/** The part of a map around some boxes: those, and what so many arrows lead to, whichever way. */
export function around<B extends Pick<Box, 'what' | 'name'>, A extends Pick<Arrow, 'from' | 'to'>>(
  { boxes, arrows }: { readonly boxes: readonly B[]; readonly arrows: readonly A[] },
  ids: readonly string[],
  depth: number,
): { readonly boxes: readonly B[]; readonly arrows: readonly A[] } {
  const near = new Set(ids);
  for (let step = 0; step < depth; step += 1) {
    const next = arrows.filter(({ from, to }) => near.has(from) || near.has(to)).flatMap(({ from, to }) => [from, to]);
    for (const id of next) near.add(id);
  }
  return {
    boxes: boxes.filter((box) => near.has(boxId(box))),
    arrows: arrows.filter(({ from, to }) => near.has(from) && near.has(to)),
  };
}
