import type { FieldDoc } from '../definition/field.ts';
import type { ModelDoc } from '../definition/model.ts';
import type { TypeDoc } from '../definition/type.ts';
import type { Kind } from '../kinds/define.ts';
import { kinds } from '../kinds/index.ts';
import { type Model, partsOf, type Type } from './link.ts';

type Fields = TypeDoc['fields'];

/** Whether a field is of the sort that is looked for. */
type IsMeant = (field: FieldDoc, kind: Kind) => boolean;

/** Whether any of some fields, or one inside it, is of a sort. */
function holdsField(fields: Fields, isMeant: IsMeant): boolean {
  // Called for every field of a model: no list of them is made.
  for (const name in fields) {
    const field = fields[name];
    const kind = field && kinds.get(field.kind);
    if (kind && (isMeant(field, kind) || holdsField((partsOf(kind, field) ?? {}) as Fields, isMeant))) return true;
  }
  return false;
}

/** Whether a model has a field of a sort. */
export const hasField = ({ types }: ModelDoc, isMeant: IsMeant): boolean =>
  Object.values(types).some(({ fields }) => holdsField(fields, isMeant));

/** The types of a model that have a field of a sort: of a large model the others need not be linked. */
export const typesHaving = ({ definition, types }: Model, isMeant: IsMeant): readonly Type[] =>
  Object.entries(definition.types).flatMap(([name, { fields }]) =>
    holdsField(fields, isMeant) ? (types.get(name) ?? []) : [],
  );
