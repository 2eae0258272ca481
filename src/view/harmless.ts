import { isList, isObject, type Json } from '../core/plain/json.ts';
import { isVisible, visible, visibleLines } from '../core/plain/visible.ts';

/** The key of results under which a whole document stands: its lines are lines. */
const document = 'text';

/**
 * A result as views may print it: whatever in it comes from files, names and calls can do nothing on a terminal or in a
 * page of text, whichever view prints it. JSON is printed from the result itself.
 */
export function harmless<R>(result: R): R {
  return shown(result as Json) as R;
}

/** What can do nothing as it is is not copied: there may be a million findings. */
function shown(value: Json, key = ''): Json {
  if (typeof value === 'string') {
    if (isVisible(value)) return value;
    if (key === document) return visibleLines(value);
    return visible(value);
  }
  if (isList(value)) {
    const items = value.map((item) => shown(item, key));
    if (items.every((item, index) => item === value[index])) return value;
    return items;
  }
  if (!isObject(value)) return value;

  const isSame = Object.keys(value).every(
    (name) => isVisible(name) && shown(value[name] ?? null, name) === value[name],
  );
  if (isSame) return value;
  return Object.fromEntries(Object.entries(value).map(([name, value]) => [visible(name), shown(value, name)]));
}
