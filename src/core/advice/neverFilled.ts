import { makerOf } from '../model/provenance.ts';
import { count } from '../plain/words.ts';
import { type Advice, enough, type Reviewed } from './define.ts';

export const neverFilled: Advice = {
  name: 'never-filled',
  why: 'A field that nobody fills makes a form longer and promises readers something.',
  *find(reviewed) {
    for (const [at, { of, filled, show }] of placesOf(reviewed)) {
      if (filled > 0 || of < enough) continue;
      yield {
        at,
        says: `none of ${count(of, 'place', 'places')} for it has a value`,
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
  const all = new Map<string, Places>();
  for (const { type, fields } of profiles.values())
    for (const { address, of, filled } of fields) {
      const field = address.slice(type.length + 1);
      const maker = makerOf(model.definition, type, field);
      const at = `${maker.name}.${maker.field}`;
      const known = all.get(at) ?? { of: 0, filled: 0, show: maker.name === type ? address : maker.name };
      known.of += of;
      known.filled += filled;
      all.set(at, known);
    }
  return all;
}
