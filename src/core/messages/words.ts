import type { Finding } from '../entry/findings.ts';
import { english } from './english.ts';
import type { Words } from './wordParts.ts';

/** The name of a finding, with the way in which it is reported where there are several. */
export type MessageName = keyof typeof english;

/** The data that the words of a message are made from. */
export type MessageData<M extends MessageName> =
  Parameters<(typeof english)[M]> extends [infer D extends object] ? D : Readonly<Record<string, never>>;

/**
 * A finding in words. Its data were given under the same name, whose type they have: what is forgotten in between is
 * forgotten in this one place.
 */
export function wordsOf({ message, data }: Pick<Finding, 'message' | 'data'>): Words {
  const describe = (english as unknown as Readonly<Record<string, ((data: unknown) => Words) | undefined>>)[message];
  if (!describe) throw new Error(`there are no words for ${message}`);
  return describe(data);
}
