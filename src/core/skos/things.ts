import { onceFor } from '../plain/once.ts';
import { isResource, prefixes, type Resource, resourceKey, type Statement } from './statement.ts';

const { rdf, rdfs, skos, dct, dc } = prefixes;

type Objects = readonly Statement['object'][];

/** What statements say, by the thing that they are about and by property. */
export type Things = ReadonlyMap<string, ReadonlyMap<string, Objects>>;

/** What of some statements is not kept, with how many there are and one that shows it. */
export interface SkosLoss {
  readonly says: string;
  readonly count: number;
  readonly example: string;
}

/** Statements as they come, by their subjects. */
export class ThingsSoFar {
  readonly #things = new Map<string, Map<string, Statement['object'][]>>();

  add({ subject, predicate, object }: Statement): void {
    const key = resourceKey(subject);
    const thing = this.#things.get(key) ?? new Map<string, Statement['object'][]>();
    if (thing.size === 0) this.#things.set(key, thing);
    const objects = thing.get(predicate);
    if (objects) objects.push(object);
    else thing.set(predicate, [object]);
  }

  /** How many things statements are about. */
  get size(): number {
    return this.#things.size;
  }

  /** All of them, their labels as plain words. */
  done(): { readonly things: Things; readonly lost: readonly SkosLoss[] } {
    const lost = plainLabels(this.#things);
    return { things: this.#things, lost };
  }
}

/** Labels that are things of their own (SKOS-XL), and their texts. */
const xl = 'http://www.w3.org/2008/05/skos-xl#';
const labelProperties = ['prefLabel', 'altLabel', 'hiddenLabel'];

/** Puts the words of labels in the place of labels that are things of their own. @returns what else these say. */
function plainLabels(things: Map<string, Map<string, Statement['object'][]>>): readonly SkosLoss[] {
  const used = new Set<string>();
  for (const thing of [...things.values()])
    for (const name of labelProperties) {
      const labels = keysOf(thing.get(xl + name)).filter((key) => things.get(key)?.has(`${xl}literalForm`));
      const words = labels.flatMap((key) => things.get(key)?.get(`${xl}literalForm`) ?? []);
      const existing = thing.get(skos + name) ?? [];
      const fresh = words.filter((word) => !existing.some((other) => JSON.stringify(other) === JSON.stringify(word)));
      if (labels.length === 0) continue;

      thing.delete(xl + name);
      if (existing.length + fresh.length > 0) thing.set(skos + name, [...existing, ...fresh]);
      for (const key of labels) used.add(key);
    }

  const telling = [...used].filter((key) => saysMore(things.get(key)));
  for (const key of used) things.delete(key);
  const [example] = telling;

  if (example === undefined) return [];
  return [{ says: 'what labels say beside their words (SKOS-XL)', count: telling.length, example }];
}

/** Whether a label says more than its words. */
const saysMore = (label: ReadonlyMap<string, unknown> | undefined): boolean =>
  [...(label?.keys() ?? [])].some((property) => property !== `${xl}literalForm` && property !== `${rdf}type`);

/** The RDF types of a thing. */
export const typesOf = (things: Things, key: string): readonly string[] =>
  (things.get(key)?.get(`${rdf}type`) ?? []).flatMap((object) => ('iri' in object ? object.iri : []));

const resources = (objects: Objects | undefined): readonly Resource[] => (objects ?? []).filter(isResource);

/** The things that a property leads to. */
export const keysOf = (objects: Objects | undefined): readonly string[] => resources(objects).map(resourceKey);

/** The properties that make of a thing a concept, whether it says so or not; and of their targets. */
const [conceptual, leading] = [
  ['broader', 'narrower', 'inScheme', 'topConceptOf', 'related'],
  ['broader', 'narrower', 'related', 'hasTopConcept'],
].map((names) => names.map((name) => skos + name)) as [string[], string[]];

/** The things that are concepts: those that say so, and those of which only concepts say such. */
export const conceptsIn = onceFor((things: Things): ReadonlySet<string> => {
  const led = new Set<string>();
  for (const thing of things.values())
    for (const property of leading) for (const key of keysOf(thing.get(property))) led.add(key);

  return new Set(
    [...things.keys()].filter((key) => {
      const types = typesOf(things, key);
      if (types.includes(`${skos}Concept`)) return true;
      const isOther = types.some((type) => type.startsWith(skos));
      return !isOther && (led.has(key) || conceptual.some((property) => things.get(key)?.has(property)));
    }),
  );
});

/** A concept scheme that statements are about. */
export interface Scheme {
  readonly iri: string | undefined;
  readonly label: string;
  readonly concepts: number;
}

/** The schemes of some statements, with how many concepts are in each; one without an address where none is named. */
export function schemesIn(things: Things): readonly Scheme[] {
  const counts = new Map<string, number>();
  let rest = 0;
  for (const key of things.keys()) {
    if (typesOf(things, key).includes(`${skos}ConceptScheme`)) counts.set(key, counts.get(key) ?? 0);
    if (!conceptsIn(things).has(key)) continue;
    const schemes = schemesOf(things, key);
    if (schemes.length === 0) rest += 1;
    for (const scheme of schemes) counts.set(scheme, (counts.get(scheme) ?? 0) + 1);
  }

  const named = [...counts].map(([iri, concepts]) => ({ iri, label: labelOf(things, iri, []), concepts }));

  if (rest > 0 && !named.some(({ concepts }) => concepts > 0))
    return [{ iri: named[0]?.iri, label: named[0]?.label ?? '', concepts: rest }];
  return named;
}

/** The schemes that a concept is in. */
export const schemesOf = (things: Things, key: string): readonly string[] => [
  ...new Set([
    ...keysOf(things.get(key)?.get(`${skos}inScheme`)),
    ...keysOf(things.get(key)?.get(`${skos}topConceptOf`)),
  ]),
];

/** What a thing is called, in the first of some languages that it has a name in. */
export function labelOf(things: Things, key: string, languages: readonly string[]): string {
  const thing = things.get(key);
  const labels = [`${skos}prefLabel`, `${rdfs}label`, `${dct}title`, `${dc}title`].flatMap((property) =>
    (thing?.get(property) ?? []).flatMap((object) => (isResource(object) ? [] : object)),
  );
  const best =
    languages.map((language) => labels.find((label) => label.language === language)).find(Boolean) ?? labels[0];
  return best?.text ?? '';
}
