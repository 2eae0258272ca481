import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { makeFolder } from './makeFolder.ts';
import { ownPlace } from './ownPlace.ts';
import { placeNew } from './platform.ts';

/**
 * What tells a file that lumbrik wrote here from one that came along with a folder: a mark (HMAC-SHA-256, RFC 2104) made
 * with a key that never leaves this person's account. The key is the one file that lumbrik keeps outside a workspace: in
 * the folder for the state of programs (XDG Base Directory Specification), readable by its owner alone. A folder that is
 * moved or copied keeps its marks; one that somebody sends does not have ours.
 */
const keyShape = /^[0-9a-f]{64}$/u;

/** The mark of a content; `undefined` where no key can be kept, and nothing written here can be distinguished. */
export function markOf(content: string | Buffer): string | undefined {
  const key = ourKey();
  return key && createHmac('sha256', key).update(content).digest('hex');
}

/** Whether a mark on a content was made here. */
export function isOurs(content: string | Buffer, mark: string | undefined): boolean {
  const right = markOf(content);
  if (mark === undefined || right === undefined) return false;
  // As many characters may be more bytes, where one of them was damaged.
  const [marked, other] = [Buffer.from(mark), Buffer.from(right)];
  return marked.length === other.length && timingSafeEqual(marked, other);
}

let existing: { readonly file: string; readonly key: string | undefined } | undefined;

function ourKey(): string | undefined {
  const place = ownPlace('state');
  if ('why' in place) return undefined;
  const file = path.join(place.folder, 'key');
  if (existing?.file !== file) existing = { file, key: readKey(file) ?? makeKey(file) };
  return existing.key;
}

/** Why files cannot be marked as made here; nothing where they can. */
export function whyNoKey(): string | undefined {
  const place = ownPlace('state');
  if ('why' in place) return place.why;
  if (ourKey() !== undefined) return undefined;
  return `${place.folder} cannot be written to`;
}

function readKey(file: string): string | undefined {
  try {
    const text = fs.readFileSync(file, 'utf8').trim();
    if (keyShape.test(text)) return text;
    return undefined;
  } catch {
    return undefined;
  }
}

/** Makes a key where there is none. Of several processes that do, one wins and all take its key. */
function makeKey(file: string): string | undefined {
  const beside = `${file}-${process.pid}`;
  try {
    makeFolder(path.dirname(file), 0o700);
    placeNew(file, `${randomBytes(32).toString('hex')}\n`, { beside, mode: 0o600 });
  } catch {
    // It is there now, or it cannot be kept.
  }

  return readKey(file);
}
