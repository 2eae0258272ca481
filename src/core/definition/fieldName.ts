/** The key under which the values of a field stand in their holders. */
export const keyOfField = (name: string): string => name.slice(name.lastIndexOf('.') + 1);

/** The name of a field beside another one: `hours.closes` beside `hours.opens`. */
export const beside = (name: string, key: string): string => name.slice(0, name.lastIndexOf('.') + 1) + key;

/** What a field is called in expressions: as it is, with `_` for what cannot stand in a name there. */
export const celName = (name: string): string => name.replace(/[^\w.]/gu, '_');
