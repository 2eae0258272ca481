/** The DOCTYPE declaration of XML (XML 1.0, 2.8), as far as RDF may have one. */

/** Why a declaration is refused. */
export class DoctypeRefused extends Error {
  override readonly name = 'DoctypeRefused';
}

/** All entities together expand to so many characters at most. */
const mostExpanded = 1 << 20;

/** The beginning of a text of XML without the entities that it declares, and these: each as the text that it stands for. */
interface Prolog {
  readonly text: string;
  readonly entities: ReadonlyMap<string, string>;
}

/**
 * Takes the entities out of the declaration, with those that they refer to in their places: the parser knows each as it
 * is written, and replaces it once. Nothing outside is read.
 * @param start the beginning of the text, with the whole declaration.
 * @throws {DoctypeRefused} where the declaration, or an entity, is elsewhere, or where entities multiply or hold themselves.
 */
export function prologOf(start: string): Prolog {
  const doctype = /<!DOCTYPE\s+[^\s[>]+\s*/u.exec(start);
  if (!doctype) return { text: start, entities: new Map() };

  const behindName = doctype.index + doctype[0].length;
  if (/^(?:SYSTEM|PUBLIC)\b/u.test(start.slice(behindName)))
    throw new DoctypeRefused('its DTD lies in another file, and nothing outside is read');
  if (start.charAt(behindName) !== '[') return { text: start, entities: new Map() };

  const end = endOfSubset(start, behindName + 1);
  const subset = start.slice(behindName + 1, end);
  // Lines stay lines, so that a mistake further down has its place.
  const lines = subset.replace(/[^\n]/gu, '');

  return { text: start.slice(0, behindName + 1) + lines + start.slice(end), entities: flattened(entitiesIn(subset)) };
}

/** Whether a declaration is in a text as a whole, or there is none. */
export function hasWholeDoctype(start: string): boolean {
  const doctype = /<!DOCTYPE\s+[^\s[>]+\s*/u.exec(start);
  if (!doctype) return /<[^?!\s]/u.test(start);
  const behindName = doctype.index + doctype[0].length;
  if (start.charAt(behindName) === '[') return endOfSubset(start, behindName + 1) < start.length;
  return behindName < start.length;
}

/** Where the square bracket stands that closes a subset; the end of the text where none does. */
function endOfSubset(text: string, from: number): number {
  const parts = /<!--[\s\S]*?-->|"[^"]*"|'[^']*'|\]/gu;
  parts.lastIndex = from;
  for (let part = parts.exec(text); part; part = parts.exec(text)) if (part[0] === ']') return part.index;
  return text.length;
}

function entitiesIn(subset: string): ReadonlyMap<string, string> {
  const entities = new Map<string, string>();
  const plain = subset.replace(/<!--[\s\S]*?-->/gu, '');
  if (/<!ENTITY\s+%|%[\w.-]+;/u.test(plain.replace(/"[^"]*"|'[^']*'/gu, '""')))
    throw new DoctypeRefused('it has parameter entities, which may lie outside, and nothing outside is read');

  for (const [, name = '', value = '', external] of plain.matchAll(
    /<!ENTITY\s+([^\s%]+)\s+(?:("[^"]*"|'[^']*')|(SYSTEM|PUBLIC)\b)/gu,
  )) {
    if (external) throw new DoctypeRefused(`its entity ${name} lies in another file, and nothing outside is read`);
    // The first declaration of a name counts (XML 1.0, 4.2).
    if (!entities.has(name)) entities.set(name, value.slice(1, -1));
  }

  return entities;
}

/** What every document may refer to (XML 1.0, 4.6). */
const predefined: ReadonlyMap<string, string> = new Map([
  ['amp', '&'],
  ['lt', '<'],
  ['gt', '>'],
  ['quot', '"'],
  ['apos', "'"],
]);

/** The text that a reference stands for, which is to no entity of the document; as it is written where it is none. */
function plainText(reference: string): string {
  const [, hex, decimal, name = ''] = /^&(?:#x([0-9a-f]+)|#(\d+)|(\w+));$/iu.exec(reference) ?? [];
  const code = hex === undefined ? Number(decimal) : Number.parseInt(hex, 16);
  if (code <= 0x10ffff) return String.fromCodePoint(code);
  return predefined.get(name) ?? reference;
}

/** Entities with their targets instead of it. */
function flattened(declared: ReadonlyMap<string, string>): ReadonlyMap<string, string> {
  const flat = new Map<string, string>();
  let size = 0;

  const expand = (name: string, above: readonly string[]): string => {
    const existing = flat.get(name);
    if (existing !== undefined) return existing;
    if (above.includes(name)) throw new DoctypeRefused(`its entity ${name} holds itself`);

    let value = '';
    for (const [part, inner = ''] of (declared.get(name) ?? '').matchAll(/&([^\s;&]+);|&|[^&]+/gu)) {
      value += declared.has(inner) ? expand(inner, [...above, name]) : plainText(part);
      if (size + value.length > mostExpanded) throw new DoctypeRefused('its entities multiply without bound');
    }

    size += value.length;
    flat.set(name, value);

    return value;
  };

  for (const name of declared.keys()) expand(name, []);

  return flat;
}
