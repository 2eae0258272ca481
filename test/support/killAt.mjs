// Loaded before the program: ends it with SIGKILL at the n-th call that changes the disk, in the middle of a write if it
// is one. With KILL_AT=0 nothing is ended, and the number of such calls is written to the file COUNT_IN. With FULL_FROM
// every call from the n-th that needs room fails as on a full disk.
import fs from 'node:fs';

const killAt = Number(process.env.KILL_AT ?? -1);
const fullFrom = Number(process.env.FULL_FROM ?? Number.POSITIVE_INFINITY);
const needsRoom = new Set(['mkdirSync', 'openSync', 'writeFileSync', 'writeSync', 'appendFileSync', 'linkSync']);
let calls = 0;

const changes = JSON.parse(fs.readFileSync(new URL('diskChanges.json', import.meta.url), 'utf8'));

for (const name of changes) {
  const real = fs[name];
  fs[name] = (...args) => {
    const onlyReads = name === 'openSync' && (args[1] === 'r' || (typeof args[1] === 'number' && (args[1] & 3) === 0));
    if (!onlyReads) calls += 1;
    if (calls === killAt && !onlyReads) {
      if (name === 'writeFileSync') real(args[0], Buffer.from(args[1]).subarray(0, args[1].length >> 1));
      process.kill(process.pid, 'SIGKILL');
    }
    if (calls >= fullFrom && needsRoom.has(name) && !onlyReads)
      throw Object.assign(new Error('ENOSPC: no space left on device'), { code: 'ENOSPC' });
    return real(...args);
  };
}

const { writeFileSync } = fs;
process.on('exit', () => {
  if (killAt === 0) writeFileSync(process.env.COUNT_IN, String(calls));
});
