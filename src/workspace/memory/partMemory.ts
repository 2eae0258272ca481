import { DefaultDeserializer, serialize } from 'node:v8';
import type { Memory } from './memory.ts';
import { memoryOf } from './ofWorkspace.ts';

/** Where results of parts of stores are kept: in a workspace, and under all that they depend on beside the entries. */
export interface MemorySpace {
  readonly root: string;
  /** The subject, and behind a hyphen a hash of all that it depends on: one space is kept of each subject. */
  readonly space: string;
}

const subjectOf = (space: string): string => space.replace(/-.*$/u, '');

/** What this process keeps in memory as well, where it checks the same again and again. */
let held: Map<string, unknown> | undefined;

/** Keeps what is recalled in memory too, from now on: for a process that goes on. */
export function holdParts(): void {
  held ??= new Map();
}

/** What was kept under a key; `undefined` where nothing is kept that may be believed. */
export function recallPart({ root, space }: MemorySpace, key: string): unknown {
  const existing = held?.get(`${space} ${key}`);
  if (existing !== undefined) return existing;

  const bytes = memoryOf(root).recall(space, key);
  const value = bytes && readOut(bytes);
  if (value !== undefined) held?.set(`${space} ${key}`, value);
  return value;
}

/** Reads columns as arrays of their own: as views they would keep all that was read with them. */
class OwnArrays extends DefaultDeserializer {
  /** Called by the deserializer for each of them. */
  _readHostObject(): unknown {
    const { _readHostObject: read } = DefaultDeserializer.prototype as unknown as { _readHostObject: () => Uint8Array };
    return read.call(this).slice();
  }
}

function readOut(bytes: Uint8Array): unknown {
  const reader = new OwnArrays(bytes);
  reader.readHeader();
  return reader.readValue();
}

/** The keys under which something is kept. */
export const keptKeys = ({ root, space }: MemorySpace): ReadonlySet<string> => new Set(memoryOf(root).keys(space));

/**
 * Keeps something under a key.
 * @param rest data that is used seldom and recalled on its own.
 */
export function keepPart(memory: MemorySpace, key: string, value: unknown, rest?: unknown): void {
  if (rest !== undefined) keep(memory, restOf(key), rest);
  keep(memory, key, value);
}

/** The rest of what was kept under a key. */
export const recallRest = (memory: MemorySpace, key: string): unknown => recallPart(memory, restOf(key));

const restOf = (key: string): string => `${key}.rest`;

/** What belongs to a whole store is kept under a name that no part has, and stays until it is kept anew. */
export const wholeKey = 'whole';

function keep({ root, space }: MemorySpace, key: string, value: unknown): void {
  held?.set(`${space} ${key}`, value);
  memoryOf(root).keep(space, key, serialize(value));
}

/** Forgets all of a subject that was not asked for by the last walk. */
export function forgetOthers({ root, space }: MemorySpace, keys: ReadonlySet<string>): void {
  const memory = memoryOf(root);
  const wantedKeys = new Set([wholeKey, ...keys, ...[...keys].map(restOf)]);
  const isOther = (otherSpace: string, key: string): boolean => otherSpace !== space || !wantedKeys.has(key);
  for (const name of held?.keys() ?? []) {
    const [heldSpace = '', key = ''] = name.split(' ');
    if (subjectOf(heldSpace) === subjectOf(space) && isOther(heldSpace, key)) held?.delete(name);
  }

  forgetSpaces(memory, space);
  for (const key of memory.keys(space)) if (isOther(space, key)) memory.forget(space, key);
}

/** Forgets the other spaces of a subject. */
function forgetSpaces(memory: Memory, space: string): void {
  for (const other of memory.spaces())
    if (other !== space && subjectOf(other) === subjectOf(space)) memory.forget(other);
}
