import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';
import canonicalize from 'canonicalize';
import { inHashedForm } from '../definition/earlierForm.ts';
import type { ModelDoc } from '../definition/model.ts';
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

/** What gives the hashes of models whose canonical text is available, until somebody asks for one. */
const hashes = new WeakMap<ModelDoc, () => string>();

/** Notes where the hash of a model comes from that was just read from its canonical text. */
export function noteHash(model: ModelDoc, hash: () => string): void {
  hashes.set(model, hash);
}

/** The hash by which two models are known to be the same, whatever their files look like. */
export const hashModel = onceFor((model: ModelDoc): string => {
  const hash = hashes.get(model);
  hashes.delete(model);
  if (hash) return hash();
  return hashText(canonical(inHashedForm(model)));
});
