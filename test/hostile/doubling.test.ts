import { describe, expect, test } from 'vitest';
import { dimensions } from './dimensions.ts';
import { double } from './doubling.ts';
import { hours, isWhole } from './scene.ts';

/** Of twice as much, no more than so many times the time. Time that grows with the square takes four times. */
const most = 2.6;

/** With every build, one in so many; those that were once found to grow with the square are always among them. */
const oneIn = 6;
const always = ['emoji of a text', 'unknown keys of a type', 'unknown keys of a kit', 'findings in one file'];

const chosen = dimensions.filter(({ name }, index) => isWhole || index % oneIn === 0 || always.includes(name));

describe('twice as much takes about twice as long [M1] [M2]', () => {
  test.each(chosen)(
    '$name',
    (dimension) => {
      // Processor time, not the clock, and the best of a few tries: a busy machine makes single ones look slow.
      let best = Number.POSITIVE_INFINITY;
      for (let tries = 0; tries < 4 && best > most; tries += 1) {
        const times = double(dimension);
        if (!times) continue;
        best = Math.min(best, times.twice / times.once);
      }
      expect(best).toBeLessThanOrEqual(most);
    },
    hours,
  );
});
