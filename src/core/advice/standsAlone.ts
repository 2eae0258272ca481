import { boxId } from '../map/modelMap.ts';
import type { Advice } from './define.ts';

/** A type without references in either direction. */
export const standsAlone: Advice = {
  name: 'stands-alone',
  why: 'Content that leads nowhere, and that nothing leads to, is found by search alone.',
  *find({ model, map, profiles }) {
    if (model.types.size < 3) return;
    for (const { name, definition } of model.types.values()) {
      const id = boxId({ what: 'type', name });
      const isLinked = map.arrows.some(
        ({ from, to, what: category }) => (from === id || to === id) && category !== 'kit',
      );
      if (isLinked || definition.single || (profiles.get(name)?.entries ?? 0) === 0) continue;
      yield {
        at: name,
        says: 'nothing points at its entries, they point at nothing, and no taxonomy sorts them',
        mend: 'Ask what a reader of one goes to next, and add that reference or term.',
        command: `lumbrik map --around ${name}`,
      };
    }
  },
};
