import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { withLock } from '../../src/workspace/lock.ts';
import { Trouble } from '../../src/workspace/trouble.ts';

/**
 * A process that takes the lock of a workspace over and over from one that is gone: each time it leaves the lock as a
 * crash would. It notes when it is in and when it is out. Arguments: the workspace, how often in all, the number of a
 * process that is gone.
 */
const [folder = '', rounds = '', dead = ''] = process.argv.slice(2);
const order = path.join(folder, 'order.txt');
const isOver = (): boolean => fs.readFileSync(order, 'utf8').split('\n').length > 2 * Number(rounds);

while (!isOver()) {
  try {
    await withLock(folder, () => {
      fs.appendFileSync(order, `${process.pid} in\n`);
      const stale = path.join(folder, `stale-${process.pid}`);
      fs.writeFileSync(stale, `${dead} ${os.hostname()}`);
      fs.appendFileSync(order, `${process.pid} out\n`);
      fs.renameSync(stale, path.join(folder, '.lumbrik/lock'));
    });
  } catch (error) {
    if (!(error instanceof Trouble) || error.code !== 'locked') throw error;
  }
  await new Promise((resolve) => setTimeout(resolve, 1));
}
