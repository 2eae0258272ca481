import { parseAddress } from '../../core/definition/address.ts';
import type { Entry } from '../../core/entry/entry.ts';
import type { Model, Type } from '../../core/model/link.ts';
import { fieldsOf } from '../../core/model/ownFields.ts';
import { termsIn } from '../../core/model/uses.ts';
import { didYouMean } from '../../core/plain/nearest.ts';
import { quote, sentences } from '../../core/plain/words.ts';
import { flat } from '../../core/taxonomy/linkTaxonomy.ts';
import type { EntryStore } from '../../stores/store.ts';
import { Trouble } from '../../workspace/trouble.ts';
import { compileCondition, entriesMeeting } from '../conditionOver.ts';
import { taxonomyNamed } from '../terms/count.ts';

/** What a list is requested. */
interface AskedFor {
  /** A type, a term with its taxonomy, or a condition in CEL. */
  readonly about?: string | undefined;
  readonly where?: string | undefined;
}

/** Which entries are requested. */
export interface Selection {
  readonly types: readonly Type[];
  readonly isOf: (entry: Entry) => boolean;
  /** Prepares the question whether an entry is requested; conditions may look into others. */
  readonly wanting: (store: EntryStore) => Promise<(entry: Entry) => boolean>;
  /** The conditions, as they were written. */
  readonly conditions: readonly string[];
}

/** @throws {Trouble} where nothing is named by it. */
export function selected({ about, where }: AskedFor, model: Model): Selection {
  const allTypes = [...model.types.values()];
  const address = about === undefined ? undefined : parseAddress(about);
  const isType = address?.what === 'type' && model.types.has(address.type);
  const accepted = isType ? new Set(model.context.acceptedAs(address.type)) : undefined;
  const types = accepted ? allTypes.filter(({ name }) => accepted.has(name)) : allTypes;
  const uses = address?.what === 'term' ? usesTerm(model, address) : undefined;
  const isCondition = about !== undefined && !isType && !uses;
  if (isCondition && !looksLikeCondition(about)) throw nothingNamed(about, model);

  const conditions = [isCondition ? about : undefined, where].filter((condition) => condition !== undefined);
  const compiled = conditions.map((condition) => compileCondition(condition, types));

  return {
    types,
    conditions,
    isOf: ({ type }) => accepted?.has(type) ?? model.types.has(type),
    wanting: async (store) => {
      const met = await Promise.all(compiled.map((condition) => entriesMeeting(condition, store, model)));
      return (entry) => (uses?.(entry) ?? true) && met.every((meets) => meets(entry));
    },
  };
}

/** Names are alone; a condition compares, asks or calls. */
const looksLikeCondition = (text: string): boolean => /[\s=<>!&|()]|^entry\./u.test(text);

const nothingNamed = (about: string, { types }: Model): Trouble =>
  new Trouble('nothing-named', `${quote(about)} is no type, no term and no condition`, {
    mend: sentences(
      'Name a type (lighthouse), a term (region:north) or a condition in CEL (\'entry.status == "draft"\').',
      didYouMean(about, types.keys()),
    ),
  });

/** Whether an entry uses a term, or one below it. @throws {Trouble} where there is no such term. */
function usesTerm(
  model: Model,
  { taxonomy: name, term: termName }: { readonly taxonomy: string; readonly term: string },
): (entry: Entry) => boolean {
  const taxonomy = taxonomyNamed(model, name);
  const term = taxonomy.terms.get(termName);
  if (!term && !taxonomy.definition.open)
    throw new Trouble('not-found', `there is no term \`${termName}\` in ${name}`, {
      mend: didYouMean(termName, taxonomy.terms.keys()) ?? `See all of them: lumbrik terms ${name}`,
    });

  const within = new Set((term ? flat(term) : [{ name: termName }]).map((term) => term.name));

  return (entry) => {
    const type = model.types.get(entry.type);
    return [...termsIn(type, fieldsOf(entry, type))].some((used) => used.taxonomy === name && within.has(used.term));
  };
}
