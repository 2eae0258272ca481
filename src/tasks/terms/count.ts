import type { Facts } from '../../core/check/facts.ts';
import { TermUsage } from '../../core/check/termUsage.ts';
import { wordsIn } from '../../core/definition/wording.ts';
import type { Entry } from '../../core/entry/entry.ts';
import type { Model } from '../../core/model/link.ts';
import { fieldsWithin } from '../../core/model/nestedFields.ts';
import { compact, ownValue } from '../../core/plain/json.ts';
import { didYouMean } from '../../core/plain/nearest.ts';
import { thereAre } from '../../core/plain/words.ts';
import type { Taxonomy, Term } from '../../core/taxonomy/linkTaxonomy.ts';
import { termAddress } from '../../core/taxonomy/termAddress.ts';
import { factsPass } from '../../passes/facts.ts';
import { walk } from '../../passes/walk.ts';
import type { EntryStore } from '../../stores/store.ts';
import { Trouble } from '../../workspace/trouble.ts';
import { type CountedTerm, command, type TermsResult } from './result.ts';

/** Counts the terms that the entries of a store use, all in one pass. */
export async function countTerms(
  model: Model,
  store: EntryStore,
  see: (facts: Facts, entry: Entry) => void = () => undefined,
): Promise<TermUsage> {
  const usage = new TermUsage(model);
  const pass = await factsPass(model, (facts, entry) => {
    usage.add(facts);
    see(facts, entry);
  });
  await walk(store, [pass]);
  return usage;
}

/** @throws {Trouble} where there is no such taxonomy. */
export function taxonomyNamed({ taxonomies }: Model, name: string): Taxonomy {
  const taxonomy = taxonomies.get(name);
  if (taxonomy) return taxonomy;
  throw new Trouble('not-found', `there is no taxonomy \`${name}\``, {
    mend: didYouMean(name, taxonomies.keys()) ?? thereAre([...taxonomies.keys()]) ?? 'Define one in model/taxonomies/.',
  });
}

/** Every taxonomy with its counts. */
export async function termsOverview(model: Model, store: EntryStore): Promise<TermsResult> {
  const using = new Map<string, number>();
  const usage = await countTerms(model, store, ({ terms }) => {
    for (const name of new Set(terms.map((term) => term.slice(0, term.indexOf(':')))))
      using.set(name, (using.get(name) ?? 0) + 1);
  });

  return {
    ...command,
    what: 'taxonomies',
    taxonomies: [...model.taxonomies.values()].map((taxonomy) => ({
      name: taxonomy.name,
      label: taxonomy.label,
      open: taxonomy.isOpen,
      terms: taxonomy.terms.size,
      unlisted: usage.unlisted(taxonomy).length,
      unused: [...taxonomy.terms.keys()].filter((term) => usage.withBelow(taxonomy.name, term) === 0).length,
      entries: using.get(taxonomy.name) ?? 0,
    })),
  };
}

/** A taxonomy as a tree with counts, whole or from a term down. */
export async function termsTree(model: Model, store: EntryStore, name: string, from?: string): Promise<TermsTree> {
  return treeOf(model, await countTerms(model, store), taxonomyNamed(model, name), from);
}

type TermsTree = Extract<TermsResult, { what: 'tree' }>;

/** The same of terms that were counted. */
export function treeOf(model: Model, usage: TermUsage, taxonomy: Taxonomy, from?: string): TermsTree {
  const { name } = taxonomy;
  const fields = [...model.types.values()]
    .flatMap((type) => fieldsWithin(type.fields))
    .filter(({ options, kind }) => kind.taxonomy(options) === name);

  return {
    ...command,
    what: 'tree',
    name,
    label: taxonomy.label,
    about: wordsIn(taxonomy.definition.about, model.readingOrder),
    open: taxonomy.isOpen,
    fields: [...new Set(fields.map(({ address }) => address))],
    terms: countedTree(taxonomy, usage, model, from),
    ...compact({ asked: from === undefined ? undefined : termAsked(taxonomy, from, model) }),
  };
}

/** Statements about one term. */
function termAsked(taxonomy: Taxonomy, name: string, model: Model) {
  const term = taxonomy.terms.get(name);
  if (!term) return undefined;

  const { readingOrder } = model;
  const lender = term.borrowedFrom === undefined ? taxonomy : (model.taxonomies.get(term.borrowedFrom) ?? taxonomy);
  const definition = ownValue(lender.definition.terms, name);
  const { label } = definition ?? {};

  return compact({
    term: name,
    about: wordsIn(definition?.about, readingOrder),
    labels: typeof label === 'object' ? { ...(label as Record<string, string>) } : {},
    synonyms: [...term.synonyms],
    address: termAddress(taxonomy, term, readingOrder[0] ?? 'en'),
    places: term.places.map((place) => `${taxonomy.name}:${place.join('/')}`),
  });
}

function countedTree(taxonomy: Taxonomy, usage: TermUsage, model: Model, from: string | undefined): CountedTerm[] {
  const unlisted = new Set(usage.unlisted(taxonomy));
  const counted = (term: Term, above: readonly string[]): CountedTerm => {
    const path = [...above, term.name];
    const elsewhere = term.places.filter((place) => place.join('/') !== path.join('/'));

    return {
      term: term.name,
      label: term.label,
      entries: usage.alone(taxonomy.name, term.name),
      withBelow: usage.withBelow(taxonomy.name, term.name),
      notes: [
        ...(unlisted.has(term) ? ['not written down'] : []),
        ...(term.isRetired ? [term.use === undefined ? 'retired' : `retired, use ${term.use}`] : []),
        ...(term.borrowedFrom === undefined ? [] : [`from ${term.borrowedFrom}`]),
        ...elsewhere.map((place) => `also in ${place.at(-2) ?? 'the top'}`),
      ],
      address: termAddress(taxonomy, term, model.readingOrder[0] ?? 'en'),
      terms: term.below.map((term) => counted(term, path)),
    };
  };

  const start = from === undefined ? undefined : taxonomy.terms.get(from);
  if (start) return [counted(start, start.path.slice(0, -1))];
  return [...taxonomy.roots, ...unlisted].map((term) => counted(term, []));
}
