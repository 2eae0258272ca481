import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';
import canonicalize from 'canonicalize';
import { asJson, type ModelDoc } from '../definition/model.ts';
import type { JsonObject } from '../plain/json.ts';
import { onceFor } from '../plain/once.ts';

/** The canonical text of a value: RFC 8785 (JCS). The same for every order of keys. */
export function canonical(value: JsonObject): string {
  const text = canonicalize(value);
  if (text === undefined) throw new TypeError('the value has no canonical form');
  return text;
}

/** The SHA-256 of a text in UTF-8, in hexadecimal. */
export const hashText = (text: string): string => bytesToHex(sha256(utf8ToBytes(text)));

/** Canonical texts that models were read from, until somebody asks for the hash of one. */
const texts = new WeakMap<ModelDoc, string>();

/** Notes the canonical text that a model was just read from: its hash needs no other then. */
export function noteCanonical(model: ModelDoc, text: string): void {
  texts.set(model, text);
}

/** The hash by which two models are known to be the same, whatever their files look like. */
export const hashModel = onceFor((model: ModelDoc): string => {
  const text = texts.get(model) ?? canonical(asJson(model));
  texts.delete(model);
  return hashText(text);
});
