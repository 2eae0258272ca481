import type { Json } from '../plain/json.ts';
import type { Field } from './link.ts';
import { inLists, mapSingles } from './traversal.ts';

/**
 * How values say the same by other options of their field, where these write them otherwise: a reference to one of several
 * types names its type, and a lone value becomes a list where the field takes only lists.
 */
export function rewriter(was: Field, is: Field): ((value: Json) => Json) | undefined {
  const { rewritten } = is.kind;
  const isListed = was.common.many?.orOne === true && is.common.many !== undefined && !is.common.many.orOne;
  if (!rewritten && !isListed) return undefined;
  return (value) => {
    const written = rewritten ? mapSingles(was, value, (item) => rewritten(item, was.options, is.options)) : value;
    return isListed ? inLists(was, written) : written;
  };
}
