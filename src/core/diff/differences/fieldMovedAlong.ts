import type { FieldDoc } from '../../definition/field.ts';
import type { ModelContext } from '../../kinds/kindParts.ts';
import type { Field } from '../../model/link.ts';
import { asInAnother } from '../../model/move.ts';
import { pointedAt } from '../../model/traversal.ts';
import { compact, equal, type Json, type JsonObject, ownValue } from '../../plain/json.ts';
import { groupThousands } from '../../plain/words.ts';
import { type SampledEntry, share } from '../counter.ts';
import { askedOf, howToRefuse, sentence } from '../draftedStep.ts';
import { type FieldPlace, filled } from '../fieldValues.ts';
import { defineDifference } from './define.ts';

/** A field went to another type, to which a reference leads. */
export interface FieldMovedAlong extends FieldPlace {
  readonly name: 'field-moved-along';
  readonly was: FieldDoc;
  readonly toType: string;
  readonly toField: string;
  readonly is: FieldDoc;
  /** The reference between the two, by its address. */
  readonly along: string;
}

const addressOf = ({ type, field }: FieldMovedAlong): string => `${type}.${field}`;

/**
 * Tells which values have nobody to go to, and which find another value there.
 * @param reference the field that leads from one type to the other, whichever of the two has it.
 */
function going({ type, field, toType }: FieldMovedAlong, reference: Field, context: ModelContext) {
  /** By the entry that a value comes to, or comes from where that one is pointed at. */
  const values = new Map<string, Json>();
  const isPointedAt = new Set<string>();
  let [homeless, outdone] = [0, 0];
  const isForward = reference.address.startsWith(`${type}.`);
  const ends = (fields: JsonObject): readonly string[] =>
    pointedAt(reference, ownValue(fields, reference.name), isForward ? toType : type, context);

  return {
    see: (entry: SampledEntry): void => {
      const value = entry.type === type ? ownValue(entry.fields, field) : undefined;
      if (!isForward && entry.type === toType) for (const id of ends(entry.fields)) isPointedAt.add(id);
      if (value === undefined) return;
      if (!isForward) values.set(entry.id, value);
      else {
        const ids = ends(entry.fields);
        if (ids.length === 0) homeless += 1;
        if (ids.some((id) => values.has(id) && !equal(values.get(id), value))) outdone += 1;
        for (const id of ids) if (!values.has(id)) values.set(id, value);
      }
    },
    says: (): string => {
      const lost = isForward ? homeless : [...values.keys()].filter((id) => !isPointedAt.has(id)).length;
      const reasons = [
        ...(lost === 0 ? [] : [`${groupThousands(lost)} with no entry of ${toType} to go to`]),
        ...(outdone === 0 ? [] : [`${groupThousands(outdone)} where another value comes first`]),
      ];

      if (reasons.length === 0) return 'which goes there';
      return reasons.join(', ');
    },
  };
}

export const fieldMovedAlong = defineDifference<FieldMovedAlong>({
  name: 'field-moved-along',
  address: addressOf,
  say: ({ toType, toField, along }) => `moved to ${toType}.${toField}, along ${along}`,
  rate: () => ({ entries: 'migrate', readers: 'break' }),
  count: (difference, { between }) => {
    const [by = '', reference = ''] = difference.along.split('.');
    const field = between.types.get(by)?.fields.get(reference);
    const goes = field ? going(difference, field, between.context) : undefined;
    const counter = filled(
      between,
      difference,
      (hits, total) => `${share(hits, total)} a value, ${goes?.says() ?? 'which goes there'}`,
    );

    return {
      see: (entry) => {
        goes?.see(entry);
        counter.see(entry);
      },
      impact: counter.impact,
    };
  },
  field: ({ type, field }) => ({ type, field, side: 'before' }),
  draft: {
    step: ([difference], { impactOf }) => {
      const impact = impactOf(difference);
      const to = `${difference.toType}.${difference.toField}`;

      return {
        data: compact({
          move: addressOf(difference),
          to,
          along: difference.along,
          field: equal(asInAnother(difference.was), difference.is) ? undefined : difference.is,
        }),
        why: `\`${addressOf(difference)}\` is gone, \`${to}\` is new and called so too, and \`${difference.along}\` leads from one to the other.${impact ? ` ${sentence(impact.says)}` : ''}${askedOf(to, difference.is)}`,
        open: { question: `Did it move to \`${difference.toType}\`?`, how: howToRefuse(addressOf(difference)) },
      };
    },
  },
});
