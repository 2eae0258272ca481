import { splitMany } from '../model/optionCompatibility.ts';
import { compact, equal, isList, isObject, type Json, type JsonObject, ownValue } from '../plain/json.ts';
import { quote } from '../plain/words.ts';

/** One option with its two values; a side is absent where the option is not there. */
export interface OptionDifference {
  readonly option: string;
  readonly before?: Json;
  readonly after?: Json;
}

/** Options that say what new entries start with; those that exist stay as they are. */
const forNewEntries = new Set(['default', 'builtIn']);

/** A change of an option in words: `max 300 → 200`. */
export const sayOption = (difference: OptionDifference, arrow: string): string =>
  sayChange(difference, arrow) + (forNewEntries.has(difference.option) ? ' (for new entries only)' : '');

function sayChange({ option, before, after }: OptionDifference, arrow: string): string {
  const parts = option === 'many' ? splitMany(before, after) : partsThatDiffer({ option, before, after });
  if (isList(before) || isList(after))
    return `${option} ${listChange(isList(before) ? before : [], isList(after) ? after : [])}`;
  return parts.map((part) => sayPart(part, arrow)).join(', ');
}

const sayPart = ({ option, before, after }: OptionPart, arrow: string): string => {
  if (isList(before) && isList(after)) return `${option} ${listChange(before, after)}`;
  return `${option} ${plain(before)} ${arrow} ${plain(after)}`;
};

/** One thing that an option says, with its two values, where it says several. */
export interface OptionPart {
  readonly option: string;
  readonly before?: Json | undefined;
  readonly after?: Json | undefined;
}

/** Options of a type whose keys stand for themselves: what is absent on one side has no keys there. */
const groupsOfKeys = /^(?:builtIn|previews)\b/u;

/** An option that is a group of keys on both sides by those that differ: `value fields lat max`. */
function partsThatDiffer(part: OptionPart): readonly OptionPart[] {
  const { option } = part;
  const isGroup = groupsOfKeys.test(option) && (isObject(part.before) || isObject(part.after));
  const [before, after] = [part.before, part.after].map((side) => (isGroup ? asGroup(side) : side));
  if (!isObject(before) || !isObject(after) || typeof after.match === 'string') return [{ option, before, after }];

  const keys = [...new Set([...Object.keys(before), ...Object.keys(after)])].sort();
  if (keys.length === 0) return [part];
  return keys.flatMap((key) => {
    const [oldPart, newPart] = [ownValue(before, key), ownValue(after, key)];
    if (equal(oldPart, newPart)) return [];
    return partsThatDiffer({ option: `${option} ${key}`, before: oldPart, after: newPart });
  });
}

/** One side of a group of keys: nothing has no keys, and a preview that is a text is its address. */
function asGroup(side: Json | undefined): Json {
  if (typeof side === 'string') return { address: side };
  return side ?? {};
}

/** `+ easy, - hard`, or that the same items are in another order or are reported differently. */
function listChange(before: readonly Json[], after: readonly Json[]): string {
  // An item that is a group of keys is reported by the key that names it.
  const name = (item: Json): string => {
    if (isObject(item)) return String(item.choice ?? item.expect ?? JSON.stringify(item));
    return String(item);
  };
  const had = before.map(name);
  const has = after.map(name);
  const changes = [
    ...has.filter((item) => !had.includes(item)).map((name) => `+ ${name}`),
    ...had.filter((item) => !has.includes(item)).map((name) => `- ${name}`),
  ];
  if (changes.length > 0) return changes.join(', ');
  if (after.some(isObject)) return 'in another order or with other labels';
  return 'in another order';
}

function plain(value: Json | undefined): string {
  if (value === undefined || value === null) return 'none';
  if (isObject(value) && typeof value.match === 'string') return value.match;
  if (typeof value === 'string' && value.length <= 40) return value;
  return quote(value);
}

/** A change of an option as a program is reported. */
export const detailsOfOption = ({ option, before, after }: OptionDifference): JsonObject =>
  compact({ option, before, after });
