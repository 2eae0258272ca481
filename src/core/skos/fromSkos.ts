import { isId } from '../definition/address.ts';
import type { Branch, Collection, Facts, TaxonomyDoc, TermDoc } from '../definition/taxonomy.ts';
import type { Wording } from '../definition/wording.ts';
import { compact } from '../plain/json.ts';
import { slugify } from '../plain/slugify.ts';
import { humanize } from '../plain/words.ts';
import { factOf } from './facts.ts';
import { isResource, type Literal, prefixes, type Statement, shortName } from './statement.ts';
import { conceptsIn, keysOf, labelOf, type SkosLoss, schemesIn, schemesOf, type Things, typesOf } from './things.ts';
import { usualScheme, usualSpace } from './toSkos.ts';

const { rdf, rdfs, skos, owl, dct, dc } = prefixes;

interface SkosOptions {
  /** What the taxonomy is to be called. */
  readonly name: string;
  /** The languages of the workspace, the main one first. */
  readonly languages: readonly string[];
  /** The scheme that is intended, of several. */
  readonly scheme?: string | undefined;
  /** What terms are called by: the last part of their addresses, or their labels. */
  readonly names: 'address' | 'label';
}

/** A taxonomy made from SKOS, with its losses. */
export interface FromSkos {
  readonly definition: TaxonomyDoc;
  /** What a scheme is called in its own words. */
  readonly label: string;
  readonly lost: readonly SkosLoss[];
}

/** Makes a taxonomy of statements in SKOS; statements without a key are kept as facts, and losses are reported. */
export function taxonomyFromSkos(things: Things, options: SkosOptions): FromSkos {
  return new SchemeReader(things, options).read();
}

class SchemeReader {
  readonly #things: Things;
  readonly #asked: SkosOptions;
  readonly #concepts: readonly string[];
  readonly #names = new Map<string, string>();
  readonly #space: string | undefined;
  readonly #scheme: string | undefined;
  readonly #lost = new Map<string, { says: string; count: number; example: string }>();

  constructor(things: Things, options: SkosOptions) {
    this.#things = things;
    this.#asked = options;
    const schemes = schemesIn(things);
    this.#scheme = options.scheme ?? (schemes.length === 1 ? schemes[0]?.iri : undefined);
    this.#concepts = [...things.keys()].filter((key) => {
      if (!conceptsIn(things).has(key)) return false;
      const schemes = schemesOf(things, key);
      return this.#scheme === undefined || schemes.length === 0 || schemes.includes(this.#scheme);
    });
    this.#space = spaceOf(this.#concepts);
    this.#nameAll();
  }

  read(): FromSkos {
    const scheme = this.#scheme;
    const { parents, order } = this.#hierarchy();
    const terms = Object.fromEntries(this.#concepts.map((key) => [this.#name(key), this.#term(key)]));
    const collections = this.#collections();
    this.#sayOthers(scheme);
    const label = scheme === undefined ? '' : labelOf(this.#things, scheme, this.#asked.languages);
    const about = scheme === undefined ? {} : this.#aboutScheme(scheme);

    return {
      label,
      definition: compact({
        ...about,
        iri: this.#space === usualSpace(this.#asked.name) ? undefined : this.#space,
        scheme: this.#isUsual(scheme) ? undefined : scheme,
        ...(collections.length > 0 ? { collections } : {}),
        terms,
        tree: this.#tree(parents, order),
      }) as TaxonomyDoc,
      lost: [...this.#lost.values()],
    };
  }

  /** Whether the address of the scheme goes without saying. */
  #isUsual = (scheme: string | undefined): boolean =>
    scheme === undefined ||
    scheme.startsWith('_:') ||
    scheme === usualScheme(this.#space ?? usualSpace(this.#asked.name));

  #lose(message: string, example: string): void {
    const existing = this.#lost.get(message);
    if (existing) existing.count += 1;
    else this.#lost.set(message, { says: message, count: 1, example });
  }

  /* ── names ─────────────────────────────────────────────────────────────────────────────────────────────────── */

  #nameAll(): void {
    const usedNames = new Set<string>();
    for (const key of this.#concepts) {
      const fromLabel = slugify(labelOf(this.#things, key, this.#asked.languages));
      const local = this.#local(key);
      const wantedName = (this.#asked.names === 'label' ? [fromLabel, local] : [local, fromLabel]).find(
        (candidate) => candidate !== undefined && isId(candidate),
      );
      let name = wantedName ?? 'term';
      for (let number = 2; usedNames.has(name); number += 1) name = `${wantedName ?? 'term'}-${number}`;
      usedNames.add(name);
      this.#names.set(key, name);
    }
  }

  #local(key: string): string | undefined {
    if (this.#space === undefined || !key.startsWith(this.#space)) return undefined;
    try {
      return decodeURIComponent(key.slice(this.#space.length));
    } catch {
      return undefined;
    }
  }

  #name = (key: string): string => this.#names.get(key) ?? '';

  /* ── terms ─────────────────────────────────────────────────────────────────────────────────────────────────── */

  #term(key: string): TermDoc {
    const rest = new Map(this.#things.get(key) ?? []);
    const name = this.#name(key);
    for (const property of ['inScheme', 'topConceptOf', 'broader', 'narrower']) rest.delete(skos + property);
    this.#dropType(rest, [`${skos}Concept`]);
    const label = this.#words(rest, rest.has(`${skos}prefLabel`) ? `${skos}prefLabel` : `${rdfs}label`);
    const synonyms = this.#synonyms(rest);
    const about = this.#words(rest, `${skos}definition`);
    const retired = this.#retired(rest);
    const expected = (this.#space ?? '') + encodeURIComponent(name);

    return compact({
      label: label === humanize(name) ? undefined : label,
      about,
      synonyms,
      retired,
      iri: key === expected || key.startsWith('_:') ? undefined : key,
      facts: this.#facts(rest, key),
    }) as TermDoc;
  }

  /** Takes the words of a property: those of the workspace's languages, one of each; others stay. */
  #words(rest: Map<string, readonly Statement['object'][]>, property: string): Wording | undefined {
    const { languages } = this.#asked;
    const objects = rest.get(property) ?? [];
    const wordings = new Map<string, string>();
    const remaining: Statement['object'][] = [];
    const isTagged = objects.some((object) => wordsLanguage(object, languages, true) !== undefined);
    for (const object of objects) {
      const language = wordsLanguage(object, languages, isTagged);
      if (language === undefined || isResource(object) || wordings.has(language)) remaining.push(object);
      else wordings.set(language, object.text);
    }

    const [main = ''] = languages;
    // Without the main language it is one text for all languages, and stays as it is.
    if (!wordings.has('') && !wordings.has(main)) return this.#first(objects);

    replace(rest, property, remaining);
    const plain = wordings.get('') ?? (languages.length === 1 ? wordings.get(main) : undefined);

    return (
      plain ??
      Object.fromEntries(
        languages.flatMap((language) => (wordings.has(language) ? [[language, wordings.get(language) ?? '']] : [])),
      )
    );
  }

  /** The first of some words: in the first language of the workspace that there is one in. */
  #first(objects: readonly Statement['object'][]): string | undefined {
    const words = objects.flatMap((object) =>
      isResource(object) || object.type !== undefined || object.text === '' ? [] : object,
    );
    const best = this.#asked.languages
      .map((language) => words.find((word) => word.language === language))
      .find(Boolean);

    return (best ?? words[0])?.text;
  }

  #synonyms(rest: Map<string, readonly Statement['object'][]>): TermDoc['synonyms'] {
    const { languages } = this.#asked;
    const property = `${skos}altLabel`;
    const objects = rest.get(property) ?? [];
    const wordings = new Map<string, string[]>();
    const remaining: Statement['object'][] = [];
    const isTagged = objects.some((object) => wordsLanguage(object, languages, true) !== undefined);
    for (const object of objects) {
      const language = wordsLanguage(object, languages, isTagged);
      if (language === undefined || isResource(object)) remaining.push(object);
      else wordings.set(language, [...(wordings.get(language) ?? []), object.text]);
    }

    replace(rest, property, remaining);
    if (wordings.size === 0) return undefined;

    const plain = wordings.get('') ?? (languages.length === 1 ? wordings.get(languages[0] ?? '') : undefined);

    return plain ?? Object.fromEntries(wordings);
  }

  #retired(rest: Map<string, readonly Statement['object'][]>): TermDoc['retired'] {
    const isDeprecated = rest
      .get(`${owl}deprecated`)
      ?.some((object) => !isResource(object) && /^(?:true|1)$/u.test(object.text));
    if (!isDeprecated) return undefined;

    rest.delete(`${owl}deprecated`);
    const [use, ...more] = keysOf(rest.get(`${dct}isReplacedBy`));
    const isUsable = use !== undefined && more.length === 0 && this.#names.has(use) && !this.#isDeprecated(use);
    if (!isUsable) return true;

    rest.delete(`${dct}isReplacedBy`);

    return { use: this.#name(use) };
  }

  #isDeprecated = (key: string): boolean =>
    this.#things
      .get(key)
      ?.get(`${owl}deprecated`)
      ?.some((object) => !isResource(object) && /^(?:true|1)$/u.test(object.text)) === true;

  #facts(rest: ReadonlyMap<string, readonly Statement['object'][]>, about: string): Facts | undefined {
    const facts = [...rest].flatMap(([property, objects]) => {
      const facts = objects.flatMap((object) => {
        const fact = factOf(object);
        if (fact === undefined) this.#lose(`${shortName(property)} leads to things without an address`, about);
        return fact ?? [];
      });
      if (facts.length > 0) return [[shortName(property), facts] as const];
      return [];
    });
    if (facts.length > 0) return Object.fromEntries(facts);
    return undefined;
  }

  #dropType(rest: Map<string, readonly Statement['object'][]>, ownTypes: readonly string[]): void {
    const types = (rest.get(`${rdf}type`) ?? []).filter(
      (object) => !('iri' in object) || !ownTypes.includes(object.iri),
    );
    replace(rest, `${rdf}type`, types);
  }

  /* ── the hierarchy ─────────────────────────────────────────────────────────────────────────────────────────── */

  /** The parent of each concept, the first place first, and the terms below each in the stated order. */
  #hierarchy() {
    const parents = new Map<string, string[]>(this.#concepts.map((key) => [key, []]));
    const order = new Map<string, Set<string>>();

    const put = (below: string, above: string): void => {
      const parentsOf = parents.get(below);
      if (!parentsOf || !parents.has(above)) {
        this.#lose('a broader or narrower concept is in no scheme here', parentsOf ? above : below);
        return;
      }
      if (!parentsOf.includes(above)) parentsOf.push(above);
    };

    for (const key of this.#concepts)
      for (const above of keysOf(this.#things.get(key)?.get(`${skos}broader`))) put(key, above);

    for (const key of this.#concepts) {
      const below = keysOf(this.#things.get(key)?.get(`${skos}narrower`));
      order.set(key, new Set(below));
      for (const child of below) put(child, key);
    }

    for (const key of this.#concepts) for (const above of parents.get(key) ?? []) order.get(above)?.add(key);
    this.#openCircles(parents);

    return { parents, order };
  }

  /** A hierarchy that goes round is no tree: the step that closes a circle is left out, and said. */
  #openCircles(parents: Map<string, string[]>): void {
    const done = new Set<string>();
    for (const start of this.#concepts) {
      const path: string[] = [];
      const on = new Set<string>();

      const visit = (start: string): void => {
        // Without recursion: a chain may be as long as the file.
        const stack: { key: string; next: number }[] = [{ key: start, next: 0 }];
        path.push(start);
        on.add(start);
        while (stack.length > 0) {
          const current = stack.at(-1) as { key: string; next: number };
          const above = parents.get(current.key) ?? [];
          const parent = above[current.next];
          if (parent === undefined) {
            stack.pop();
            on.delete(current.key);
            done.add(current.key);
            path.pop();
          } else if (on.has(parent)) {
            const round = [...path.slice(path.indexOf(parent)), parent].map(this.#name);
            this.#lose('the hierarchy goes round, and the step that closes the circle is left out', round.join(' → '));
            above.splice(current.next, 1);
          } else {
            current.next += 1;
            if (done.has(parent)) continue;
            stack.push({ key: parent, next: 0 });
            path.push(parent);
            on.add(parent);
          }
        }
      };

      if (!done.has(start)) visit(start);
    }
  }

  #tree(
    parents: ReadonlyMap<string, readonly string[]>,
    order: ReadonlyMap<string, ReadonlySet<string>>,
  ): readonly Branch[] {
    const branch = (key: string, above: string | undefined, depth: number): Branch => {
      const [first] = parents.get(key) ?? [];
      if (first !== above) return { term: this.#name(key), also: true };

      // A taxonomy that is too deep is refused as a whole.
      const below =
        depth > tooDeep ? [] : [...(order.get(key) ?? [])].filter((child) => parents.get(child)?.includes(key));
      if (below.length > 0)
        return { term: this.#name(key), terms: below.map((child) => branch(child, key, depth + 1)) };
      return { term: this.#name(key) };
    };

    return this.#concepts.filter((key) => parents.get(key)?.length === 0).map((key) => branch(key, undefined, 1));
  }

  /* ── what is beside it ─────────────────────────────────────────────────────────────────────────────────────── */

  #aboutScheme(key: string): Pick<TaxonomyDoc, 'label' | 'about' | 'facts'> {
    const rest = new Map(this.#things.get(key) ?? []);
    rest.delete(`${skos}hasTopConcept`);
    this.#dropType(rest, [`${skos}ConceptScheme`]);
    const label = [`${skos}prefLabel`, `${rdfs}label`, `${dct}title`, `${dc}title`]
      .filter((property) => rest.has(property))
      .slice(0, 1)
      .map((property) => this.#words(rest, property))[0];
    const about = this.#words(rest, `${dct}description`) ?? this.#words(rest, `${skos}definition`);

    return compact({
      label: label === humanize(this.#asked.name) ? undefined : label,
      about,
      facts: this.#facts(rest, key),
    }) as Pick<TaxonomyDoc, 'label' | 'about' | 'facts'>;
  }

  #collections(): readonly Collection[] {
    return [...this.#things.keys()].flatMap((key): readonly Collection[] => {
      const types = typesOf(this.#things, key);
      const ordered = types.includes(`${skos}OrderedCollection`);
      if (!ordered && !types.includes(`${skos}Collection`)) return [];

      const rest = new Map(this.#things.get(key) ?? []);
      this.#dropType(rest, [`${skos}Collection`, `${skos}OrderedCollection`]);
      const lists = keysOf(rest.get(`${skos}memberList`)).flatMap((list) => this.#items(list));
      const members = [...new Set([...lists, ...keysOf(rest.get(`${skos}member`))])];
      rest.delete(`${skos}memberList`);
      rest.delete(`${skos}member`);
      rest.delete(`${skos}inScheme`);
      for (const member of members)
        if (!this.#names.has(member)) this.#lose('a collection holds what is no concept of this scheme', member);
      const knownMembers = members.filter((member) => this.#names.has(member)).map(this.#name);
      if (knownMembers.length === 0) return [];
      return [
        compact({
          iri: key.startsWith('_:') ? undefined : key,
          label: this.#words(rest, `${skos}prefLabel`),
          ordered: ordered || undefined,
          members: knownMembers,
          facts: this.#facts(rest, key),
        }) as Collection,
      ];
    });
  }

  /** The items of a list of RDF; one that goes round ends where it began. */
  #items(list: string): readonly string[] {
    const items: string[] = [];
    const visited = new Set<string>();
    for (let node: string | undefined = list; node !== undefined && !visited.has(node); ) {
      visited.add(node);
      const thing = this.#things.get(node);
      items.push(...keysOf(thing?.get(`${rdf}first`)));
      [node] = keysOf(thing?.get(`${rdf}rest`));
    }

    return items;
  }

  /** Statements about other things than concepts and collections of this scheme. */
  #sayOthers(scheme: string | undefined): void {
    const collectionClasses = [`${skos}Collection`, `${skos}OrderedCollection`];
    for (const [key, thing] of this.#things) {
      if (
        key === scheme ||
        this.#names.has(key) ||
        typesOf(this.#things, key).some((type) => collectionClasses.includes(type))
      )
        continue;
      if (thing.has(`${rdf}first`)) continue;

      const isOtherConcept = conceptsIn(this.#things).has(key);
      const isOtherScheme = typesOf(this.#things, key).includes(`${skos}ConceptScheme`);
      if (isOtherConcept) this.#lose('concepts of other schemes', key);
      else if (isOtherScheme) this.#lose('other schemes', key);
      else this.#lose('things that are no concepts', key);
    }
  }
}

/** More levels than these are more than a taxonomy may have. */
const tooDeep = 100;

/** The language that words count as: an empty one of words without; `undefined` where they stay as they are. */
function wordsLanguage(
  object: Statement['object'],
  languages: readonly string[],
  isTagged: boolean,
): string | undefined {
  if (isResource(object) || object.type !== undefined || object.text === '') return undefined;
  const { language } = object as Literal;
  if (language === undefined) return isTagged ? undefined : '';
  return languages.find((name) => name.toLowerCase() === language.toLowerCase());
}

function replace<K, V>(map: Map<K, readonly V[]>, key: K, remaining: readonly V[]): void {
  if (remaining.length > 0) map.set(key, remaining);
  else map.delete(key);
}

/** What the addresses of most concepts begin with. */
function spaceOf(keys: readonly string[]): string | undefined {
  const counts = new Map<string, number>();
  for (const key of keys) {
    if (key.startsWith('_:')) continue;
    const space = key.slice(0, Math.max(key.lastIndexOf('/'), key.lastIndexOf('#'), key.lastIndexOf(':')) + 1);
    counts.set(space, (counts.get(space) ?? 0) + 1);
  }

  return [...counts].sort(([, a], [, b]) => b - a)[0]?.[0];
}
