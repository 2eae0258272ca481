import type { MapResult } from '../../tasks/map.ts';

export type Mark = NonNullable<MapResult['boxes'][number]['mark']>;

/** The signs of the changes of a part: no colour says anything alone. */
export const signs: Readonly<Record<Mark, string>> = {
  added: '+',
  removed: '−',
  changed: '~',
  renamed: '≈',
  moved: '→',
};
