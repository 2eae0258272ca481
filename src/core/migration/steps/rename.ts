import { z } from 'zod';
import { unfitName } from '../../definition/address.ts';
import { keyOfField } from '../../definition/fieldName.ts';
import type { ModelDoc } from '../../definition/model.ts';
import type { Rename } from '../../definition/rename.ts';
import { renameInModel } from '../../model/rename.ts';
import { namesBeside, valueRenamer } from '../../model/renameValues.ts';
import { defineStep, StepRefused } from '../step.ts';
import { addressed } from '../stepFields.ts';

/** Gives a type, a field, a taxonomy, a term or a choice another name; every mention of it follows, and every value. */
export const rename = defineStep({
  verb: 'rename',
  about: 'Gives a type, a field, a taxonomy, a term or a choice another name; all that mentions it follows.',
  shape: {
    rename: z.string().describe('The address of what gets another name.'),
    to: z.string().describe('The new name alone.'),
  },
  leadsTo: ({ rename: address, to }) => {
    const { above, isTaxonomy } = partsOf(address);
    return `${above}${to}${isTaxonomy ? ':' : ''}`;
  },
  guess: ({ rename: address, to }) => `${address}=${to}`,
  answers: () => ['yes', 'no'],
  say: ({ rename: address, to }) => `\`${address}\` is called \`${to}\`, and all that mentions it follows.`,
  model: (step, model) => {
    const change = renameOf(step);
    refuseUnfit(change, model);
    return renameInModel(model, change);
  },
  inverse: ({ rename: address, to }) => {
    const { above, name, isTaxonomy } = partsOf(address);
    return [{ rename: `${above}${to}${isTaxonomy ? ':' : ''}`, to: name }];
  },
  entries: (step, { before }) => {
    const change = renameOf(step);
    const valuesOf = valueRenamer(before.definition, change);

    return (draft) => {
      const type = before.types.get(draft.type);
      if (!type) return;
      for (const [field, value] of valuesOf(draft.fields, type)) draft.set(field, value);
      if (change.what === 'field' && change.type === draft.type)
        for (const holder of draft.holders(type, change.from)) holder.rename(keyOfField(change.from), change.to);
      if (change.what === 'type' && change.from === draft.type) draft.moveTo(change.to);
    };
  },
});

/** An address split before its last name: the part before, the sign between them, and the name. */
function partsOf(address: string): { readonly above: string; readonly name: string; readonly isTaxonomy: boolean } {
  const [, above = '', name = '', colon] = /^(.*[.:/])?([^.:/]+)(:?)$/u.exec(address) ?? [];
  return { above, name, isTaxonomy: colon === ':' };
}

function renameOf({ rename: text, to }: { readonly rename: string; readonly to: string }): Rename {
  const address = addressed(text, 'rename', ['type', 'field', 'taxonomy', 'term', 'choice']);
  switch (address.what) {
    case 'type':
      return { what: 'type', from: address.type, to };
    case 'field':
      return { what: 'field', type: address.type, from: address.field, to };
    case 'taxonomy':
      return { what: 'taxonomy', from: address.taxonomy, to };
    case 'term':
      return { what: 'term', taxonomy: address.taxonomy, from: address.term, to };
    case 'choice':
      return { what: 'choice', type: address.type, field: address.field, from: address.choice, to };
  }
}

function refuseUnfit(change: Rename, model: ModelDoc): void {
  const unfit = unfitName(change.what, change.to);
  if (unfit) throw new StepRefused(`\`${change.to}\` cannot be its name: ${unfit.rule}`, 'Choose another name.', 'to');

  const names = namesBeside(model, change);
  const from = change.what === 'field' ? keyOfField(change.from) : change.from;
  if (!names.includes(from))
    throw new StepRefused(
      `there is no ${change.what} \`${change.from}\` at this step`,
      'Look at the steps before.',
      'rename',
    );
  if (names.includes(change.to))
    throw new StepRefused(
      `there is a ${change.what} \`${change.to}\` already at this step`,
      'Choose another name, or remove the step that adds it.',
      'to',
    );
}
