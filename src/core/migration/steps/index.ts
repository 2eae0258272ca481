import type { StepKind } from '../step.ts';
import { add } from './add.ts';
import { arrange } from './arrange.ts';
import { change } from './change.ts';
import { convert } from './convert.ts';
import { drop } from './drop.ts';
import { join } from './join.ts';
import { move } from './move.ts';
import { pull } from './pull.ts';
import { rename } from './rename.ts';
import { send } from './send.ts';
import { set } from './set.ts';
import { split } from './split.ts';
import { turn } from './turn.ts';

/** The shelf of steps. A new step is one file beside this one and one line here. */
export const steps: ReadonlyMap<string, StepKind> = new Map(
  [add, drop, rename, move, convert, change, arrange, split, join, send, pull, turn, set].map((step) => [
    step.verb,
    step,
  ]),
);
