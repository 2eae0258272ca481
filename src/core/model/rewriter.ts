import type { Json } from '../plain/json.ts';
import type { Field } from './link.ts';
import { inLists, mapSingles } from './traversal.ts';

/**
 * How values say the same by other options of their field, where these write them otherwise: a reference to one of several
 * types names its type, and a lone value becomes a list where the field takes only lists.
 */
export function rewriter(oldField: Field, newField: Field): ((value: Json) => Json) | undefined {
  const { rewritten } = newField.kind;
  const isListed =
    oldField.common.many?.orOne === true && newField.common.many !== undefined && !newField.common.many.orOne;
  if (!rewritten && !isListed) return undefined;
  return (value) => {
    const written = rewritten
      ? mapSingles(oldField, value, (item) => rewritten(item, oldField.options, newField.options))
      : value;
    if (!isListed) return written;
    return inLists(oldField, written);
  };
}
