import { count, groupThousands, list } from '../../core/plain/words.ts';
import type { MapResult } from '../../tasks/map.ts';
import { type Column, glyphs, type Look, next, table } from '../look.ts';
import { signs } from '../map/signs.ts';
import { unreadText } from './unread.ts';

/** What leads where, in rows; the picture is another form of the same. */
export function mapText({ boxes, arrows, around, since, unreadable }: MapResult, look: Look): string {
  const { paint } = look;
  const number = (category: MapResult['boxes'][number]['what']): number =>
    boxes.filter((box) => box.what === category).length;
  const parts = [
    count(number('type'), 'type'),
    ...(number('kit') > 0 ? [count(number('kit'), 'kit')] : []),
    ...(number('taxonomy') > 0 ? [count(number('taxonomy'), 'taxonomy', 'taxonomies')] : []),
  ];
  const heading = `${paint.strong(list(parts))}${around.length > 0 ? `  ${paint.soft(`around ${list(around)}`)}` : ''}\n`;
  const command = [
    'lumbrik map',
    ...around.map((name) => `--around ${name}`),
    ...(since === undefined ? [] : [`--since ${since.said}`]),
    '--format svg > map.svg',
  ].join(' ');
  const hint = next(command, 'the same as a picture', look) + unreadText(unreadable, look);
  if (arrows.length === 0) return `${heading}\n  Nothing leads from one to another.\n${hint}`;

  const isChange = since !== undefined;
  const columns: readonly Column[] = [
    ...(isChange ? [{ title: '' }] : []),
    { title: 'From' },
    { title: 'by' },
    { title: 'to' },
    { title: '' },
    { title: 'from there' },
    { title: 'Used', align: 'right' },
  ];
  const bare = (id: string): string => id.slice(id.indexOf(':') + 1);
  const rows = arrows.map(({ what: category, from, to, field, inverse, toMany, fromMany, uses, mark }) => [
    ...(isChange ? [mark === undefined ? '' : signs[mark]] : []),
    paint.name(bare(from)),
    field ?? paint.soft(category === 'kit' ? 'has the kit' : 'extends'),
    `${glyphs.arrow} ${paint.name(category === 'term' ? `${bare(to)}:` : bare(to))}`,
    category === 'reference' ? paint.soft(`${fromMany ? 'many' : 'one'} to ${toMany ? 'many' : 'one'}`) : '',
    inverse ?? '',
    uses === undefined ? '' : groupThousands(uses),
  ]);

  return `${heading}\n${table(columns, rows, look)}\n${hint}`;
}
