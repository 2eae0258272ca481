import fs from 'node:fs';
import path from 'node:path';
import { DefaultDeserializer, serialize } from 'node:v8';
import { hashBytes } from './files.ts';
import { isOurs, markOf } from './localKey.ts';
import { makeFolder } from './makeFolder.ts';
import { makeOwnFolder, ownFolder, ownNames, ownPath, readOwn, removeOwn } from './ownFolder.ts';
import { renameOver } from './platform.ts';

/** Where what was found in parts of stores is kept, until something that it depends on is another. */
const memoryFolder = `${ownFolder}/parts`;

/** What a memory belongs to: a workspace, and all that the result depends on beside the entries. */
export interface MemorySpace {
  readonly root: string;
  /** The subject, and behind a hyphen a hash of all that it depends on: one of them is kept of each. */
  readonly space: string;
}

const subjectOf = (space: string): string => space.replace(/-.*$/u, '');

/** What this process keeps in memory as well, where it checks the same again and again. */
let held: Map<string, unknown> | undefined;

/** Keeps what is recalled in memory too, from now on: for a process that goes on. */
export function holdParts(): void {
  held ??= new Map();
}

const fileOf = (space: string, key: string): string => `${memoryFolder}/${space}/${key}`;

/**
 * What was kept under a key. It is trusted only with our mark on it: what was damaged, edited or made elsewhere counts
 * for nothing, and is found out anew.
 */
export function recallPart({ root, space }: MemorySpace, key: string): unknown {
  const existing = held?.get(`${space} ${key}`);
  if (existing !== undefined) return existing;
  try {
    const read = readOwn(root, fileOf(space, key));
    if (!read || 'problem' in read) return undefined;

    const bytes = read.value;
    const end = bytes.indexOf(0x0a);
    const body = bytes.subarray(end + 1);
    if (!isOurs(nameOf(space, key, body), bytes.toString('latin1', 0, Math.max(0, end)))) return undefined;

    const value = readOut(body);
    held?.set(`${space} ${key}`, value);
    return value;
  } catch {
    return undefined;
  }
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

/** What something is kept under; whether it can be trusted shows when it is recalled. */
export function keptKeys({ root, space }: MemorySpace): ReadonlySet<string> {
  try {
    return new Set(ownNames(root, `${memoryFolder}/${space}`));
  } catch {
    return new Set();
  }
}

/**
 * Keeps something under a key. Where nothing can be written, nothing is lost by it.
 * @param rest data that is used seldom and recalled on its own.
 */
export function keepPart(memory: MemorySpace, key: string, value: unknown, rest?: unknown): void {
  if (rest !== undefined) keep(memory, restOf(key), rest);
  keep(memory, key, value);
}

/** The rest of what was kept under a key. */
export const recallRest = (memory: MemorySpace, key: string): unknown => recallPart(memory, restOf(key));

const restOf = (key: string): string => `${key}.rest`;

/** What belongs to a whole store, not to a part of it, is kept under a name that no part has, and stays until it is kept anew. */
export const wholeKey = 'whole';

function keep({ root, space }: MemorySpace, key: string, value: unknown): void {
  held?.set(`${space} ${key}`, value);
  try {
    const body = serialize(value);
    const mark = markOf(nameOf(space, key, body));
    if (mark === undefined) return;

    makeOwnFolder(root);
    const full = ownPath(root, fileOf(space, key));
    makeFolder(path.dirname(full));
    // Two runs at once keep the same under one name. It need not outlast a power cut: what is damaged is not believed.
    const beside = `${full}.${process.pid}`;
    fs.writeFileSync(beside, Buffer.concat([Buffer.from(`${mark}\n`, 'latin1'), body]), { flag: 'w' });
    renameOver(beside, full);
  } catch {
    // A folder that is read-only, a disk that is full.
  }
}

const nameOf = (space: string, key: string, body: Buffer): string => `${space} ${key} ${hashBytes(body)}`;

/** Removes all that is kept and was not asked for by the last check. */
export function forgetOthers({ root, space }: MemorySpace, keys: ReadonlySet<string>): void {
  const wantedKeys = new Set([wholeKey, ...keys, ...[...keys].map(restOf)]);
  const isWanted = (key: string): boolean => wantedKeys.has(key);
  for (const name of held?.keys() ?? []) {
    const [recordSpace, key = ''] = name.split(' ');
    if (subjectOf(recordSpace ?? '') === subjectOf(space) && (recordSpace !== space || !isWanted(key)))
      held?.delete(name);
  }

  try {
    for (const other of ownNames(root, memoryFolder))
      if (other !== space && (subjectOf(other) === subjectOf(space) || !other.includes('-')))
        removeOwn(root, `${memoryFolder}/${other}`);
    for (const key of ownNames(root, `${memoryFolder}/${space}`))
      if (!isWanted(key)) removeOwn(root, fileOf(space, key));
  } catch {
    // It is in nobody's way.
  }
}
