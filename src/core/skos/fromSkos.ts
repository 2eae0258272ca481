import { isId } from '../definition/address.ts';
import type { Branch, Collection, Facts, TaxonomyDoc, TermDoc } from '../definition/taxonomy.ts';
import type { Wording } from '../definition/wording.ts';
import { compact } from '../plain/json.ts';
import { slugify } from '../plain/slugify.ts';
import { humanize } from '../plain/words.ts';
import { factOf } from './facts.ts';
import { isResource, type Literal, prefixes, type Statement, shortName } from './statement.ts';
import { conceptsIn, keysOf, type Lost, labelOf, schemesIn, schemesOf, type Things, typesOf } from './things.ts';
import { usualScheme, usualSpace } from './toSkos.ts';

const { rdf, rdfs, skos, owl, dct, dc } = prefixes;

interface Asked {
  /** What the taxonomy is to be called. */
  readonly name: string;
  /** The languages of the workspace, the main one first. */
  readonly languages: readonly string[];
  /** The scheme that is meant, of several. */
  readonly scheme?: string | undefined;
  /** What terms are called by: the last part of their addresses, or their labels. */
  readonly names: 'address' | 'label';
}

export interface FromSkos {
  readonly definition: TaxonomyDoc;
  /** What a scheme is called in its own words. */
  readonly label: string;
  readonly lost: readonly Lost[];
}

/** Makes a taxonomy of statements in SKOS; what it has no word for is kept as facts, what it cannot keep is said. */
export function taxonomyFromSkos(things: Things, asked: Asked): FromSkos {
  return new SchemeReader(things, asked).read();
}

class SchemeReader {
  readonly #things: Things;
  readonly #asked: Asked;
  readonly #concepts: readonly string[];
  readonly #names = new Map<string, string>();
  readonly #space: string | undefined;
  readonly #scheme: string | undefined;
  readonly #lost = new Map<string, { says: string; count: number; example: string }>();

  constructor(things: Things, asked: Asked) {
    this.#things = things;
    this.#asked = asked;
    const schemes = schemesIn(things);
    this.#scheme = asked.scheme ?? (schemes.length === 1 ? schemes[0]?.iri : undefined);
    this.#concepts = [...things.keys()].filter((key) => {
      if (!conceptsIn(things).has(key)) return false;
      const own = schemesOf(things, key);
      return this.#scheme === undefined || own.length === 0 || own.includes(this.#scheme);
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

  #lose(says: string, example: string): void {
    const known = this.#lost.get(says);
    if (known) known.count += 1;
    else this.#lost.set(says, { says, count: 1, example });
  }

  /* ── names ─────────────────────────────────────────────────────────────────────────────────────────────────── */

  #nameAll(): void {
    const taken = new Set<string>();
    for (const key of this.#concepts) {
      const said = slugify(labelOf(this.#things, key, this.#asked.languages));
      const local = this.#local(key);
      const wanted = (this.#asked.names === 'label' ? [said, local] : [local, said]).find(
        (one) => one !== undefined && isId(one),
      );
      let name = wanted ?? 'term';
      for (let number = 2; taken.has(name); number += 1) name = `${wanted ?? 'term'}-${number}`;
      taken.add(name);
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
    for (const own of ['inScheme', 'topConceptOf', 'broader', 'narrower']) rest.delete(skos + own);
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
    const all = rest.get(property) ?? [];
    const said = new Map<string, string>();
    const left: Statement['object'][] = [];
    const isTagged = all.some((one) => wordsLanguage(one, languages, true) !== undefined);
    for (const one of all) {
      const language = wordsLanguage(one, languages, isTagged);
      if (language === undefined || isResource(one) || said.has(language)) left.push(one);
      else said.set(language, one.text);
    }
    const [main = ''] = languages;
    // What is said in the main language neither here nor at all is one text for all of them, and kept as it is.
    if (!said.has('') && !said.has(main)) return this.#first(all);
    replace(rest, property, left);
    const plain = said.get('') ?? (languages.length === 1 ? said.get(main) : undefined);
    return plain ?? Object.fromEntries(languages.flatMap((one) => (said.has(one) ? [[one, said.get(one) ?? '']] : [])));
  }

  /** The first of some words: in the first language of the workspace that there is one in. */
  #first(all: readonly Statement['object'][]): string | undefined {
    const words = all.flatMap((one) => (isResource(one) || one.type !== undefined || one.text === '' ? [] : one));
    const best = this.#asked.languages.map((language) => words.find((one) => one.language === language)).find(Boolean);
    return (best ?? words[0])?.text;
  }

  #synonyms(rest: Map<string, readonly Statement['object'][]>): TermDoc['synonyms'] {
    const { languages } = this.#asked;
    const property = `${skos}altLabel`;
    const all = rest.get(property) ?? [];
    const said = new Map<string, string[]>();
    const left: Statement['object'][] = [];
    const isTagged = all.some((one) => wordsLanguage(one, languages, true) !== undefined);
    for (const one of all) {
      const language = wordsLanguage(one, languages, isTagged);
      if (language === undefined || isResource(one)) left.push(one);
      else said.set(language, [...(said.get(language) ?? []), one.text]);
    }
    replace(rest, property, left);
    if (said.size === 0) return undefined;
    const plain = said.get('') ?? (languages.length === 1 ? said.get(languages[0] ?? '') : undefined);
    return plain ?? Object.fromEntries(said);
  }

  #retired(rest: Map<string, readonly Statement['object'][]>): TermDoc['retired'] {
    const isDeprecated = rest
      .get(`${owl}deprecated`)
      ?.some((one) => !isResource(one) && /^(?:true|1)$/u.test(one.text));
    if (!isDeprecated) return undefined;
    rest.delete(`${owl}deprecated`);
    const [use, ...others] = keysOf(rest.get(`${dct}isReplacedBy`));
    const isUsable = use !== undefined && others.length === 0 && this.#names.has(use) && !this.#isDeprecated(use);
    if (!isUsable) return true;
    rest.delete(`${dct}isReplacedBy`);
    return { use: this.#name(use) };
  }

  #isDeprecated = (key: string): boolean =>
    this.#things
      .get(key)
      ?.get(`${owl}deprecated`)
      ?.some((one) => !isResource(one) && /^(?:true|1)$/u.test(one.text)) === true;

  #facts(rest: ReadonlyMap<string, readonly Statement['object'][]>, about: string): Facts | undefined {
    const facts = [...rest].flatMap(([property, objects]) => {
      const said = objects.flatMap((object) => {
        const fact = factOf(object);
        if (fact === undefined) this.#lose(`${shortName(property)} leads to things without an address`, about);
        return fact ?? [];
      });
      return said.length > 0 ? [[shortName(property), said] as const] : [];
    });
    return facts.length > 0 ? Object.fromEntries(facts) : undefined;
  }

  #dropType(rest: Map<string, readonly Statement['object'][]>, own: readonly string[]): void {
    const types = (rest.get(`${rdf}type`) ?? []).filter((one) => !('iri' in one) || !own.includes(one.iri));
    replace(rest, `${rdf}type`, types);
  }

  /* ── the hierarchy ─────────────────────────────────────────────────────────────────────────────────────────── */

  /** What stands above each concept, the first place first, and what is below each in the order that is said. */
  #hierarchy() {
    const parents = new Map<string, string[]>(this.#concepts.map((key) => [key, []]));
    const order = new Map<string, Set<string>>();
    const put = (below: string, above: string): void => {
      const all = parents.get(below);
      if (!all || !parents.has(above)) {
        this.#lose('a broader or narrower concept is in no scheme here', all ? above : below);
        return;
      }
      if (!all.includes(above)) all.push(above);
    };
    for (const key of this.#concepts)
      for (const above of keysOf(this.#things.get(key)?.get(`${skos}broader`))) put(key, above);
    for (const key of this.#concepts) {
      const below = keysOf(this.#things.get(key)?.get(`${skos}narrower`));
      order.set(key, new Set(below));
      for (const one of below) put(one, key);
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
          const here = stack.at(-1) as { key: string; next: number };
          const above = parents.get(here.key) ?? [];
          const one = above[here.next];
          if (one === undefined) {
            stack.pop();
            on.delete(here.key);
            done.add(here.key);
            path.pop();
          } else if (on.has(one)) {
            const round = [...path.slice(path.indexOf(one)), one].map(this.#name);
            this.#lose('the hierarchy goes round, and the step that closes the circle is left out', round.join(' → '));
            above.splice(here.next, 1);
          } else {
            here.next += 1;
            if (done.has(one)) continue;
            stack.push({ key: one, next: 0 });
            path.push(one);
            on.add(one);
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
      // What is deeper than any taxonomy may be is refused as a whole.
      const below = depth > tooDeep ? [] : [...(order.get(key) ?? [])].filter((one) => parents.get(one)?.includes(key));
      return below.length > 0
        ? { term: this.#name(key), terms: below.map((one) => branch(one, key, depth + 1)) }
        : { term: this.#name(key) };
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
      for (const one of members)
        if (!this.#names.has(one)) this.#lose('a collection holds what is no concept of this scheme', one);
      const known = members.filter((one) => this.#names.has(one)).map(this.#name);
      if (known.length === 0) return [];
      return [
        compact({
          iri: key.startsWith('_:') ? undefined : key,
          label: this.#words(rest, `${skos}prefLabel`),
          ordered: ordered || undefined,
          members: known,
          facts: this.#facts(rest, key),
        }) as Collection,
      ];
    });
  }

  /** The items of a list of RDF; one that goes round ends where it began. */
  #items(list: string): readonly string[] {
    const items: string[] = [];
    const seen = new Set<string>();
    for (let node: string | undefined = list; node !== undefined && !seen.has(node); ) {
      seen.add(node);
      const thing = this.#things.get(node);
      items.push(...keysOf(thing?.get(`${rdf}first`)));
      [node] = keysOf(thing?.get(`${rdf}rest`));
    }
    return items;
  }

  /** What is said of things that are neither concepts nor collections of this scheme. */
  #sayOthers(scheme: string | undefined): void {
    const known = [`${skos}Collection`, `${skos}OrderedCollection`];
    for (const [key, thing] of this.#things) {
      if (key === scheme || this.#names.has(key) || typesOf(this.#things, key).some((type) => known.includes(type)))
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
function wordsLanguage(one: Statement['object'], languages: readonly string[], isTagged: boolean): string | undefined {
  if (isResource(one) || one.type !== undefined || one.text === '') return undefined;
  const { language } = one as Literal;
  if (language === undefined) return isTagged ? undefined : '';
  return languages.find((one) => one.toLowerCase() === language.toLowerCase());
}

function replace<K, V>(map: Map<K, readonly V[]>, key: K, left: readonly V[]): void {
  if (left.length > 0) map.set(key, left);
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
