import { beside } from '../../definition/fieldName.ts';
import { addressOfRename, type Rename } from '../../definition/rename.ts';
import type { Model } from '../../model/link.ts';
import { count, list } from '../../plain/words.ts';
import { type Counter, countEntries, share } from '../counter.ts';
import { type DraftedStep, howToRefuse, sentence } from '../draftedStep.ts';
import { filled, itemsOf, termCounter } from '../fieldValues.ts';
import { defineDifference } from './define.ts';

/** A rename that was recognised, or stated by the architect. */
export interface RenameGuess {
  readonly rename: Rename;
  /** How sure it is, from 0 to 1; 1 where it was stated. */
  readonly sure: number;
  readonly reasons: readonly string[];
  readonly stated: boolean;
  /** The address of the rename that it comes with, where the field is inherited. */
  readonly follows?: string;
}

/** Something has another name. */
export interface Renamed extends RenameGuess {
  readonly name: 'renamed';
}

export const renamed = defineDifference<Renamed>({
  name: 'renamed',
  address: ({ rename }) => addressOfRename(rename),
  say: ({ rename }) => `renamed to ${rename.to}`,
  rate: () => ({ entries: 'migrate', readers: 'break' }),
  count: ({ rename }, { between }) => counterOf(rename, between),
  field: ({ rename }) =>
    rename.what === 'field' ? { type: rename.type, field: rename.from, side: 'before' } : undefined,
  details: ({ sure: certainty, reasons }) => ({ sure: certainty, reasons: [...reasons] }),
  draft: {
    step: ([difference], { impactOf }) => {
      const { rename, stated, follows } = difference;
      const impact = impactOf(difference);
      const reach = impact ? ` ${sentence(impact.says)}` : '';
      const data = { rename: addressOfRename(rename), to: rename.to };
      if (follows !== undefined) return { data, why: `Inherited: it comes with ${follows}.${reach}` };
      if (stated) return { data, why: `A rename, as you said.${reach}` };
      return { data, why: `${sayGuess(difference)}${reach}`, open: askWhetherRenamed(rename) };
    },
  },
});

const sayGuess = ({ rename, sure: certainty, reasons }: RenameGuess): string =>
  `\`${rename.from}\` is gone and \`${rename.to}\` is new: ${Math.round(certainty * 100)} % sure that this is one ${rename.what} with another name (${list(reasons)}).`;

const askWhetherRenamed = (rename: Rename): NonNullable<DraftedStep['open']> => ({
  question: 'Is this a rename?',
  how: howToRefuse(addressOfRename(rename)),
});

function counterOf(rename: Rename, between: Model): Counter | undefined {
  switch (rename.what) {
    case 'type':
      return countEntries(
        rename.to,
        () => true,
        (hits) => `${count(hits, 'entry moves', 'entries move')} along`,
      );
    case 'field':
      return filled(
        between,
        { type: rename.type, field: beside(rename.from, rename.to) },
        (hits, total) => `${share(hits, total)} a value, which stays`,
      );
    case 'term':
      return termCounter(rename.taxonomy, rename.to, between);
    case 'choice':
      return countEntries(
        rename.type,
        ({ fields }) => itemsOf(between, rename, fields).includes(rename.to),
        (hits, total) => `${share(hits, total)} it, and ${hits === 1 ? 'keeps' : 'keep'} it`,
      );
    case 'taxonomy':
      return undefined;
  }
}
