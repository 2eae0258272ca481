import { z } from 'zod';
import { inHashedForm, inPresentForm } from '../definition/earlierForm.ts';
import { asJson, type ModelDoc } from '../definition/model.ts';
import { readNormalForm } from '../model/read.ts';
import { isObject, type Json } from '../plain/json.ts';
import { unixLines } from '../plain/lineEnds.ts';
import { canonical, hashModel, hashText, noteHash } from './canonical.ts';

/** A recorded state of the model: immutable, numbered, and chained to the one before it by that one's hash. */
export interface Revision {
  readonly revision: number;
  readonly version: string;
  /** RFC 3339, in UTC. */
  readonly date: string;
  readonly message: string;
  /** The hash of the revision before; `null` for the first. */
  readonly previous: string | null;
  readonly model: ModelDoc;
  /** The SHA-256 of the canonical text of all the rest. */
  readonly hash: string;
}

const Shape = z.strictObject({
  revision: z.int().min(1),
  version: z.string().regex(/^\d+\.\d+\.\d+$/u),
  date: z.iso.datetime(),
  message: z.string(),
  previous: z.string().nullable(),
  model: z.unknown(), // It comes out of JSON, and is read on its own.
  hash: z.string(),
});

/** Completes a revision with its hash. */
export function makeRevision(parts: Omit<Revision, 'hash'>): Revision {
  return { ...parts, hash: hashText(canonical(asJson(parts))) };
}

/** The text of a revision's file: its canonical form (RFC 8785) and a line end. */
export const revisionText = (revision: Revision): string => `${canonical(asJson(revision))}\n`;

/** What somebody who reads many revisions brings along. */
interface Reading {
  /** The SHA-256 of a text in UTF-8, in hexadecimal, by a faster implementation than ours. */
  readonly sha256: (text: string) => string;
  /** Whether a revision of this hash was read before, and its model found without mistakes. */
  readonly isSound: (hash: string) => boolean;
}

const readingAlone: Reading = { sha256: hashText, isSound: () => false };

/** Reads a revision's file. Any byte that differs makes it no revision, except `\r\n` at the end of its line. */
export function readRevision(written: string, { sha256, isSound } = readingAlone): Revision | undefined {
  const text = unixLines(written);
  const data = parse(text);
  const shape = Shape.safeParse(data);
  if (!shape.success || !isObject(data) || !isWhole(text, shape.data, sha256)) return undefined;

  const { model: storedModel, ...parts } = shape.data;
  const presentModel = inPresentForm(storedModel as Json);
  const model = isSound(parts.hash) ? (presentModel as unknown as ModelDoc) : readNormalForm(presentModel);
  if (!model) return undefined;

  const isHashedAsStored = presentModel !== storedModel || inHashedForm(model) === asJson(model);
  if (isHashedAsStored) noteHash(model, () => sha256(modelIn(text)));
  return { ...parts, model };
}

/** The text of the model in the one of a revision: the part before it is short, and no text in it has bare quotes. */
function modelIn(text: string): string {
  const key = ',"model":';
  return text.slice(text.indexOf(key) + key.length, text.lastIndexOf(',"previous":'));
}

/** Whether a text is the one that was hashed, with its hash put where the order of keys wants it: after the date. */
function isWhole(text: string, { date, hash }: Pick<Revision, 'date' | 'hash'>, sha256: Reading['sha256']): boolean {
  const start = `{"date":"${date}",`;
  const head = `${start}"hash":"${hash}",`;
  return text.startsWith(head) && text.endsWith('}\n') && sha256(start + text.slice(head.length, -1)) === hash;
}

function parse(text: string): Json | undefined {
  try {
    return JSON.parse(text) as Json;
  } catch {
    return undefined;
  }
}

/** Whether a revision follows another one; the first follows none. */
export const follows = (revision: Revision, before: Revision | undefined): boolean =>
  revision.previous === (before?.hash ?? null) && revision.revision === (before?.revision ?? 0) + 1;

/** The newest revision that records exactly this model. */
export function revisionOf(modelHash: string, revisions: readonly Revision[]): Revision | undefined {
  return revisions.findLast(({ model }) => hashModel(model) === modelHash);
}
