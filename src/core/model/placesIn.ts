import { at, equal, type Path } from '../plain/json.ts';
import { type FilePlace, kitInside, type ResolvedPart } from './inheritedParts.ts';

/** Finds a kit by its name, whose fields stand inside a field. */
type KitNamed = (name: string) => ResolvedPart<unknown> | undefined;

/** Where something is written that a path of a type or a kit leads to: the nearest place that says it. */
export function placeIn({ fields, rules, file }: ResolvedPart<unknown>, path: Path, kitNamed: KitNamed): FilePlace {
  const [part, name, ...rest] = path;
  if (part === 'rules') {
    const rule = rules[Number(name)];
    if (rule) return { file: rule.file, path: [...rule.path, ...rest] };
    return { file, path };
  }

  const field = part === 'fields' ? fields.get(String(name)) : undefined;
  if (!field) return { file, path };

  const source = field.places.findLast(({ data }) => at(data, rest) !== undefined);
  const inside = source ? undefined : kitInside(field.inside, rest);
  const kit = inside && kitNamed(inside.kit);
  if (kit) return placeIn(kit, inside.path, kitNamed);

  const saying =
    source ?? field.places.findLast(({ data }) => at(data, rest.slice(0, 1)) !== undefined) ?? field.places.at(-1);

  if (saying) return { file: saying.file, path: [...saying.path, ...rest] };
  return { file, path };
}

/** All places in files that say something about what a path of a type or a kit leads to. */
export function placesIn(resolved: ResolvedPart<unknown>, path: Path, kitNamed: KitNamed): readonly FilePlace[] {
  const [part, name, ...rest] = path;
  const field = part === 'fields' ? resolved.fields.get(String(name)) : undefined;
  const place = placeIn(resolved, path, kitNamed);
  if (!field) return [place];

  const places = field.places
    .filter(({ data }) => at(data, rest) !== undefined)
    .map((place) => ({ file: place.file, path: [...place.path, ...rest] }));

  if (places.some(({ file, path: otherPath }) => file === place.file && equal(otherPath, place.path))) return places;
  return [...places, place];
}
