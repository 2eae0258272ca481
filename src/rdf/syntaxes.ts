/** The ways in which RDF is written. */
export interface Syntax {
  readonly name: 'turtle' | 'n-triples' | 'rdf-xml' | 'json-ld';
  readonly about: string;
  /** What the names of its files end in. */
  readonly endings: readonly string[];
}

/** The syntaxes of RDF that are read and written. */
export const syntaxes: readonly Syntax[] = [
  { name: 'turtle', about: 'Turtle (W3C RDF 1.1)', endings: ['.ttl', '.turtle'] },
  { name: 'n-triples', about: 'N-Triples: a statement on each line; N-Quads too', endings: ['.nt', '.nq'] },
  { name: 'rdf-xml', about: 'RDF/XML', endings: ['.rdf', '.owl', '.xml'] },
  { name: 'json-ld', about: 'JSON-LD 1.1', endings: ['.jsonld'] },
];

/** The syntax of a file, by its name. */
export const syntaxOf = (file: string): Syntax | undefined =>
  syntaxes.find(({ endings }) => endings.some((ending) => file.toLowerCase().endsWith(ending)));
