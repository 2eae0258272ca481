import { z } from 'zod';
import { keyOfField } from '../../definition/fieldName.ts';
import type { ModelDoc } from '../../definition/model.ts';
import type { Branch } from '../../definition/taxonomy.ts';
import { kinds } from '../../kinds/index.ts';
import type { Mistake } from '../../model/mistakes.ts';
import { readField } from '../../model/readField.ts';
import { readTaxonomyParts } from '../../model/readTaxonomy.ts';
import { readTypeParts } from '../../model/readType.ts';
import { sayShape } from '../../model/traversal.ts';
import { isObject, type JsonObject, ownValue, withKey, withoutKey } from '../../plain/json.ts';
import type { Outcome } from '../../plain/outcome.ts';
import { compileFill, fillShape, likeShape, sayFill } from '../fill.ts';
import { defineStep, StepRefused } from '../step.ts';
import { addressed, fieldOf, linkedField, placesBefore, withFieldsBeside } from '../stepFields.ts';

/** Adds a type, a field, a taxonomy or a term; a new field can be filled in the entries that exist. */
export const add = defineStep({
  verb: 'add',
  about: 'Adds a type, a field, a taxonomy or a term. `value` or `cel` fills a new field in the entries that exist.',
  shape: {
    add: z.string().describe('The address of the new part.'),
    type: z.json().optional().describe('A new type, as its file would say it.'),
    field: z.json().optional().describe('The definition of a new field.'),
    taxonomy: z.json().optional().describe('A new taxonomy, as its file would say it.'),
    term: z.json().optional().describe('The keys of a new term beside its place.'),
    ...fillShape,
    ...likeShape,
  },
  say: ({ add: address, field, ...fill }) => {
    const kind = isObject(field ?? null) ? sayShape(field as JsonObject) : undefined;
    const filled =
      fill.value === undefined && fill.cel === undefined ? '' : ` The entries that exist get ${sayFill(fill)}.`;
    return `\`${address}\` is new${kind === undefined ? '' : `: ${kind}`}.${filled}`;
  },
  yes: () => 'leave',
  model: (step, model) => {
    const address = addressed(step.add, 'add', ['type', 'field', 'taxonomy', 'term']);
    switch (address.what) {
      case 'type':
        refuseTaken(Object.hasOwn(model.types, address.type), step.add);
        return {
          ...model,
          types: withKey(model.types, address.type, definition(readTypeParts(step.type ?? {}), 'type')),
        };
      case 'field':
        return withField(model, address, step);
      case 'taxonomy':
        refuseTaken(Object.hasOwn(model.taxonomies, address.taxonomy), step.add);
        return {
          ...model,
          taxonomies: withKey(
            model.taxonomies,
            address.taxonomy,
            definition(readTaxonomyParts(step.taxonomy ?? {}), 'taxonomy'),
          ),
        };
      case 'term':
        return withTerm(model, address, step);
    }
  },
  inverse: ({ add: address }) => [{ drop: address }],
  entries: (step, { before, after, orderOf, knownNames }) => {
    const address = addressed(step.add, 'add', ['type', 'field', 'taxonomy', 'term']);
    if (address.what !== 'field') {
      if (step.value !== undefined || step.cel !== undefined)
        throw new StepRefused(
          'only a new field can be filled',
          'Remove `value` and `cel`.',
          step.cel === undefined ? 'value' : 'cel',
        );
      return () => undefined;
    }
    if (step.value === null)
      throw new StepRefused('null is no value to fill a new field with', 'Remove `value`, or write one.', 'value');

    const { type, field } = linkedField(after, address.type, address.field);
    const fill = compileFill(step, field, before.types.get(address.type) ?? type, { after, knownNames });
    const places = placesBefore(orderOf(address.type, address.field), address.field);

    return (draft) => {
      if (draft.type !== address.type || !fill) return;

      const key = keyOfField(field.name);
      const lacking = draft.holders(type, field.name).filter((holder) => holder.valueOf(field) === undefined);
      for (const holder of lacking) {
        const value = fill(draft, holder);
        if (value !== undefined && value !== null) holder.set(key, value, places);
      }
    };
  },
});

function definition<T>(parts: Outcome<T, readonly Mistake[]>, key: string): T {
  if ('value' in parts) return parts.value;
  const [mistake] = parts.problem;
  throw new StepRefused(mistake?.says ?? 'the definition cannot be read', mistake?.mend ?? 'Correct it.', key);
}

function refuseTaken(isTaken: boolean, address: string): void {
  if (isTaken)
    throw new StepRefused(
      `\`${address}\` exists already at this step`,
      'Remove the step, or look at the steps before.',
      'add',
    );
}

function withField(
  model: ModelDoc,
  { type, field: name }: { readonly type: string; readonly field: string },
  step: { readonly add: string; readonly field?: Parameters<typeof readField>[0] | undefined },
): ModelDoc {
  const above = name.split('.').slice(0, -1).join('.');
  if (above !== '' && !kinds.get(fieldOf(model, type, above, 'add').kind)?.nests)
    throw new StepRefused(`\`${type}.${above}\` has no fields inside it`, 'Add the field elsewhere.', 'add');

  const { field, mistakes } = readField(step.field ?? null);
  if (!field) return definition({ problem: mistakes }, 'field');

  return withFieldsBeside(model, { type, field: name }, 'add', (siblings, key) => {
    refuseTaken(Object.hasOwn(siblings, key), step.add);
    return withKey(siblings, key, field);
  });
}

function withTerm(
  model: ModelDoc,
  {
    taxonomy: name,
    term,
    above,
  }: { readonly taxonomy: string; readonly term: string; readonly above: readonly string[] },
  step: { readonly add: string; readonly term?: unknown },
): ModelDoc {
  const taxonomy = ownValue(model.taxonomies, name);
  if (!taxonomy) throw new StepRefused(`there is no taxonomy \`${name}\` at this step`, 'Add it first.', 'add');

  refuseTaken(Object.hasOwn(taxonomy.terms, term), step.add);
  const parent = above.at(-1);
  if (parent !== undefined && !Object.hasOwn(taxonomy.terms, parent))
    throw new StepRefused(`there is no term \`${parent}\` at this step`, 'Add it first.', 'add');

  const read = definition(
    readTaxonomyParts({ terms: [{ term, ...withoutKey(Object(step.term ?? {}), 'term') }] }),
    'term',
  );
  const tree =
    parent === undefined
      ? [...taxonomy.tree, ...read.tree]
      : taxonomy.tree.map((branch) => grow(branch, parent, read.tree));

  return {
    ...model,
    taxonomies: withKey(model.taxonomies, name, { ...taxonomy, terms: { ...taxonomy.terms, ...read.terms }, tree }),
  };
}

const grow = (branch: Branch, parent: string, grown: readonly Branch[]): Branch => {
  if (branch.term === parent && !branch.also) return { ...branch, terms: [...(branch.terms ?? []), ...grown] };
  return { ...branch, ...(branch.terms ? { terms: branch.terms.map((inner) => grow(inner, parent, grown)) } : {}) };
};
