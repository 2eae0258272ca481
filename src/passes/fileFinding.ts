import { findingOf } from '../core/entry/findings.ts';
import { type MessageData, type MessageName, wordsOf } from '../core/messages/words.ts';
import type { LocatedFinding } from './locatedFinding.ts';

/** A finding about a file as a whole: a warning. */
export const findingOfFile = <M extends MessageName>(
  file: string,
  message: M,
  data: MessageData<M>,
): LocatedFinding => ({
  finding: findingOf(message),
  message,
  data: { ...data },
  severity: 'warning',
  file,
  line: 1,
  column: 1,
  pointer: '',
  ...wordsOf({ message, data }),
});
