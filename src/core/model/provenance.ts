import type { FieldDoc } from '../definition/field.ts';
import type { ModelDoc } from '../definition/model.ts';
import type { Origins, Shared } from '../definition/shared.ts';
import { compact, isObject, ownValue } from '../plain/json.ts';
import { onceFor } from '../plain/once.ts';

/** The names of everything that a model defines at its top, which it may use once each. */
export const namesIn = ({ types, taxonomies, shared: { kits = {}, fields = {}, kinds = {} } = {} }: ModelDoc) =>
  [types, taxonomies, kits, fields, kinds].flatMap((part) => Object.keys(part));

/** Where a field of a type comes from: outermost first, as a person would follow it. */
export interface Provenance {
  readonly what: 'type' | 'kit' | 'field' | 'kind';
  readonly name: string;
  /** What the field is called in that type or kit. */
  readonly field?: string;
}

/**
 * Where a field of a type comes from: the base type or the kit it arrived by, the definition or the kind it is made of.
 * @param field its name; inside objects with dots, `hours.opens`.
 */
export function provenanceOf(model: ModelDoc, type: string, field: string): readonly Provenance[] {
  const { types = {} } = model.shared ?? {};
  const [outer = ''] = field.split('.');
  const hasIt = (base: string): boolean => Object.hasOwn(ownValue(model.types, base)?.fields ?? {}, outer);
  const way: Provenance[] = [];
  for (const typeName of [type, ...basesOf(model.shared, type)]) {
    if (typeName !== type && !hasIt(typeName)) break;
    if (typeName !== type) way.push({ what: 'type', name: typeName, field });
    const kit = kitWith(model, ownValue(types, typeName)?.kits, outer);
    if (kit !== undefined) return [...way, ...kitSteps(model, kit, field)];
  }

  const last = way.at(-1)?.name ?? type;

  return [...way, ...originStep(model, ownValue(types, last)?.origins, field)];
}

/** A type or a kit that has a field, with what the field is called there. */
export interface Maker {
  readonly what: 'type' | 'kit';
  readonly name: string;
  readonly field: string;
}

/** The way by which a field comes to a type: the type or kit that makes it last, those that only pass it on before. */
export const makersOf = (model: ModelDoc, type: string, field: string): readonly Maker[] => [
  { what: 'type', name: type, field },
  ...provenanceOf(model, type, field).flatMap((provenance): readonly Maker[] =>
    provenance.what === 'type' || provenance.what === 'kit'
      ? [{ what: provenance.what, name: provenance.name, field: provenance.field ?? field }]
      : [],
  ),
];

/** A field of a type as those types and kits define it by which it arrives. @param field its name, outside any object. */
export const definitionsOnTheWay = (model: ModelDoc, type: string, field: string): readonly FieldDoc[] =>
  makersOf(model, type, field)
    .slice(1)
    .flatMap((maker) => {
      const { types, shared } = model;
      const definition = maker.what === 'type' ? ownValue(types, maker.name) : ownValue(shared?.kits ?? {}, maker.name);
      return ownValue(definition?.fields ?? {}, maker.field) ?? [];
    });

/** The type or the kit in which a field of a type is made: the type itself, where it does not arrive from elsewhere. */
export const makerOf = (model: ModelDoc, type: string, field: string): Maker =>
  makersOf(model, type, field).at(-1) ?? { what: 'type', name: type, field };

const kitWith = ({ shared }: ModelDoc, names: readonly string[] | undefined, field: string): string | undefined =>
  names?.find((name) => Object.hasOwn(ownValue(shared?.kits ?? {}, name)?.fields ?? {}, field));

/** A kit, and where it has a field from: another kit, the definition or the kind it is made of. */
function kitSteps(model: ModelDoc, kit: string, field: string): readonly Provenance[] {
  const definition = ownValue(model.shared?.kits ?? {}, kit);
  const [outer = ''] = field.split('.');
  const inner = kitWith(model, definition?.kits, outer);
  return [
    { what: 'kit', name: kit, field },
    ...(inner === undefined ? originStep(model, definition?.origins, field) : kitSteps(model, inner, field)),
  ];
}

/** The kit by which a field inside an object arrives, or an object above it, and the field as that kit calls it. */
function kitInside(origins: Origins, field: string): { readonly kit: string; readonly inKit: string } | undefined {
  const keys = field.split('.');
  for (const [index] of keys.entries()) {
    const origin = ownValue(origins, keys.slice(0, index + 1).join('.'));
    if (origin && 'kit' in origin) return { kit: origin.kit, inKit: keys.slice(index).join('.') };
  }

  return undefined;
}

function originStep(model: ModelDoc, origins: Origins = {}, field: string): readonly Provenance[] {
  const { shared } = model;
  const inside = kitInside(origins, field);
  if (inside) return kitSteps(model, inside.kit, inside.inKit);

  const origin = ownValue(origins, field);
  if (!origin || 'kit' in origin) return [];
  if ('use' in origin) return [{ what: 'field', name: origin.use }];

  const way: Provenance[] = [];
  // A kind may be built on another one of the model's own.
  for (let name: string | undefined = origin.kind; name !== undefined; name = ownValue(shared?.kinds ?? {}, name)?.on) {
    if (!Object.hasOwn(shared?.kinds ?? {}, name)) break;
    way.push({ what: 'kind', name });
  }

  return way;
}

/** The types that one extends, at any distance, the nearest first; each once, where they go round in a circle. */
export function basesOf(shared: Shared | undefined, type: string): readonly string[] {
  const baseOf = (typeName: string): string | undefined => ownValue(shared?.types ?? {}, typeName)?.extends;
  const bases = new Set<string>();
  for (let base = baseOf(type); base !== undefined && base !== type && !bases.has(base); base = baseOf(base))
    bases.add(base);
  return [...bases];
}

/** The type that defines a field of one: the most general of those that it extends and that have the field, or itself. */
export const definingType = ({ types, shared }: ModelDoc, type: string, field: string): string =>
  basesOf(shared, type).findLast((base) => Object.hasOwn(ownValue(types, base)?.fields ?? {}, field)) ?? type;

/** The type and those that extend it, at any distance: whatever is where the type is accepted. */
export function typesAcceptedAs(shared: Shared | undefined, type: string): readonly string[] {
  const names = new Set<string>();
  const accept = (typeName: string): void => {
    if (names.has(typeName)) return;
    names.add(typeName);
    for (const [name, uses] of Object.entries(shared?.types ?? {})) if (uses.extends === typeName) accept(name);
  };

  accept(type);
  return [...names];
}

/** The names of fields and of those inside them, with dots. */
export const namesWithin: (fields: Readonly<Record<string, FieldDoc>>) => readonly string[] = onceFor((fields) =>
  Object.entries(fields).flatMap(([name, { fields: inside, keys, value }]) => {
    if (inside === undefined && keys === undefined && value === undefined) return [name];
    const inner = { ...(isObject(inside) ? inside : {}), ...compact({ keys, value }) } as Record<string, FieldDoc>;
    return [name, ...namesWithin(inner).map((deeper) => `${name}.${deeper}`)];
  }),
);

/** Whether a field comes from a shared part. */
export const isMadeOf = (provenance: readonly Provenance[], part: Provenance): boolean =>
  provenance.some(({ what: category, name }) => category === part.what && name === part.name);

/** The types that a kit, a base type or a shared definition reaches. */
export function reachOf(model: ModelDoc, part: Provenance): readonly string[] {
  const { shared, types } = model;
  return Object.keys(types).filter(
    (type) =>
      (part.what === 'kit' && ownValue(shared?.types ?? {}, type)?.kits?.includes(part.name)) ||
      (part.what === 'type' && part.name !== type && typesAcceptedAs(shared, part.name).includes(type)) ||
      namesWithin(types[type]?.fields ?? {}).some((field) => isMadeOf(provenanceOf(model, type, field), part)),
  );
}
