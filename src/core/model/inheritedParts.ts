import type { FieldDoc } from '../definition/field.ts';
import type { KitDoc, Origin, Origins, Uses } from '../definition/shared.ts';
import type { Rule, TypeDoc } from '../definition/type.ts';
import { compact, type Json, ownValue, type Path } from '../plain/json.ts';

/** A place in a model file. */
export interface FilePlace {
  readonly file: string;
  readonly path: Path;
}

/** A place that says something about a field, and its content. */
export interface StatingFile extends FilePlace {
  readonly data: Json;
}

/** A field made whole, and every place that says something about it: the outermost first, the nearest last. */
export interface ResolvedField {
  readonly definition: FieldDoc;
  readonly origin?: Origin | undefined;
  readonly inside?: Origins | undefined;
  readonly places: readonly StatingFile[];
}

/** Something with fields made whole. */
export interface ResolvedPart<T> {
  readonly definition: T;
  readonly fields: ReadonlyMap<string, ResolvedField>;
  readonly rules: readonly FilePlace[];
  readonly file: string;
}

/** A field that a type takes from elsewhere, and from where in words. */
export interface Arriving extends ResolvedField {
  readonly from: string;
}

/** A kit that a type or another kit uses, and which of its kits that is. */
export interface UsedKit {
  readonly kit: string;
  readonly resolved: ResolvedPart<KitDoc>;
  readonly index: number;
}

/** What a type or a kit takes from its kits, beside their fields. */
export interface FromKits {
  readonly groups: readonly string[];
  readonly rules: readonly Rule[];
  readonly rulePlaces: readonly FilePlace[];
}

/** The options of a type over those of its base type: built-in facts and previews each by their names. */
export function inheritedOptions(base: TypeDoc | undefined, options: Omit<TypeDoc, 'fields'>): Omit<TypeDoc, 'fields'> {
  if (!base) return options;

  const { titled, guide, order, byline, versions, builtIn, previews } = base;
  const merged = compact({
    builtIn: builtIn && { ...builtIn, ...options.builtIn },
    previews: previews && { ...previews, ...options.previews },
  });

  return { ...compact({ titled, guide, order, byline, versions }), ...options, ...merged };
}

/** The types that one extends, the nearest first; each once, where they go round in a circle. */
export function basesIn(uses: ReadonlyMap<string, Uses>, type: string): readonly string[] {
  const bases: string[] = [];
  const baseOf = (typeName: string): string | undefined => uses.get(typeName)?.extends;
  for (let base = baseOf(type); base !== undefined && !bases.includes(base); base = baseOf(base)) bases.push(base);
  return bases;
}

/** Whether a definition was resolved without a circle. */
export const isMade = <T>(item: T | 'circle' | undefined): item is T => item !== undefined && item !== 'circle';

/** The definition of a resolved part. */
export const definitionOf = <T>(resolved: ResolvedPart<T> | 'circle' | undefined): T | 'circle' | undefined => {
  if (!isMade(resolved)) return resolved;
  return resolved.definition;
};

/** Groups, each once, and rules: what a type or a kit says of them, with those that it takes over. */
export function partsOf(
  groups: readonly (readonly string[] | undefined)[],
  rules: readonly (readonly Rule[] | undefined)[],
): Pick<TypeDoc, 'groups' | 'rules'> {
  const merged = {
    groups: [...new Set(groups.flatMap((group) => group ?? []))],
    rules: rules.flatMap((rule) => rule ?? []),
  };
  return compact({
    groups: merged.groups.length > 0 ? merged.groups : undefined,
    rules: merged.rules.length > 0 ? merged.rules : undefined,
  });
}

/** The groups and rules that kits add to a type. */
export const fromKits = (kits: readonly UsedKit[]): FromKits => ({
  groups: kits.flatMap(({ resolved }) => resolved.definition.groups ?? []),
  rules: kits.flatMap(({ resolved }) => resolved.definition.rules ?? []),
  rulePlaces: kits.flatMap(({ resolved }) => resolved.rules),
});

/** The definitions of resolved fields, by name. */
export const formsOf = (fields: ReadonlyMap<string, ResolvedField>): Readonly<Record<string, FieldDoc>> =>
  Object.fromEntries([...fields].map(([name, { definition }]) => [name, definition]));

/** What the fields that are defined here were made of. */
export function originsOf(fields: ReadonlyMap<string, ResolvedField>): Origins | undefined {
  const origins = [...fields].flatMap(([name, { origin, inside = {} }]) => [
    ...(origin ? [[name, origin] as const] : []),
    ...Object.entries(inside).map(([deeper, origin]) => [`${name}.${deeper}`, origin] as const),
  ]);
  if (origins.length > 0) return Object.fromEntries(origins);
  return undefined;
}

/** The places of rules in their file. */
export const rulePlaces = (rules: readonly Rule[] | undefined, file: string): readonly FilePlace[] =>
  (rules ?? []).map((_, index) => ({ file, path: ['rules', index] }));

/** The kit that says what a path inside a field leads to, and the path in that kit. */
export function kitInside(
  origins: Origins = {},
  path: Path,
): { readonly kit: string; readonly path: Path } | undefined {
  const keys: string[] = [];
  for (const [index, part] of path.entries()) {
    if (part === 'fields') continue;
    keys.push(String(part));
    const origin = ownValue(origins, keys.join('.'));
    if (origin && 'kit' in origin) return { kit: origin.kit, path: ['fields', ...path.slice(index)] };
  }

  return undefined;
}
