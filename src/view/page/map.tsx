import { count, groupThousands } from '../../core/plain/words.ts';
import type { MapResult } from '../../tasks/map.ts';
import { type Child, idOf, joined, type Node, table, to, typed } from './parts.tsx';

/** More boxes than this make no picture that anybody could read. */
const mostBoxes = 120;

export const isDrawn = ({ boxes }: MapResult): boolean => boxes.length <= mostBoxes;

type Box = MapResult['boxes'][number];

/** Where on the page more is stated of a box. */
export const placeOf = ({ what: category, name }: Pick<Box, 'what' | 'name'>): string =>
  idOf(category === 'kit' ? 'shared' : category, name);

export const mapAside = (map: MapResult): Node => (
  <p class="aside">
    {isDrawn(map)
      ? joined(
          'Each box leads to what is said of it below. Lines leave at the field that points. ',
          <label class="size">
            <input type="checkbox" /> In full size
          </label>,
        )
      : joined(
          `${count(map.boxes.length, 'box', 'boxes')} are too many for one picture; what stands around one of them is drawn by `,
          typed('lumbrik map --around NAME --format svg'),
        )}
  </p>
);

/** What a line is called that no field makes. */
const verbs = { reference: 'points at', term: 'takes terms of', kit: 'has the kit', extends: 'extends' };

/** The same in words, for those who do not see the picture, and for looking things up. */
export function mapWords({ boxes, arrows }: MapResult): Node {
  if (arrows.length === 0) return <p>Nothing leads from one to another.</p>;

  const boxesById = new Map(boxes.map((box) => [`${box.what}:${box.name}`, box]));

  const end = (id: string): Child => {
    const box = boxesById.get(id);
    if (!box) return id;
    return to(placeOf(box), box.label);
  };

  return table({
    caption: 'The same in words',
    titles: ['From', 'By', 'To', 'How many', 'From there', 'Used'],
    rows: arrows.map(({ what: category, from, to: target, field, inverse, toMany, fromMany, uses }) => ({
      cells: [
        end(from),
        field === undefined ? verbs[category] : typed(field),
        end(target),
        category === 'reference' ? `${fromMany ? 'many' : 'one'} to ${toMany ? 'many' : 'one'}` : undefined,
        inverse,
        uses === undefined ? undefined : `${groupThousands(uses)}×`,
      ],
    })),
  });
}
