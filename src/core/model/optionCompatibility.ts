import {
  byValue,
  type Compatibility,
  condition,
  type Direction,
  lowerBound,
  presentation,
  upperBound,
} from '../kinds/compatibility.ts';
import { kinds } from '../kinds/index.ts';
import { equal, isList, isObject, type Json } from '../plain/json.ts';
import { sameShape } from './traversal.ts';

/** What a change of the options that every field has means. The options of a kind are known to the kind alone. */
const commonOptionCompatibility: Readonly<Record<string, Compatibility>> = {
  label: presentation,
  help: presentation,
  example: presentation,
  group: presentation,
  default: presentation,
  required: {
    direction: (before, after) => (strictness(after) > strictness(before) ? 'narrower' : 'wider'),
    readers: (direction) => (direction === 'wider' ? 'break' : 'unaffected'),
  },
  // Where it comes to apply it may be required, and where it no longer does it may not be there.
  when: { direction: () => 'different' },
  mayBeEmpty: {
    // Where empty values are values, a rule or a limit may have something to say of them.
    direction: (_before, after) => (after === true ? 'different' : 'narrower'),
    readers: (direction) => (direction === 'different' ? 'break' : 'unaffected'),
  },
  unique: condition,
  computed: condition,
  'many.distinct': byValue((after) => (after === true ? 'narrower' : 'wider')),
  'many.orOne': byValue((after) => (after === true ? 'wider' : 'narrower')),
  'many.min': lowerBound({
    of: sizeOf,
    beyond: 'shorter',
    extreme: 'the shortest',
    has: (size) => `has ${size}`,
    worst: 'smallest',
  }),
  'many.max': upperBound({
    of: sizeOf,
    beyond: 'longer',
    extreme: 'the longest',
    has: (size) => `has ${size}`,
    worst: 'largest',
  }),
};

function sizeOf(value: Json): number | undefined {
  if (!isList(value)) return undefined;
  return value.length;
}

function strictness(required: Json | undefined): number {
  if (required === true) return 2;
  if (required === 'published') return 1;
  return 0;
}

/** The meaning of an option of a field, asked of anyone who knows it. */
export function compatibilityOf(kind: string, option: string): Compatibility {
  const existing = kinds.get(kind);
  if (existing?.nests && option === 'fields') return nested;
  if (existing?.maps && (option === 'keys' || option === 'value')) return part;
  return commonOptionCompatibility[option] ?? existing?.changed[option] ?? condition;
}

/** Whether a change of an option lets fewer values into its field, or more. */
export const directionOf = (
  kind: string,
  {
    option,
    before,
    after,
  }: { readonly option: string; readonly before?: Json | undefined; readonly after?: Json | undefined },
): Direction => compatibilityOf(kind, option).direction(before, after);

/**
 * A change of the fields inside an object means what the changes of these fields mean together. A comparison tells them
 * one by one; narrowing shared parts applies to all at once.
 */
const nested: Compatibility = {
  direction: (before, after) => together(directionsInside(before, after)),
};

/** What the keys or the values of a map are: a change of it means what the changes of its options mean together. */
const part: Compatibility = {
  direction: (before, after) => together(directionsInside({ part: before ?? null }, { part: after ?? null })),
};

function directionsInside(before: Json | undefined, after: Json | undefined): readonly Direction[] {
  const [oldFields, newFields] = [before, after].map((fields) => (isObject(fields) ? fields : {}));
  return [...new Set([...Object.keys(oldFields ?? {}), ...Object.keys(newFields ?? {})])].flatMap(
    (field): readonly Direction[] => {
      const [a, b] = [oldFields?.[field], newFields?.[field]];
      if (equal(a, b)) return [];
      if (!isObject(a)) return [isObject(b) && b.required !== undefined ? 'narrower' : 'wider'];
      if (!isObject(b) || !sameShape(a, b)) return ['different'];

      return [...new Set([...Object.keys(a), ...Object.keys(b)])].flatMap((option) => {
        if (equal(a[option], b[option])) return [];
        const parts =
          option === 'many' ? splitMany(a[option], b[option]) : [{ option, before: a[option], after: b[option] }];
        return parts.map((part) => compatibilityOf(String(a.kind), part.option).direction(part.before, part.after));
      });
    },
  );
}

/** Several directions as one. */
function together(directions: readonly Direction[]): Direction {
  const distinct = new Set(directions.filter((direction) => direction !== 'presentation'));
  if (distinct.size === 0) return 'presentation';
  const [only] = distinct;
  if (distinct.size === 1 && only !== undefined) return only;
  return 'different';
}

/** `many` has two bounds in one option; each counts on its own. */
export function splitMany(
  before: Json | undefined,
  after: Json | undefined,
): readonly { readonly option: string; readonly before: Json | undefined; readonly after: Json | undefined }[] {
  const bound = (value: Json | undefined, name: string): Json | undefined => {
    if (!isObject(value)) return undefined;
    return value[name];
  };
  return ['min', 'max', 'orOne', 'distinct']
    .map((name) => ({ option: `many.${name}`, before: bound(before, name), after: bound(after, name) }))
    .filter((option) => option.before !== option.after);
}
