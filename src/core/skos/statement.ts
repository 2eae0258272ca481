/** A thing that statements are about: by its address (IRI, RFC 3987), or one without. */
export type Resource = { readonly iri: string } | { readonly blank: string };

/** A text, in a language (BCP 47) or of a type that is not a text. */
export interface Literal {
  readonly text: string;
  readonly language?: string | undefined;
  /** The address of its datatype. */
  readonly type?: string | undefined;
}

/** A statement of RDF 1.1: a triple. */
export interface Statement {
  readonly subject: Resource;
  readonly predicate: string;
  readonly object: Resource | Literal;
}

/** The prefixes by which properties are named for people. */
export const prefixes = {
  rdf: 'http://www.w3.org/1999/02/22-rdf-syntax-ns#',
  rdfs: 'http://www.w3.org/2000/01/rdf-schema#',
  owl: 'http://www.w3.org/2002/07/owl#',
  skos: 'http://www.w3.org/2004/02/skos/core#',
  dct: 'http://purl.org/dc/terms/',
  dc: 'http://purl.org/dc/elements/1.1/',
  foaf: 'http://xmlns.com/foaf/0.1/',
  xsd: 'http://www.w3.org/2001/XMLSchema#',
} as const;

/** `skos:notation` as an address; without a known prefix it is one already. */
export function fullAddress(name: string): string {
  const colon = name.indexOf(':');
  const prefix = name.slice(0, colon);
  if (Object.hasOwn(prefixes, prefix) && !name.startsWith('//', colon + 1))
    return prefixes[prefix as keyof typeof prefixes] + name.slice(colon + 1);
  return name;
}

/** An address by its prefix, where it has a known one. */
export function shortName(address: string): string {
  for (const [prefix, start] of Object.entries(prefixes))
    if (address.startsWith(start) && /^[\w-]+$/u.test(address.slice(start.length)))
      return `${prefix}:${address.slice(start.length)}`;
  return address;
}

/** A text that identifies a resource. */
export const resourceKey = (resource: Resource): string => {
  if ('iri' in resource) return resource.iri;
  return `_:${resource.blank}`;
};

/** Whether the object of a statement is a resource, not a literal. */
export const isResource = (object: Statement['object']): object is Resource => 'iri' in object || 'blank' in object;
