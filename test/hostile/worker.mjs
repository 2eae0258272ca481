// A process that runs commands of the built program one after the other, each in a workspace of its own, and says how
// each ended. It is watched from outside: whoever started it ends it where a command does not come back.
import { main } from '../../dist/program.js';

const output = { out: '', err: '' };
const catching = (stream, name) => {
  stream.write = (part) => {
    output[name] += typeof part === 'string' ? part : Buffer.from(part).toString('utf8');
    return true;
  };
};
catching(process.stdout, 'out');
catching(process.stderr, 'err');

process.on('message', async ({ folder, env, calls }) => {
  process.env = env;
  const ended = [];
  for (const args of calls) {
    output.out = '';
    output.err = '';
    process.exitCode = undefined;
    process.chdir(folder);
    let thrown;
    try {
      await main(args, '0.0.0');
    } catch (error) {
      thrown = String(error);
    }
    ended.push({
      code: Number(process.exitCode ?? 0),
      out: output.out.slice(0, 20_000),
      err: output.err.slice(0, 20_000),
      thrown,
    });
  }
  process.send({ ended, megabytes: process.memoryUsage().rss / 1024 / 1024 });
});
