import { show } from '../tasks/show.ts';
import { standingText } from '../view/text/standing.ts';
import { type Arguments, answer } from './answer.ts';

/** What `lumbrik` alone tells: where one stands, and the next step. */
export const overview = (args: Arguments): Promise<void> => answer(args, (call) => show(call, undefined), standingText);
