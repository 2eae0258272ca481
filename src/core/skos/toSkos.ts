import type { Branch, Facts, TaxonomyDoc, TermDoc } from '../definition/taxonomy.ts';
import type { Wording } from '../definition/wording.ts';
import { isList } from '../plain/json.ts';
import { humanize } from '../plain/words.ts';
import { statementsOf } from './facts.ts';
import { type Literal, prefixes, type Resource, type Statement } from './statement.ts';

const { rdf, skos, owl, dct, xsd } = prefixes;

interface Named {
  readonly name: string;
  readonly definition: TaxonomyDoc;
  /** The languages of the workspace, the main one first. */
  readonly languages: readonly string[];
}

/** What the addresses of terms begin with, where a taxonomy does not say it. */
export const usualSpace = (name: string): string => `urn:taxonomy:${name}:`;

/** The address of a term. */
const termAddress = ({ name, definition }: Pick<Named, 'name' | 'definition'>, term: string): string =>
  definition.terms[term]?.iri ?? `${definition.iri ?? usualSpace(name)}${encodeURIComponent(term)}`;

/** The address of the taxonomy itself: where it does not say it, what those of its terms begin with. */
const schemeAddress = ({ name, definition }: Pick<Named, 'name' | 'definition'>): string =>
  definition.scheme ?? usualScheme(definition.iri ?? usualSpace(name));

/** The address of a taxonomy, by what those of its terms begin with. */
export const usualScheme = (space: string): string => space.replace(/[/:#]$/u, '');

/** A taxonomy as a concept scheme of SKOS (W3C, 2009), term by term in its order. */
export function* skosOf(named: Named): Iterable<Statement> {
  const { name, definition, languages } = named;
  const scheme: Resource = { iri: schemeAddress(named) };
  const wordsFor = wordsOf(languages);
  yield { subject: scheme, predicate: `${rdf}type`, object: { iri: `${skos}ConceptScheme` } };
  yield* wordsFor(
    scheme,
    `${skos}prefLabel`,
    unlessKept(definition, 'skos:prefLabel', definition.label ?? humanize(name)),
  );
  yield* wordsFor(scheme, `${dct}description`, unlessKept(definition, 'dct:description', definition.about));
  for (const statement of statementsOf(definition.facts)) yield { subject: scheme, ...statement };
  yield* branches(named, scheme, definition.tree);
  yield* collections(named);
}

interface Above {
  readonly places: ReadonlyMap<string, readonly string[]>;
}

function* branches(named: Named, scheme: Resource, tree: readonly Branch[]): Iterable<Statement> {
  const above: Above = { places: broaderIn(tree) };
  yield* concepts(named, scheme, tree, above);
}

/** The parent of each term: at its first place first. */
function broaderIn(tree: readonly Branch[]): ReadonlyMap<string, readonly string[]> {
  const [first, also] = [new Map<string, string[]>(), new Map<string, string[]>()];
  const walk = (branches: readonly Branch[], above: string | undefined): void => {
    for (const branch of branches) {
      if (above !== undefined) {
        const places = branch.also ? also : first;
        const existing = places.get(branch.term);
        if (existing) existing.push(above);
        else places.set(branch.term, [above]);
      }

      walk(branch.terms ?? [], branch.term);
    }
  };

  walk(tree, undefined);

  return new Map(
    [...new Set([...first.keys(), ...also.keys()])].map((term) => [
      term,
      [...(first.get(term) ?? []), ...(also.get(term) ?? [])],
    ]),
  );
}

function* concepts(named: Named, scheme: Resource, tree: readonly Branch[], above: Above): Iterable<Statement> {
  for (const { term, also, terms = [] } of tree) {
    if (also) continue;
    yield* concept(named, scheme, { term, below: terms }, above);
    yield* concepts(named, scheme, terms, above);
  }
}

function* concept(
  named: Named,
  scheme: Resource,
  { term, below }: { readonly term: string; readonly below: readonly Branch[] },
  { places }: Above,
): Iterable<Statement> {
  const subject: Resource = { iri: termAddress(named, term) };
  const doc: TermDoc = named.definition.terms[term] ?? {};
  const wordsFor = wordsOf(named.languages);
  const broader = places.get(term) ?? [];
  yield { subject, predicate: `${rdf}type`, object: { iri: `${skos}Concept` } };
  yield { subject, predicate: `${skos}inScheme`, object: scheme };
  if (broader.length === 0) yield { subject, predicate: `${skos}topConceptOf`, object: scheme };
  yield* wordsFor(subject, `${skos}prefLabel`, unlessKept(doc, 'skos:prefLabel', doc.label ?? humanize(term)));
  const { synonyms = [] } = doc;
  const words = isList(synonyms)
    ? synonyms.map((synonym) => wordsFor(subject, `${skos}altLabel`, synonym))
    : Object.entries(synonyms).flatMap(([language, words]) =>
        words.map((text) => [{ subject, predicate: `${skos}altLabel`, object: { text, language } }]),
      );
  for (const statement of words) yield* statement;
  yield* wordsFor(subject, `${skos}definition`, unlessKept(doc, 'skos:definition', doc.about));
  for (const broaderTerm of broader)
    yield { subject, predicate: `${skos}broader`, object: { iri: termAddress(named, broaderTerm) } };
  for (const branch of below)
    yield { subject, predicate: `${skos}narrower`, object: { iri: termAddress(named, branch.term) } };
  if (doc.retired !== undefined)
    yield { subject, predicate: `${owl}deprecated`, object: { text: 'true', type: `${xsd}boolean` } };
  if (typeof doc.retired === 'object')
    yield { subject, predicate: `${dct}isReplacedBy`, object: { iri: termAddress(named, doc.retired.use) } };
  for (const statement of statementsOf(doc.facts)) yield { subject, ...statement };
}

/** Groups of terms beside the hierarchy. */
function* collections(named: Named): Iterable<Statement> {
  for (const [index, { iri, label, ordered, members, facts }] of (named.definition.collections ?? []).entries()) {
    const subject: Resource = iri === undefined ? { blank: `collection${index}` } : { iri };
    yield {
      subject,
      predicate: `${rdf}type`,
      object: { iri: `${skos}${ordered ? 'OrderedCollection' : 'Collection'}` },
    };
    yield* wordsOf(named.languages)(subject, `${skos}prefLabel`, unlessKept({ facts }, 'skos:prefLabel', label));
    const resources = members.map((term): Resource => ({ iri: termAddress(named, term) }));
    if (ordered) yield* listed(subject, `${skos}memberList`, resources, `collection${index}`);
    else for (const object of resources) yield { subject, predicate: `${skos}member`, object };
    for (const statement of statementsOf(facts)) yield { subject, ...statement };
  }
}

/** A list of RDF. */
function* listed(subject: Resource, predicate: string, items: readonly Resource[], name: string): Iterable<Statement> {
  const node = (index: number): Resource => {
    if (index < items.length) return { blank: `${name}item${index}` };
    return { iri: `${rdf}nil` };
  };
  yield { subject, predicate, object: node(0) };
  for (const [index, object] of items.entries()) {
    yield { subject: node(index), predicate: `${rdf}first`, object };
    yield { subject: node(index), predicate: `${rdf}rest`, object: node(index + 1) };
  }
}

/** Words, where they are not kept as a fact with their language as well. */
function unlessKept(
  { facts }: { readonly facts?: Facts | undefined },
  property: string,
  words: Wording | undefined,
): Wording | undefined {
  const isKept = facts?.[property]?.some((fact) => typeof fact === 'object' && 'text' in fact && fact.text === words);
  if (isKept) return undefined;
  return words;
}

/** Says words: one text without a language, but in the one of a workspace that has one alone. */
const wordsOf = (languages: readonly string[]) =>
  function* (subject: Resource, predicate: string, words: Wording | undefined): Iterable<Statement> {
    if (words === undefined) return;

    const [only] = languages.length === 1 ? languages : [];
    const literals: readonly Literal[] =
      typeof words === 'string'
        ? [only === undefined ? { text: words } : { text: words, language: only }]
        : Object.entries(words).map(([language, text]) => ({ text, language }));
    for (const object of literals) yield { subject, predicate, object };
  };
