import { isList, isObject, type Json } from '../core/plain/json.ts';
import { visible, visibleLines } from '../core/plain/visible.ts';

/** The key of results under which a whole document stands: its lines are lines. */
const document = 'text';

/**
 * A result as views may print it: whatever in it comes from files, names and calls can do nothing on a terminal or in a
 * page of text, whichever view prints it. JSON is printed from the result itself.
 */
export function harmless<R>(result: R): R {
  return shown(result as Json) as R;
}

function shown(value: Json, key = ''): Json {
  if (typeof value === 'string') return key === document ? visibleLines(value) : visible(value);
  if (isList(value)) return value.map((item) => shown(item, key));
  if (!isObject(value)) return value;
  return Object.fromEntries(Object.entries(value).map(([name, one]) => [visible(name), shown(one, name)]));
}
