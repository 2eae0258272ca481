import { createHash } from 'node:crypto';
import type { Item } from '../stores/store.ts';
import { digestLine } from './digestPart.ts';
import type { Pass } from './walk.ts';

/** Gathers one digest over all that is kept, read or not: its places and versions, in order. */
export function digestPass(): Pass<undefined, string> {
  const digest = createHash('sha256');
  const add = (item: Item): void => {
    digest.update(digestLine(item));
  };

  return {
    map: () => undefined,
    fold: (_, stored) => add(stored),
    unreadable: add,
    finish: () => digest.digest('hex'),
    apart: {
      work: { pass: 'digest' },
      take: (lines: string) => {
        digest.update(lines);
      },
    },
  };
}
