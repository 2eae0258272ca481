import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';
import canonicalize from 'canonicalize';
import { asJson, type ModelDoc } from '../definition/model.ts';
import type { JsonObject } from '../plain/json.ts';

/** The canonical text of a value: RFC 8785 (JCS). The same for every order of keys. */
export function canonical(value: JsonObject): string {
  const text = canonicalize(value);
  if (text === undefined) throw new TypeError('the value has no canonical form');
  return text;
}

/** The SHA-256 of a text in UTF-8, in hexadecimal. */
export const hashText = (text: string): string => bytesToHex(sha256(utf8ToBytes(text)));

/** The hash by which two models are known to be the same, whatever their files look like. */
export const hashModel = (model: ModelDoc): string => hashText(canonical(asJson(model)));
