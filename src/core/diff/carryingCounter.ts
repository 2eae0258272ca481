import { isPlainText } from '../kinds/traits.ts';
import { type ConversionContext, comesToLack, converter } from '../model/convertValue.ts';
import { isNone, staysAsNone } from '../model/emptiness.ts';
import type { Field } from '../model/link.ts';
import { textWeighing } from '../model/writtenTexts.ts';
import { compact, equal, type Json } from '../plain/json.ts';
import { quote } from '../plain/words.ts';
import { toPlain } from '../text/plain.ts';
import { isTree } from '../text/tree.ts';
import {
  type Counter,
  countEntries,
  type Example,
  type Impact,
  type SampledEntry,
  share,
  type Way,
} from './counter.ts';
import type { ComparedModels } from './differences/define.ts';
import { areNew, type FieldPlace, faults, valuesOf } from './fieldValues.ts';

/** Both sides linked, with the models that they are in. */
export interface Linked extends ComparedModels {
  readonly place: FieldPlace;
  readonly from: Field;
  readonly to: Field;
}

/** Counts values as they are carried over by how their texts are written, and suggests to read them so. */
export function readingCounter(linked: Linked, by: ConversionContext): Counter {
  const { from, to, after } = linked;
  const weighing = textWeighing(from, to, after.context);
  if (!weighing) return carryingCounter(linked, by);

  const counter = carryingCounter(linked, { ...by, read: weighing.read });

  return {
    see: counter.see,
    impact: () => {
      const impact = counter.impact();
      const { weighed } = weighing;
      if (!weighed) return impact;

      const [text, value] = weighed.example;
      const carried = `${sayValue(text)} as ${sayValue(value)}`;

      return {
        ...withWay(
          impact,
          compact({ data: { written: [...weighed.written] }, says: weighed.says, asks: weighed.asks }),
        ),
        carried,
      };
    },
  };
}

/** A value in few words: structured text by its content. */
const sayValue = (value: Json | undefined): string => {
  if (isTree(value)) return `structured text ${quote(toPlain(value), 24)}`;
  return quote(value);
};

/** Whether a field holds plain text. */
export const isText = ({ kind }: Field): boolean => isPlainText({ kind: kind.name });

/** Counts the entries with values that cannot be carried over, or that do not fit then. */
export function carryingCounter({ place, from, to, between, after }: Linked, by: ConversionContext): Counter {
  const convert = converter(from, to, after.context, by);
  const [passed, passes] = [faults(from, between.context), faults(to, after.context)];
  let carried: string | undefined;
  let changed = 0;
  let isChanged = false;

  const hitOf = (value: Json | undefined, { status }: SampledEntry): Pick<Example, 'value' | 'why'> | undefined => {
    const hit = compact({ value });
    const converted = value === undefined || isNone(from, value) ? { value: undefined, lost: [] } : convert(value);
    isChanged ||= value !== undefined && !equal(value, converted.value) && !stays(value, converted.value);
    const [lost] = converted.lost;
    if (lost) return { ...hit, why: lost.why };

    if (converted.value !== undefined && !equal(value, converted.value))
      carried ??= `${sayValue(value)} as ${sayValue(converted.value)}`;
    const isBroken =
      converted.value === undefined
        ? comesToLack(from, to, { value, status })
        : // An old problem is no effect of the change, wherever it is in the new form.
          areNew(passed(value, status), passes(converted.value, status), ({ message }) => message);

    if (isBroken) return hit;
    return undefined;
  };

  const stays = (value: Json, converted: Json | undefined): boolean =>
    converted === undefined && staysAsNone(from, to, value, after.context);

  const counter = countEntries(
    place.type,
    (entry) => {
      isChanged = false;
      const [hit] = valuesOf(between, place, entry.fields).flatMap((value) => hitOf(value, entry) ?? []);
      if (isChanged) changed += 1;
      return hit ?? false;
    },
    (hits, total, _worst, [first]) =>
      `${share(hits, total)} a value that cannot be carried over or does not fit${sayExample(first)}`,
  );

  return {
    see: counter.see,
    impact: () => {
      const impact = counter.impact();
      const message = impact.hits === 0 && changed > 0 ? sayCarried(changed, impact.of) : impact.says;
      return compact({ ...impact, says: message, carried, changed });
    },
  };
}

/** `, for example note/a (“6 cm”): no number` */
const sayExample = ({ entry, value, why: reason }: Partial<Example> = {}): string => {
  if (value === undefined) return '';
  return `, for example ${entry} (${quote(value)})${reason === undefined ? '' : `: ${reason}`}`;
};

/** `284 of 400 entries change, and every value can be carried over` */
const sayCarried = (changed: number, total: number): string =>
  `${share(changed, total, ['changes', 'change'])}, and every value can be carried over`;

/** An impact with a way in which the values are better carried over. */
export const withWay = (impact: Impact, way: Way): Impact => ({ ...impact, way });
