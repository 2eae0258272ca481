import type { FieldDoc } from '../definition/field.ts';
import { converter } from '../model/convertValue.ts';
import { countedValue, staysAsNone } from '../model/emptiness.ts';
import { linkField } from '../model/link.ts';
import { keyOfMap, partOfObject } from '../model/partOfObject.ts';
import { textWeighing } from '../model/writtenTexts.ts';
import { carryingCounter, isText, type Linked, readingCounter, withWay } from './carryingCounter.ts';
import type { Counter } from './counter.ts';
import type { Carry, ComparedModels } from './differences/define.ts';
import type { FieldPlace } from './fieldValues.ts';
import { listCounter } from './listCounter.ts';
import { ReferenceCounter } from './referenceCounter.ts';

/** A field before and after, where its values are stored in another shape. */
export interface Reshaping extends FieldPlace {
  readonly oldField: FieldDoc;
  readonly newField: FieldDoc;
}

/**
 * Counts the values that cannot be carried over, or that do not fit then, and the entries that newly lack one. Where the
 * values say of themselves how they are better carried over, it is that way that is counted, and suggested.
 */
export function reshapedCounter(
  { type, field, oldField, newField }: Reshaping,
  { between, after }: ComparedModels,
): Counter | undefined {
  const from = linkField({ type }, field, oldField);
  const to = linkField({ type }, field, newField);
  if (!from || !to) return undefined;

  const linked: Linked = { place: { type, field }, from, to, between, after };
  if (to.kind.pointsAt(to.options).types.length > 0) return new ReferenceCounter(linked);

  const inside = partOfObject(oldField, newField) ?? keyOfMap(oldField, newField, after.context.languages[0] ?? 'en');
  if (inside !== undefined) return partCounter(linked, inside);
  if (isText(from) && !from.common.many && to.common.many) return listCounter(linked);
  return readingCounter(linked, {});
}

/** How values take their new shape, as far as each of them says alone how. */
export function reshaper(
  { type, field, oldField, newField }: Reshaping,
  { after: { context } }: ComparedModels,
): Carry | undefined {
  const [from, to] = [linkField({ type }, field, oldField), linkField({ type }, field, newField)];
  if (!from || !to) return undefined;

  // What texts mean is settled once all were seen; until then each is read as is usual.
  const read = textWeighing(from, to, context)?.read;
  const convert = converter(from, to, context, { read });
  return (value) => {
    if (countedValue(from, value) !== undefined) return convert(value).value;
    if (staysAsNone(from, to, value, context)) return value;
    return undefined;
  };
}

/** Values that become a field inside objects. */
function partCounter(linked: Linked, inside: string): Counter {
  const counter = carryingCounter(linked, { inside });
  const subject = linked.to.kind.maps ? `stands under \`${inside}\` in a map` : `is the \`${inside}\` of an object`;
  const message = `each value ${subject}`;
  const asks = linked.to.kind.maps
    ? `Does each value stand under \`${inside}\` in the map?`
    : `Is each value the \`${inside}\` of an object?`;

  return { see: counter.see, impact: () => withWay(counter.impact(), { data: { inside }, says: message, asks }) };
}
