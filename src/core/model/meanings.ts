import { isList, isObject, type Json } from '../json.ts';
import { kinds } from '../kinds/index.ts';
import { condition, lowerBound, type Meaning, presentation, upperBound } from '../kinds/meaning.ts';

/** What a change of the options that every field has means. The options of a kind are known to the kind alone. */
const commonMeanings: Readonly<Record<string, Meaning>> = {
  label: presentation,
  help: presentation,
  example: presentation,
  group: presentation,
  default: presentation,
  required: {
    direction: (before, after) => (strictness(after) > strictness(before) ? 'narrower' : 'wider'),
    readers: (direction) => (direction === 'wider' ? 'break' : 'unaffected'),
  },
  unique: condition,
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
  return isList(value) ? value.length : undefined;
}

const strictness = (required: Json | undefined): number => (required === true ? 2 : required === 'published' ? 1 : 0);

/** The meaning of an option of a field, asked of whoever knows it. */
export function meaningOf(kind: string, option: string): Meaning {
  return commonMeanings[option] ?? kinds.get(kind)?.changed[option] ?? condition;
}

/** `many` has two bounds in one option; each counts on its own. */
export function splitMany(
  before: Json | undefined,
  after: Json | undefined,
): readonly { readonly option: string; readonly before: Json | undefined; readonly after: Json | undefined }[] {
  const bound = (value: Json | undefined, name: string): Json | undefined =>
    isObject(value) ? value[name] : undefined;
  return ['min', 'max']
    .map((name) => ({ option: `many.${name}`, before: bound(before, name), after: bound(after, name) }))
    .filter((one) => one.before !== one.after);
}
