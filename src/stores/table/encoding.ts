import type { Outcome } from '../../core/plain/outcome.ts';
import { decode } from '../../workspace/decode.ts';
import type { Problem } from '../store.ts';

/** The encodings that a table may be in, beside UTF-8: those of one byte for each character that spreadsheets write. */
export type Encoding = 'utf-8' | 'windows-1252' | 'iso-8859-15';

/** The text of some bytes. */
export function textIn(bytes: Buffer, encoding: Encoding | undefined): Outcome<string, Problem> {
  if (encoding !== undefined && encoding !== 'utf-8') return { value: new TextDecoder(encoding).decode(bytes) };
  if (bytes.length >= 2 && ((bytes[0] === 0xff && bytes[1] === 0xfe) || (bytes[0] === 0xfe && bytes[1] === 0xff)))
    return {
      problem: { says: 'is in UTF-16', mend: 'Save it as UTF-8 (CSV UTF-8 in spreadsheets).', line: 1, column: 1 },
    };

  const text = decode(bytes);
  if ('value' in text) return text;
  return { problem: { ...text.problem, mend: 'Save it as UTF-8, or say what it is in: `encoding: windows-1252`.' } };
}

/** The bytes of a text; nothing where it has a character that the encoding has not. */
export function bytesIn(text: string, encoding: Encoding | undefined): Buffer | undefined {
  if (encoding === undefined || encoding === 'utf-8') return Buffer.from(text, 'utf8');

  const codes = codesOf(encoding);
  const bytes = Buffer.alloc(text.length);
  for (let index = 0; index < text.length; index += 1) {
    const code = codes.get(text.charAt(index));
    if (code === undefined) return undefined;
    bytes[index] = code;
  }

  return bytes;
}

/** The bytes by which an encoding of one byte for each character writes them. */
function codesOf(encoding: Encoding): ReadonlyMap<string, number> {
  const decoder = new TextDecoder(encoding);
  return new Map(Array.from({ length: 256 }, (_, code) => [decoder.decode(Uint8Array.of(code)), code]));
}
