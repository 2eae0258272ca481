import { type Address, parseAddress } from '../core/definition/address.ts';
import { keyOf } from '../core/entry/entry.ts';
import type { Model } from '../core/model/link.ts';
import { titleRead } from '../core/model/traversal.ts';
import { compact } from '../core/plain/json.ts';
import { didYouMean } from '../core/plain/nearest.ts';
import { alikeTerms } from '../core/taxonomy/alike.ts';
import { flat } from '../core/taxonomy/linkTaxonomy.ts';
import { openStore } from '../stores/open.ts';
import type { EntryStore } from '../stores/store.ts';
import { Trouble } from '../workspace/trouble.ts';
import type { Call } from './call.ts';
import { readIn, reading } from './openForCall.ts';
import { addTerms } from './terms/add.ts';
import { countTerms, taxonomyNamed, termsOverview, termsTree } from './terms/count.ts';
import { makeTaxonomy } from './terms/from.ts';
import { command, type TermsResult } from './terms/result.ts';

/** The options of `terms`. */
export interface TermsCall {
  /** A taxonomy, with or without a term in it; all taxonomies where it is not given. */
  readonly address: string | undefined;
  /** Whether to look for terms that look like one idea. */
  readonly alike: boolean;
  /** A file with terms to add. */
  readonly add: string | undefined;
  /** A file to make a taxonomy of. */
  readonly from?: string | undefined;
  /** Which of several schemes in it. */
  readonly scheme?: string | undefined;
  /** Whether its terms are called by their labels. */
  readonly byLabel?: boolean | undefined;
  /** The language in which terms are shown. */
  readonly language?: string | undefined;
}

/** Everything about the terms of taxonomies: counts, entries under a term, look-alikes, adding many at once. */
export async function terms(call: Call, request: TermsCall): Promise<TermsResult> {
  const { address: text, alike, add, language, from } = request;
  if (from !== undefined)
    return makeTaxonomy(call, { ...request, name: newName(text), from, byLabel: request.byLabel === true });

  const workspace = await reading(call);
  const store = openStore(workspace);
  const model = readIn(workspace, language);
  if (text === undefined) {
    if (!alike && add === undefined) return termsOverview(model, store);
    throw new Trouble('unusable-call', 'no taxonomy is named', {
      mend: `Name one: lumbrik terms ${[...model.taxonomies.keys()][0] ?? 'topic'} ${alike ? '--alike' : '--add list.txt'}`,
    });
  }

  const address = parseAddress(text);
  const name = taxonomyIn(address);
  if (address?.what === 'term' && !alike && add === undefined)
    return entriesUnder(model, store, address.taxonomy, address.term);
  if (name === undefined)
    throw new Trouble('malformed-address', `“${text}” is no taxonomy`, {
      mend: 'Write a taxonomy (region) or a term (region:north).',
    });
  if (add !== undefined) return addTerms(call, name, add);
  if (alike) return lookAlikes(model, store, name);
  return termsTree(model, store, name);
}

/** @throws {Trouble} where nobody said what the new taxonomy is to be called. */
function newName(text: string | undefined): string {
  if (text !== undefined) return text.replace(/:$/u, '');
  throw new Trouble('unusable-call', 'nobody said what the taxonomy is to be called', {
    mend: 'Name it: lumbrik terms region --from regions.ttl',
  });
}

/** The taxonomy that an address names; a bare name is read as the one of a type. */
function taxonomyIn(address: Address | undefined): string | undefined {
  if (address?.what === 'type') return address.type;
  if (address?.what !== 'taxonomy') return undefined;
  return address.taxonomy;
}

async function entriesUnder(model: Model, store: EntryStore, name: string, termName: string): Promise<TermsResult> {
  const taxonomy = taxonomyNamed(model, name);
  const entries: Extract<TermsResult, { what: 'entries' }>['entries'] = [];
  const term = taxonomy.terms.get(termName);
  const within = new Set((term ? flat(term) : [{ name: termName }]).map((inside) => `${name}:${inside.name}`));
  const usage = await countTerms(model, store, (facts, entry) => {
    const used = [...new Set(facts.terms)].filter((address) => within.has(address));
    if (used.length === 0) return;

    const title = titleRead(entry, model.types.get(entry.type), model);
    entries.push(
      compact({
        entry: keyOf(entry),
        title,
        status: facts.status,
        terms: used.map((address) => address.slice(name.length + 1)),
      }),
    );
  });
  const unlisted = usage.unlisted(taxonomy).find((term) => term.name === termName);
  if (!term && !unlisted)
    throw new Trouble('not-found', `there is no term \`${termName}\` in ${name}`, {
      mend: didYouMean(termName, taxonomy.terms.keys()) ?? `See all of them: lumbrik terms ${name}`,
    });

  return {
    ...command,
    what: 'entries',
    term: `${name}:${termName}`,
    label: (term ?? unlisted)?.label ?? '',
    entries,
  };
}

async function lookAlikes(model: Model, store: EntryStore, name: string): Promise<TermsResult> {
  const taxonomy = taxonomyNamed(model, name);
  const usage = await countTerms(model, store);
  const terms = [
    ...[...taxonomy.terms.values()].filter(({ isRetired }) => !isRetired).map((term) => ({ term, isListed: true })),
    ...usage.unlisted(taxonomy).map((term) => ({ term, isListed: false })),
  ];
  const pairs = alikeTerms(
    terms.map(({ term, isListed }) => ({
      term: term.name,
      label: term.label,
      labels: term.labels,
      synonyms: term.synonyms,
      isBorrowed: term.borrowedFrom !== undefined,
      uses: usage.alone(name, term.name),
      isListed,
    })),
  );
  const twin = ({ term, label, uses }: (typeof pairs)[number]['keep']) => ({ term, label, entries: uses });

  return {
    ...command,
    what: 'alike',
    taxonomy: name,
    terms: terms.filter(({ term }) => term.borrowedFrom === undefined).length,
    pairs: pairs.map(({ keep, merge, sure: certainty, why: reason }) => ({
      keep: twin(keep),
      merge: twin(merge),
      sure: certainty,
      why: reason,
      step: { drop: `${name}:${merge.term}`, use: keep.term },
    })),
  };
}
