import type { Outcome } from '../core/plain/outcome.ts';
import { type NotRead, notRead } from './notRead.ts';

const utf8 = new TextDecoder('utf-8', { fatal: true, ignoreBOM: true });

/** Bytes as text: UTF-8 (RFC 3629) or nothing, never with replaced characters. A byte-order mark stays in the text. */
export function decode(bytes: Buffer): Outcome<string, NotRead> {
  try {
    return { value: utf8.decode(bytes) };
  } catch {
    const { line, column } = firstInvalid(bytes);
    return { problem: notRead('is not in UTF-8', 'Save the file as UTF-8.', line, column) };
  }
}

/** Where the first byte stands that is no UTF-8: halving the text finds it in a few steps. */
function firstInvalid(bytes: Buffer): { line: number; column: number } {
  let good = 0;
  let bad = bytes.length;

  while (bad - good > 1) {
    const middle = (good + bad) >> 1;
    try {
      new TextDecoder('utf-8', { fatal: true }).decode(bytes.subarray(0, middle), { stream: true });
      good = middle;
    } catch {
      bad = middle;
    }
  }

  // A character that was begun and not finished is not in the text, so the text ends where the trouble starts.
  const before = new TextDecoder('utf-8').decode(bytes.subarray(0, good), { stream: true }).split('\n');

  return { line: before.length, column: (before.at(-1)?.length ?? 0) + 1 };
}
