import { z } from 'zod';
import { isId, quotedId } from '../../definition/address.ts';
import { keyOfField } from '../../definition/fieldName.ts';
import { asJson } from '../../definition/model.ts';
import type { Branch, TaxonomyDoc } from '../../definition/taxonomy.ts';
import type { Field } from '../../model/link.ts';
import { fieldsWithin } from '../../model/nestedFields.ts';
import { taxonomyAsWritten } from '../../model/taxonomyAsWritten.ts';
import { singleValues } from '../../model/traversal.ts';
import { isList, type Json, ownValue, withKey, withoutKey } from '../../plain/json.ts';
import type { Holder } from '../holder.ts';
import { defineStep, StepRefused } from '../step.ts';
import { addressed, fieldOf, typeOf, withFieldsBeside } from '../stepFields.ts';
import { writeTree } from './arrange.ts';

/** Removes a type with its entries, a field with its values, a taxonomy, or a term. Losses are listed first. */
export const drop = defineStep({
  verb: 'drop',
  about:
    'Removes a type with its entries, a field with its values, a taxonomy, or a term; `use` names the term that entries get instead.',
  shape: {
    drop: z.string().describe('The address of what goes.'),
    use: z.string().optional().describe('The term that entries get instead of a dropped one.'),
  },
  say: ({ drop: address, use }) =>
    use === undefined
      ? `\`${address}\` goes, and what entries have of it is lost.`
      : `\`${address}\` goes; entries that have it get \`${use}\`.`,
  answers: ({ drop: address }) => (address.includes(':') ? ['yes', 'use'] : ['yes']),
  yes: () => 'lose',
  model: (step, model) => {
    const address = addressed(step.drop, 'drop', ['type', 'field', 'taxonomy', 'term']);
    switch (address.what) {
      case 'type':
        typeOf(model, address.type, 'drop');
        return { ...model, types: withoutKey(model.types, address.type) };
      case 'field':
        fieldOf(model, address.type, address.field, 'drop');
        return withFieldsBeside(model, address, 'drop', withoutKey);
      case 'taxonomy':
        if (!Object.hasOwn(model.taxonomies, address.taxonomy))
          throw new StepRefused(
            `there is no taxonomy \`${address.taxonomy}\` at this step`,
            'Remove the step.',
            'drop',
          );
        return { ...model, taxonomies: withoutKey(model.taxonomies, address.taxonomy) };
      case 'term': {
        const taxonomy = ownValue(model.taxonomies, address.taxonomy);
        // The terms of an open taxonomy are content: dropping one leaves the model as it is.
        if (taxonomy?.open && !Object.hasOwn(taxonomy.terms, address.term)) return model;
        if (!taxonomy || !Object.hasOwn(taxonomy.terms, address.term))
          throw new StepRefused(`there is no term \`${step.drop}\` at this step`, 'Remove the step.', 'drop');
        return {
          ...model,
          taxonomies: withKey(model.taxonomies, address.taxonomy, withoutTerm(taxonomy, address.term)),
        };
      }
    }
  },
  inverse: ({ drop: text }, { before }) => {
    const address = addressed(text, 'drop', ['type', 'field', 'taxonomy', 'term']);
    switch (address.what) {
      case 'type':
        return [{ add: text, type: asJson(typeOf(before, address.type, 'drop')) }];
      case 'field':
        return [{ add: text, field: fieldOf(before, address.type, address.field, 'drop') }];
      case 'taxonomy':
        return [
          {
            add: text,
            taxonomy: taxonomyAsWritten(ownValue(before.taxonomies, address.taxonomy) ?? { terms: {}, tree: [] }),
          },
        ];
      case 'term': {
        const taxonomy = ownValue(before.taxonomies, address.taxonomy);
        const term = ownValue(taxonomy?.terms ?? {}, address.term);
        // Of an open taxonomy the model knows no term.
        if (taxonomy && term)
          return [
            { add: `${address.taxonomy}:${quotedId(address.term)}`, term: asJson(term) },
            { arrange: `${address.taxonomy}:`, tree: writeTree(taxonomy.tree) },
          ];
        return [];
      }
    }
  },
  entries: (step, { before, after }) => {
    const address = addressed(step.drop, 'drop', ['type', 'field', 'taxonomy', 'term']);
    if (step.use !== undefined && address.what !== 'term')
      throw new StepRefused('`use` goes with a term alone', 'Remove it.', 'use');
    switch (address.what) {
      case 'type':
        return (draft) => {
          if (draft.type === address.type) draft.delete(`the type ${address.type} is dropped`);
        };
      case 'field':
        return (draft) => {
          const type = draft.type === address.type ? before.types.get(draft.type) : undefined;
          if (!type) return;
          for (const holder of draft.holders(type, address.field))
            holder.lose(keyOfField(address.field), `the field ${step.drop} is dropped`);
        };
      case 'taxonomy':
        return () => undefined;
      case 'term': {
        const { use } = step;
        const terms = after.taxonomies.get(address.taxonomy)?.terms;
        const isOpen = after.taxonomies.get(address.taxonomy)?.isOpen === true;
        if (use !== undefined && (!isId(use) || !(isOpen || terms?.has(use))))
          throw new StepRefused(
            `there is no term \`${use}\` in ${address.taxonomy} after this step`,
            `Name one of its terms (lumbrik show ${address.taxonomy}:).`,
            'use',
          );

        const uses = { taxonomy: address.taxonomy, term: address.term, use };

        return (draft) => {
          const type = before.types.get(draft.type);
          for (const field of type ? fieldsWithin(type.fields) : [])
            if (type && field.kind.term)
              for (const holder of draft.holders(type, field.name)) exchangeTerm(holder, field, uses);
        };
      }
    }
  },
});

/** Puts another term in the place of a dropped one, or takes it out. */
function exchangeTerm(
  holder: Holder,
  field: Field,
  { taxonomy, term, use }: { readonly taxonomy: string; readonly term: string; readonly use: string | undefined },
): void {
  const { name, kind, options } = field;
  const isDropped = (item: Json): boolean => {
    const used = kind.term?.(item, options);
    return used?.taxonomy === taxonomy && used.term === term;
  };

  const key = keyOfField(name);
  const value = holder.get(key);
  if (value === undefined || !singleValues(field, value).some(({ item }) => isDropped(item))) return;

  const reason = `the term ${taxonomy}:${term} is dropped`;
  if (use === undefined) holder.note([key], term, reason);
  else holder.note([key], term, reason, use);
  const remaining = (isList(value) ? value : [value]).flatMap((item) => (isDropped(item) ? (use ?? []) : item));
  const [first] = remaining;
  if (first === undefined) holder.remove(key);
  else holder.set(key, isList(value) ? [...new Set(remaining)] : first);
}

/** Without a term; the terms below it move up to its place. */
function withoutTerm(taxonomy: TaxonomyDoc, term: string): TaxonomyDoc {
  const prune = (branches: readonly Branch[]): readonly Branch[] =>
    branches.flatMap((branch) => {
      const below = prune(branch.terms ?? []);
      if (branch.term === term) return below;
      const also = branch.also ? { also: branch.also } : {};
      return [{ term: branch.term, ...also, ...(below.length > 0 ? { terms: below } : {}) }];
    });

  return { ...taxonomy, terms: withoutKey(taxonomy.terms, term), tree: prune(taxonomy.tree) };
}
