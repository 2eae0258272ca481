import type { ModelDoc } from '../definition/model.ts';
import { asJson } from '../definition/model.ts';
import type { TypeDoc } from '../definition/type.ts';
import { equal, ownValue } from '../plain/json.ts';
import { onceFor } from '../plain/once.ts';

/** Types by those that they are compared with: between two revisions of a model most say the same, and are met again. */
const compared = onceFor((_: TypeDoc) => new WeakMap<TypeDoc, boolean>());

/** Whether two definitions of a type say the same. */
export function saysTheSame(oldType: TypeDoc, newType: TypeDoc): boolean {
  if (oldType === newType) return true;
  const existing = compared(oldType).get(newType);
  if (existing !== undefined) return existing;
  const isSame = equal(asJson(oldType), asJson(newType));
  compared(oldType).set(newType, isSame);
  return isSame;
}

/** The types of the older of two models that the newer one has as well, and says otherwise. */
export const typesThatDiffer = (
  before: ModelDoc,
  after: ModelDoc,
): readonly { readonly type: string; readonly oldType: TypeDoc; readonly newType: TypeDoc }[] =>
  Object.entries(before.types).flatMap(([type, oldType]) => {
    const newType = ownValue(after.types, type);
    if (newType && !saysTheSame(oldType, newType)) return [{ type, oldType, newType }];
    return [];
  });
