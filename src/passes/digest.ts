import { createHash } from 'node:crypto';
import type { Item } from '../stores/store.ts';
import { type PartWork, type Pass, request, type Work } from './pass.ts';

/** Gathering places and versions, for any worker. */
export const digestWork: Work<undefined, string, undefined> = {
  name: 'digest',
  prepare: async () => digestPart,
};

/** Gathers one digest over all that is kept, read or not: its places and versions, in order. */
export function digestPass(): Pass<string, string, undefined> {
  const digest = createHash('sha256');
  return {
    prepare: async () => digestPart,
    elsewhere: request(digestWork, undefined),
    take: ({ result: lines }) => void digest.update(lines),
    finish: () => digest.digest('hex'),
  };
}

/** Gathers a line for each thing in a part of a store: its place and its version. */
function digestPart(): PartWork<string> {
  let lines = '';
  const see = ({ place, version }: Item): void => {
    lines += `${place.file}\0${place.offset ?? ''}\0${version}\n`;
  };
  return { see, unreadable: see, done: () => ({ result: lines, rest: undefined }) };
}
