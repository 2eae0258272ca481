import { list } from '../plain/words.ts';
import type { Advice } from './define.ts';

/** Types that require each other, so that none can be published first. */
export const requiredCircle: Advice = {
  name: 'required-circle',
  why: 'Where each needs the other, none can be published first.',
  *find({ model }) {
    const needs = new Map(
      [...model.types.values()].map(({ name, fields }) => [
        name,
        [...fields.values()]
          .filter(({ common }) => common.required !== undefined && common.when === undefined)
          .flatMap((field) => {
            const { types } = field.kind.pointsAt(field.options);
            // One of several may be published before.
            const [only] = types;
            if (types.length === 1 && only !== undefined) return [{ field: field.name, to: only }];
            return [];
          }),
      ]),
    );
    const reported = new Set<string>();
    for (const start of needs.keys()) {
      const circle = circleFrom(start, needs);
      const key = circle && [...circle].sort().join('\n');
      if (!circle || key === undefined || reported.has(key)) continue;

      reported.add(key);
      yield {
        at: circle[0] ?? start,
        says: `${list(circle)} each ${circle.length === 1 ? 'needs another entry of its own type' : 'need the next one, all the way round'}`,
        mend: 'Let one of them be empty, or be required only once it is published.',
        command: `lumbrik map --around ${start}`,
      };
    }
  },
};

type Needs = ReadonlyMap<string, readonly { readonly field: string; readonly to: string }[]>;

/** The fields of a way that leads from a type back to it. */
function circleFrom(start: string, needs: Needs): readonly string[] | undefined {
  const visited = new Set<string>();
  const walk = (type: string, way: readonly string[]): readonly string[] | undefined => {
    for (const { field, to } of needs.get(type) ?? []) {
      const path = [...way, `${type}.${field}`];
      if (to === start) return path;
      if (visited.has(to)) continue;
      visited.add(to);
      const circle = walk(to, path);
      if (circle) return circle;
    }

    return undefined;
  };

  return walk(start, []);
}
