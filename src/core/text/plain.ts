import { isList, isObject, type Json } from '../plain/json.ts';

/** Structured text as plain text: a block on each line, cells and items apart, embedded things left out. */
export function toPlain(value: Json): string {
  if (!isObject(value)) return '';

  const { type, children } = value;
  if (type === 'break') return '\n';
  if (typeof value.value === 'string') return value.value;
  if (type === 'image') return typeof value.alt === 'string' ? value.alt : '';
  if (!isList(children)) return '';

  const parts = children.map(toPlain);
  if (type === 'root' || type === 'blockquote' || type === 'list' || type === 'listItem' || type === 'table')
    return parts.filter((part) => part !== '').join(type === 'root' ? '\n\n' : '\n');
  return parts.join(type === 'tableRow' ? '\t' : '');
}
