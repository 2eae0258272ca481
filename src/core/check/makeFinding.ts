import type { EntryAddress } from '../entry/entry.ts';
import { type Finding, findingOf } from '../entry/findings.ts';
import type { MessageData, MessageName } from '../messages/words.ts';

type More = Partial<Omit<Finding, 'finding' | 'message' | 'data' | 'entry'>>;

/** A finding in an entry: of severity error, and about the entry as a whole, by default. */
export const foundIn = <M extends MessageName>(
  { type, id }: EntryAddress,
  message: M,
  data: MessageData<M>,
  more: More = {},
): Finding => ({
  finding: findingOf(message),
  message,
  data,
  severity: 'error',
  entry: { type, id },
  path: [],
  ...more,
});
