import { share } from '../counter.ts';
import { howToRefuse, sentence } from '../draftedStep.ts';
import { filled } from '../fieldValues.ts';
import type { MoveGuess } from '../matchMoves.ts';
import { defineDifference } from './define.ts';

/** A field is elsewhere in its type: in an object, or in none any more. */
export interface Moved extends MoveGuess {
  readonly name: 'moved';
}

const addressOf = ({ move }: MoveGuess): string => `${move.type}.${move.from}`;

export const moved = defineDifference<Moved>({
  name: 'moved',
  address: addressOf,
  say: ({ move }) => `moved to ${move.type}.${move.to}`,
  rate: () => ({ entries: 'migrate', readers: 'break' }),
  count: ({ move }, { between }) =>
    filled(
      between,
      { type: move.type, field: move.to },
      (hits, total) => `${share(hits, total)} a value, which goes along`,
    ),
  field: ({ move }) => ({ type: move.type, field: move.from, side: 'before' }),
  details: ({ sure: certainty, reasons }) => ({ sure: certainty, reasons: [...reasons] }),
  draft: {
    step: ([difference], { impactOf }) => {
      const { move, stated, sure: certainty, reasons } = difference;
      const data = { move: addressOf(difference), to: `${move.type}.${move.to}` };
      const impact = impactOf(difference);
      const reach = impact ? ` ${sentence(impact.says)}` : '';
      if (stated) return { data, why: `Moved, as you said.${reach}` };
      return {
        data,
        why: `\`${move.from}\` is gone and \`${move.to}\` is new: ${Math.round(certainty * 100)} % sure that this is one field in another place (${reasons.join(', ')}).${reach}`,
        open: {
          question: 'Was it moved?',
          how: howToRefuse(addressOf(difference)),
        },
      };
    },
  },
});
