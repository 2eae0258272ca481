import { type EntryAddress, entryAddressOf, keyOf } from '../entry/entry.ts';
import type { Finding } from '../entry/findings.ts';
import type { PointsAt } from '../kinds/kindParts.ts';
import { typesHaving } from '../model/fieldsOfSort.ts';
import type { Field, Model } from '../model/link.ts';
import { fieldAddressed, fieldNamed, fieldsWithin } from '../model/nestedFields.ts';
import { basesOf } from '../model/provenance.ts';
import type { Path } from '../plain/json.ts';
import type { Facts } from './facts.ts';
import { foundIn } from './makeFinding.ts';

/** A reference of one entry to another, as it is kept until all entries are known. */
export interface Link {
  readonly from: string;
  readonly path: Path;
  readonly to: string;
  /** The address of its field. */
  readonly field: string;
}

/** What goes for the other side of a reference: how many entries may, and must, point at a target by its field. */
export interface Bound {
  readonly field: Field;
  /** The types whose entries are counted: where the field stands, and what extends it. */
  readonly from: ReadonlySet<string>;
  readonly targets: ReadonlySet<string>;
  readonly inverse: string | undefined;
  readonly min: number;
  readonly max: number | undefined;
}

/** The bounds of a model. What a type says and those that extend it say again is one bound. */
export function boundsOf(model: Model): readonly Bound[] {
  const { context, definition, types } = model;
  const bounding = typesHaving(model, (field, kind) => isBounded(kind.pointsAt(field)));

  return bounding.flatMap((type) => {
    const base = types.get(basesOf(definition.shared, type.name)[0] ?? '');
    return fieldsWithin(type.fields).flatMap((field): readonly Bound[] => {
      const pointsAt = field.kind.pointsAt(field.options);
      const bounds = limitsOf(field);
      const above = limitsOf(base && fieldNamed(base, field.name));
      const min = bounds.min === above.min ? 0 : bounds.min;
      const max = bounds.max === above.max ? undefined : bounds.max;
      if (min === 0 && max === undefined) return [];

      const from = new Set(context.acceptedAs(type.name));
      const targets = new Set(pointsAt.types.flatMap(context.acceptedAs));
      return [{ field, from, targets, inverse: pointsAt.inverse, min, max }];
    });
  });
}

const isBounded = ({ inverseMin = 0, inverseMax }: PointsAt): boolean => inverseMin > 0 || inverseMax !== undefined;

function limitsOf(field: Field | undefined): { readonly min: number; readonly max: number | undefined } {
  const { inverseMin = 0, inverseMax } = field?.kind.pointsAt(field.options) ?? {};
  return { min: inverseMin, max: inverseMax };
}

/** The addresses that references have in the fields which some addresses mean: an inherited one has its base type's. */
export const fieldsCounted = (addresses: readonly string[], model: Model): readonly string[] =>
  addresses.flatMap((address) => fieldAddressed(model, address)?.address ?? []);

/**
 * Which entries point at each target by some fields.
 * @param fields addresses of references: those of a type, with those of the types that extend it.
 */
export function pointingBy(
  links: readonly Link[],
  fields: ReadonlySet<string>,
  model: Model,
): ReadonlyMap<string, ReadonlySet<string>> {
  const named = [...fields].flatMap((address) => {
    const [type = ''] = address.split('.');
    const field = fieldAddressed(model, address);
    if (!field) return [];
    return [{ address, field, from: new Set(model.context.acceptedAs(type)) }];
  });
  const pointing = new Map<string, Set<string>>();
  for (const { field, from, to } of links)
    for (const counted of named) {
      if (counted.field.address !== field || !counted.from.has(entryAddressOf(from).type)) continue;
      const key = `${counted.address} ${to}`;
      pointing.set(key, (pointing.get(key) ?? new Set()).add(from));
    }

  return pointing;
}

/** The entries of some types, as far as bounds ask for them. */
type EntriesOf = (
  types: ReadonlySet<string>,
) => Iterable<{ readonly entry: EntryAddress; readonly status: Facts['status'] }>;

/** How many point at each target by the fields that bound it: seen from the target, and from those that point. */
export function* brokenBounds(bounds: readonly Bound[], links: readonly Link[], entries: EntriesOf): Iterable<Finding> {
  for (const bound of bounds) {
    const pointing = new Map<string, Link[]>();
    for (const link of links) {
      if (link.field !== bound.field.address || !bound.from.has(entryAddressOf(link.from).type)) continue;
      const links = pointing.get(link.to);
      if (links) links.push(link);
      else pointing.set(link.to, [link]);
    }

    yield* tooMany(bound, pointing);
    if (bound.min > 0) yield* tooFew(bound, pointing, entries);
  }
}

function* tooMany({ field, max }: Bound, pointing: ReadonlyMap<string, readonly Link[]>): Iterable<Finding> {
  if (max === undefined) return;
  for (const [to, links] of pointing) {
    const first = [...new Set(links.slice(0, max).map(({ from }) => from))];
    for (const { from, path } of links.slice(max)) {
      const data = { to, others: first.filter((other) => other !== from), bound: max, by: field.address };
      yield foundIn(entryAddressOf(from), 'too-many-pointing', data, { path, limit: max });
    }
  }
}

function* tooFew(
  { field, inverse, min, targets }: Bound,
  pointing: ReadonlyMap<string, readonly Link[]>,
  entries: EntriesOf,
): Iterable<Finding> {
  for (const { entry, status } of entries(targets)) {
    const has = pointing.get(keyOf(entry))?.length ?? 0;
    if (has >= min) continue;
    yield foundIn(
      entry,
      'too-few-pointing',
      { size: has, bound: min, inverse, by: field.address },
      { severity: status === 'published' ? 'error' : 'warning', limit: min, by: field.address },
    );
  }
}
