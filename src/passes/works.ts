import { addressesWork } from './addresses.ts';
import { aheadWork } from './ahead.ts';
import { checkWork } from './check.ts';
import { digestWork } from './digest.ts';
import { learnWork } from './learn.ts';
import type { Work } from './pass.ts';
import { profileWork } from './profile.ts';
import { rehearseWork } from './rehearse.ts';

/** The work that other workers can do. A pass that they take part in is a line here. */
const works: readonly Work[] = [checkWork, profileWork, aheadWork, rehearseWork, digestWork, addressesWork, learnWork];

/** The work with a name. */
export function workNamed(name: string): Work {
  const work = works.find((work) => work.name === name);
  if (!work) throw new Error(`there is no work called ${name}`);
  return work;
}
