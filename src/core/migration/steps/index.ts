import type { StepKind } from '../step.ts';
import { add } from './add.ts';
import { arrange } from './arrange.ts';
import { change } from './change.ts';
import { convert } from './convert.ts';
import { drop } from './drop.ts';
import { move } from './move.ts';
import { rename } from './rename.ts';
import { set } from './set.ts';

/** The shelf of steps. A new step is one file beside this one and one line here. */
export const steps: ReadonlyMap<string, StepKind> = new Map(
  [add, drop, rename, move, convert, change, arrange, set].map((step) => [step.verb, step]),
);
