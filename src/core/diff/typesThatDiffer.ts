import type { ModelDoc } from '../definition/model.ts';
import { asJson } from '../definition/model.ts';
import type { TypeDoc } from '../definition/type.ts';
import { equal, own } from '../plain/json.ts';
import { onceFor } from '../plain/once.ts';

/** Types by those that they are compared with: between two revisions of a model most say the same, and are met again. */
const compared = onceFor((_: TypeDoc) => new WeakMap<TypeDoc, boolean>());

/** Whether two definitions of a type say the same. */
export function saysTheSame(was: TypeDoc, is: TypeDoc): boolean {
  if (was === is) return true;
  const known = compared(was).get(is);
  if (known !== undefined) return known;
  const isSame = equal(asJson(was), asJson(is));
  compared(was).set(is, isSame);
  return isSame;
}

/** The types of the older of two models that the newer one has as well, and says otherwise. */
export const typesThatDiffer = (
  before: ModelDoc,
  after: ModelDoc,
): readonly { readonly type: string; readonly was: TypeDoc; readonly is: TypeDoc }[] =>
  Object.entries(before.types).flatMap(([type, was]) => {
    const is = own(after.types, type);
    return is && !saysTheSame(was, is) ? [{ type, was, is }] : [];
  });
