import { type FieldDoc, isRequiredOf } from '../definition/field.ts';
import { wordsIn } from '../definition/wording.ts';
import { type Field, linkField, type Model, type Type } from '../model/link.ts';
import { fieldsWithin } from '../model/nestedFields.ts';
import { makerOf, makersOf } from '../model/provenance.ts';
import { compact, type Json, ownValue } from '../plain/json.ts';
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
  /** The fields of a type or a kit by the groups of their form; those of kits are in the boxes of these. */
  readonly groups: readonly { readonly group?: string; readonly fields: readonly FieldOfBox[] }[];
  /** How many terms a taxonomy has. */
  readonly terms?: number;
  /** All that is stated of it beside its fields: by that it shows whether it changed. */
  readonly definition: Json;
}

/** A field in the box of its type. */
export interface FieldOfBox {
  readonly name: string;
  readonly label: string;
  readonly kind: string;
  readonly many: boolean;
  readonly required: boolean;
  /** All that is stated of it: by that it shows whether it changed. */
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
export const boxId = ({ what: category, name }: Pick<Box, 'what' | 'name'>): string => `${category}:${name}`;

const typeBox = (name: string): string => boxId({ what: 'type', name });

/** Draws up the map of a model: nothing of how it looks. */
export function mapOf(model: Model): ModelMap {
  const { definition, types, taxonomies, readingOrder } = model;
  const { kits = {}, types: uses = {} } = definition.shared ?? {};
  const boxes: readonly Box[] = [
    ...[...types.values()].map(
      (type): Box => ({
        what: 'type',
        name: type.name,
        label: capital(type.label.one),
        groups: groupsOf(
          type,
          [...type.fields.values()].filter(({ name }) => makersOf(definition, type.name, name).length === 1),
        ),
        definition: withoutFields(type.definition),
      }),
    ),
    ...Object.entries(kits).map(
      ([name, kit]): Box => ({
        what: 'kit',
        name,
        label: humanize(name),
        groups: [{ fields: fieldsOfKit(name, model) }],
        definition: withoutFields(kit),
      }),
    ),
    ...[...taxonomies.values()].map(
      ({ name, definition, terms }): Box => ({
        what: 'taxonomy',
        name,
        label: wordsIn(definition.label, readingOrder) ?? humanize(name),
        groups: [],
        terms: terms.size,
        definition: definition as unknown as Json,
      }),
    ),
  ];
  const arrows = [
    ...madeIn(model).flatMap(arrowsOf),
    ...[...types.keys()].flatMap((name): readonly Arrow[] => {
      const base = ownValue(uses, name)?.extends;
      if (base === undefined) return [];
      return [{ what: 'extends', from: typeBox(name), to: typeBox(base) }];
    }),
    ...kitArrows(model),
  ];
  const knownBoxes = new Set(boxes.map(boxId));

  return { boxes, arrows: arrows.filter(({ to }) => knownBoxes.has(to)) };
}

/** A field where it is made, with its addresses in all types that have it. */
interface FieldRow {
  readonly box: string;
  /** Its name there. */
  readonly name: string;
  readonly field: Field;
  readonly addresses: string[];
}

/** All fields, those inside objects too: what arrives by a kit or a base type once, where it is made. */
function madeIn({ definition, types }: Model): readonly FieldRow[] {
  const rows = new Map<string, FieldRow>();
  for (const type of types.values())
    for (const field of fieldsWithin(type.fields)) {
      const maker = makerOf(definition, type.name, field.name);
      const box = boxId(maker);
      const key = `${box} ${maker.field}`;
      const row = rows.get(key) ?? { box, name: maker.field, field, addresses: [] };
      rows.set(key, row);
      row.addresses.push(`${type.name}.${field.name}`);
    }

  return [...rows.values()];
}

/** Which kits are in which types and kits: at their top, or in an object of theirs. */
function kitArrows({ definition, types }: Model): readonly Arrow[] {
  if (definition.shared?.kits === undefined) return [];

  const pairs = new Map<string, Arrow>();
  for (const type of types.values())
    for (const field of fieldsWithin(type.fields)) {
      const way = makersOf(definition, type.name, field.name);
      for (const [index, to] of way.entries()) {
        const from = way[index - 1];
        if (to.what !== 'kit' || !from) continue;
        const arrow: Arrow = { what: 'kit', from: boxId(from), to: boxId(to) };
        pairs.set(`${arrow.from} ${arrow.to}`, arrow);
      }
    }

  return [...pairs.values()];
}

/** The fields that a kit makes; those of kits inside it are drawn there. */
function fieldsOfKit(name: string, { definition, readingOrder }: Model): readonly FieldOfBox[] {
  const { kits = {} } = definition.shared ?? {};
  const { fields = {}, kits: inner = [] } = ownValue(kits, name) ?? {};
  return Object.entries(fields).flatMap(([key, definition]) => {
    const isElsewhere = inner.some((kit) => Object.hasOwn(ownValue(kits, kit)?.fields ?? {}, key));
    const field = isElsewhere ? undefined : linkField({ type: name }, key, definition, readingOrder);
    if (!field) return [];
    return [fieldOfBox(field)];
  });
}

const withoutFields = ({ fields: _, ...definition }: { readonly fields?: unknown }): Json => definition as Json;

function groupsOf({ definition }: Type, fields: readonly Field[]): Box['groups'] {
  const names = [undefined, ...(definition.groups ?? [])];
  return names.flatMap((group) => {
    const those = fields.filter(({ common }) => (common.group ?? undefined) === group);
    if (those.length === 0) return [];
    return [compact({ group, fields: those.map(fieldOfBox) })];
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

function arrowsOf({ box: from, name, field: { kind, options, common }, addresses }: FieldRow): readonly Arrow[] {
  const { types: targets, inverse, inverseMax } = kind.pointsAt(options);
  const taxonomy = kind.taxonomy(options);

  return [
    ...targets.map((type) =>
      compact({
        what: 'reference' as const,
        from,
        to: typeBox(type),
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
