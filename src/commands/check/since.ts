import { checkSince } from '../../tasks/check/since.ts';
import { sinceText } from '../../view/text/since.ts';
import { type Arguments, answer } from '../answer.ts';
import { limitOf } from '../limit.ts';

/** Reports findings that changes of the model caused. */
export const since = (args: Arguments): Promise<void> =>
  answer(
    args,
    (call) => checkSince(call, String(args.since)),
    (result, look) => sinceText(result, look, limitOf(args.limit)),
    ({ ok }) => ok,
  );
