import { type Address, addressForms, nameOfField, parseAddress } from '../definition/address.ts';
import type { FieldDoc } from '../definition/field.ts';
import { keyOfField } from '../definition/fieldName.ts';
import type { ModelDoc } from '../definition/model.ts';
import type { TypeDoc } from '../definition/type.ts';
import type { Field, Model, Type } from '../model/link.ts';
import { fieldNamed, formOf, siblingsOf, withSiblings } from '../model/nestedFields.ts';
import { ownValue, withKey } from '../plain/json.ts';
import { didYouMean } from '../plain/nearest.ts';
import { quote } from '../plain/words.ts';
import { StepRefused } from './step.ts';

/* ── finding what a step is about ────────────────────────────────────────────────────────────────────────────── */
/**
 * Reads the address of a step, which must be of one of some forms. A field inside an object is a field like any other,
 * named by its path: `hours.opens`.
 * @throws {StepRefused}
 */
export function addressed<W extends Address['what']>(
  text: string,
  verb: string,
  forms: readonly W[],
): Extract<Address, { what: W }> {
  const address = asField(parseAddress(text));
  const isWanted = (address: Address): address is Extract<Address, { what: W }> =>
    (forms as readonly string[]).includes(address.what);
  if (address && isWanted(address)) return address;
  throw new StepRefused(`${quote(text)} is no address of a ${forms.join(' or ')}`, addressForms, verb);
}

function asField(address: Address | undefined): Address | undefined {
  if (address?.what === 'inner') return { what: 'field', type: address.type, field: nameOfField(address) };
  if (address?.what !== 'choice') return address;
  return { ...address, field: nameOfField(address) };
}

/** @throws {StepRefused} where the model has no such type. */
export function typeOf(model: ModelDoc, name: string, verb: string): TypeDoc {
  const type = ownValue(model.types, name);
  if (!type)
    throw new StepRefused(
      `there is no type \`${name}\` at this step`,
      didYouMean(name, Object.keys(model.types)) ?? 'Look at the steps before: has it another name by now?',
      verb,
    );
  return type;
}

/** @throws {StepRefused} where the type has no such field. */
export function fieldOf(model: ModelDoc, typeName: string, name: string, verb: string): FieldDoc {
  const { fields } = typeOf(model, typeName, verb);
  const field = formOf(fields, name);
  if (!field)
    throw new StepRefused(
      `there is no field \`${typeName}.${name}\` at this step`,
      didYouMean(keyOfField(name), Object.keys(siblingsOf(fields, name))) ??
        'Look at the steps before: has it another name by now?',
      verb,
    );
  return field;
}

/** The model with the fields changed among which one of a type stands. @throws {StepRefused} where the type is not there. */
export function withFieldsBeside(
  model: ModelDoc,
  { type: typeName, field: name }: { readonly type: string; readonly field: string },
  verb: string,
  change: (siblings: TypeDoc['fields'], key: string) => TypeDoc['fields'],
): ModelDoc {
  const type = typeOf(model, typeName, verb);
  const fields = withSiblings(type.fields, name, (siblings) => change(siblings, keyOfField(name)));
  return { ...model, types: withKey(model.types, typeName, { ...type, fields }) };
}

/** The linked field of a linked model; it was found in the document before. */
export function linkedField(
  model: Model,
  typeName: string,
  name: string,
): { readonly type: Type; readonly field: Field } {
  const type = model.types.get(typeName);
  const field = type && fieldNamed(type, name);
  if (!type || !field)
    throw new StepRefused(`there is no field \`${typeName}.${name}\` at this step`, 'Look at the steps before.');
  return { type, field };
}

/** The keys that stand before the one of a field, nearest first: where a new value finds its place in a file. */
export const placesBefore = (order: readonly string[], field: string): readonly string[] =>
  order.slice(0, Math.max(0, order.indexOf(keyOfField(field)))).reverse();
