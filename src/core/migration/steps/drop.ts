import { z } from 'zod';
import { isList, type Json, own, withKey, withoutKey } from '../../json.ts';
import { isId } from '../../model/address.ts';
import type { Branch, TaxonomyDoc } from '../../model/document.ts';
import { keyOfField } from '../../model/inside.ts';
import { mapLeaves } from '../../model/layers.ts';
import type { Field } from '../../model/link.ts';
import type { EntryDraft } from '../entryDraft.ts';
import { addressed, fieldOf, typeOf, withFieldsBeside } from '../fill.ts';
import { defineStep, StepRefused } from '../step.ts';

/** Removes a type with its entries, a field with its values, a taxonomy, or a term. What is lost is listed first. */
export const drop = defineStep({
  verb: 'drop',
  about:
    'Removes a type with its entries, a field with its values, a taxonomy, or a term; `use` names the term that entries get instead.',
  shape: {
    drop: z.string().describe('The address of what goes.'),
    use: z.string().optional().describe('The term that entries get instead of a dropped one.'),
  },
  model: (step, model) => {
    const address = addressed(step.drop, 'drop', ['type', 'field', 'taxonomy', 'term']);
    switch (address.what) {
      case 'type':
        typeOf(model, address.type, 'drop');
        return { ...model, types: withoutKey(model.types, address.type) };
      case 'field':
        fieldOf(model, address.type, address.field, 'drop');
        return withFieldsBeside(model, address.type, address.field, 'drop', withoutKey);
      case 'taxonomy':
        if (!Object.hasOwn(model.taxonomies, address.taxonomy))
          throw new StepRefused(
            `there is no taxonomy \`${address.taxonomy}\` at this step`,
            'Remove the step.',
            'drop',
          );
        return { ...model, taxonomies: withoutKey(model.taxonomies, address.taxonomy) };
      case 'term': {
        const taxonomy = own(model.taxonomies, address.taxonomy);
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
        const known = after.taxonomies.get(address.taxonomy)?.terms;
        const isOpen = after.taxonomies.get(address.taxonomy)?.isOpen === true;
        if (use !== undefined && (!isId(use) || !(isOpen || known?.has(use))))
          throw new StepRefused(
            `there is no term \`${use}\` in ${address.taxonomy} after this step`,
            `Name one of its terms (lumbrik show ${address.taxonomy}:).`,
            'use',
          );
        return (draft) => {
          for (const field of before.types.get(draft.type)?.fields.values() ?? []) {
            const value = draft.get(field.name);
            if ((!field.kind.term && !field.kind.nests) || value === undefined) continue;
            if (field.kind.nests) {
              replaceInside(draft, field, value, address, use);
              continue;
            }
            const isDropped = (item: typeof value): boolean => {
              const used = field.kind.term?.(item, field.options);
              return used?.taxonomy === address.taxonomy && used.term === address.term;
            };
            if (isList(value)) {
              if (!value.some(isDropped)) continue;
              const kept = value.flatMap((item) => (isDropped(item) ? (use === undefined ? [] : [use]) : [item]));
              if (use === undefined)
                draft.losses.push({ path: [field.name], value: address.term, why: `the term ${step.drop} is dropped` });
              draft.set(field.name, [...new Set(kept)]);
            } else if (isDropped(value)) {
              if (use === undefined) draft.lose(field.name, `the term ${step.drop} is dropped`);
              else draft.set(field.name, use);
            }
          }
        };
      }
    }
  },
});

/** The same inside objects: a term that nothing stands for is taken out. */
function replaceInside(
  draft: EntryDraft,
  field: Field,
  value: Json,
  { taxonomy, term }: { readonly taxonomy: string; readonly term: string },
  use: string | undefined,
): void {
  let hits = 0;
  const after = mapLeaves(field, value, (item, { kind, options }) => {
    const used = kind.term?.(item, options);
    if (used?.taxonomy !== taxonomy || used.term !== term) return item;
    hits += 1;
    return use ?? null;
  });
  if (hits === 0) return;
  if (use === undefined)
    draft.losses.push({ path: [field.name], value: term, why: `the term ${taxonomy}:${term} is dropped` });
  draft.set(field.name, after);
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
