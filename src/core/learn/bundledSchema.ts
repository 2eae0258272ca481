import { isList, isObject, type Json, mapValues, type PathPart, pointer } from '../plain/json.ts';

/** Where files beside the schema are in it. */
export const besideKey = 'files beside it';

interface SchemaPlace {
  readonly path: readonly PathPart[];
  /** What references of a part start from. */
  readonly base: string;
}

/** A document with the files beside it that it refers to, whose references lead into it. */
export function bundled(document: Json, load: (file: string) => Json | undefined): Json {
  const files: Record<string, Json> = {};
  const take = (file: string): boolean => {
    if (Object.hasOwn(files, file)) return true;
    const data = load(file);
    if (data === undefined) return false;
    files[file] = null;
    files[file] = led(data, { path: [besideKey, file], base: pointer([besideKey, file]) });
    return true;
  };

  const led = (schema: Json, place: SchemaPlace): Json => {
    if (isList(schema)) return schema.map((value, index) => led(value, { ...place, path: [...place.path, index] }));
    if (!isObject(schema)) return schema;

    // A part with its own address is a document inside of this one.
    const isOwn = typeof schema.$id === 'string' && !schema.$id.startsWith('#') && place.path.length > 0;
    const base = isOwn ? pointer(place.path) : place.base;

    return mapValues(schema, (value, key) => {
      if (key !== '$ref' || typeof value !== 'string')
        return led(value, { ...place, base, path: [...place.path, key] });
      const [, other = '', inside = ''] = /^([^#:]*)(?:#(.*))?$/su.exec(value) ?? [];
      if (inside !== '' && !inside.startsWith('/')) return value;
      if (other === '') return value.startsWith('#') ? `#${base}${inside}` : value;
      if (!take(other)) return value;
      return `#${pointer([besideKey, other])}${inside}`;
    });
  };

  const resolved = led(document, { path: [], base: '' });

  if (isObject(resolved) && Object.keys(files).length > 0) return { ...resolved, [besideKey]: files };
  return resolved;
}
