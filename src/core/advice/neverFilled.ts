import { makerOf } from '../model/provenance.ts';
import { count } from '../plain/words.ts';
import { type Advice, enough, type Reviewed } from './define.ts';

/** A field that hardly any entry fills. */
export const neverFilled: Advice = {
  name: 'never-filled',
  why: 'A field that nobody fills makes a form longer and promises readers something.',
  *find(reviewed) {
    for (const [address, { of: total, filled, show }] of placesOf(reviewed)) {
      if (filled > 0 || total < enough) continue;
      yield {
        at: address,
        says: `none of ${count(total, 'place', 'places')} for it has a value`,
        mend: 'Remove it, or say in its help when it is to be filled.',
        command: `lumbrik show ${show}`,
      };
    }
  },
};

interface Places {
  of: number;
  filled: number;
  readonly show: string;
}

/** How many places there are for each field, and how many are filled: of one that a kit brings, in all types together. */
function placesOf({ model, profiles }: Reviewed): ReadonlyMap<string, Places> {
  const places = new Map<string, Places>();
  for (const { type, fields } of profiles.values())
    for (const { address, of: total, filled } of fields) {
      const field = address.slice(type.length + 1);
      const maker = makerOf(model.definition, type, field);
      const place = `${maker.name}.${maker.field}`;
      const existing = places.get(place) ?? { of: 0, filled: 0, show: maker.name === type ? address : maker.name };
      existing.of += total;
      existing.filled += filled;
      places.set(place, existing);
    }

  return places;
}
