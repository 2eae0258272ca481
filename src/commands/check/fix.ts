import { planFixes, writeFixes } from '../../tasks/check/fix.ts';
import { fixText } from '../../view/text/fix.ts';
import { type Arguments, answer } from '../answer.ts';
import { isAsking } from '../ask/asking.ts';
import { askFixes } from './askFixes.ts';

/** Shows fixes, asks about the uncertain ones, or writes the sure ones. */
export const fix = (args: Arguments): Promise<void> =>
  answer(
    args,
    (call) => {
      if (args.yes === true && args.ask !== true) return writeFixes(call, []);
      if (isAsking(args, true)) return askFixes(call);
      return planFixes(call);
    },
    fixText,
    ({ fixes, unsure, waiting, left, written }) => (written ? 0 : fixes.length) + unsure.length + waiting + left === 0,
  );
