// Times calls in turns, so that whatever else the machine does hits both sides alike, and prints the ratios.
import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';

export const program = fileURLToPath(new URL('../dist/cli.js', import.meta.url));
export const peerFile = (name) => fileURLToPath(new URL(`./${name}.mjs`, import.meta.url));

/** Milliseconds that a call of Node takes. */
export function once(args, cwd) {
  const started = process.hrtime.bigint();
  const { status, stderr } = spawnSync('/usr/bin/env', ['node', ...args], {
    cwd,
    stdio: ['ignore', 'ignore', 'pipe'],
    encoding: 'utf8',
  });
  if (status !== 0 && status !== 1) throw new Error(`node ${args.join(' ')} ended with ${status}:\n${stderr}`);
  return Number(process.hrtime.bigint() - started) / 1e6;
}

/** What a call of Node prints. */
export const outputOf = (args, cwd) =>
  spawnSync('/usr/bin/env', ['node', ...args], { cwd, encoding: 'utf8', maxBuffer: 1 << 28 }).stdout;

export const median = (numbers) => numbers.toSorted((a, b) => a - b)[numbers.length >> 1];

/** Times both in turns. @param before what is done before each of ours. */
export function compare(name, ours, peer, { times, cwd, before = () => undefined, warmUp = true }) {
  const [a, b] = [[], []];
  if (warmUp) {
    before();
    once(ours, cwd);
    once(peer.args, peer.cwd ?? cwd);
  }
  for (let i = 0; i < times; i += 1) {
    before();
    a.push(once(ours, cwd));
    b.push(once(peer.args, peer.cwd ?? cwd));
  }
  line(name, median(a), peer.name, median(b));
  return [median(a), median(b)];
}

export function line(name, mine, peer, theirs) {
  console.log(
    `${name.padEnd(34)} ${mine.toFixed(0).padStart(7)} ms   ${peer.padEnd(30)} ${theirs.toFixed(0).padStart(7)} ms   ${(mine / theirs).toFixed(2)} times`,
  );
}

/** The most memory that a call took, in megabytes. */
export function peakOf(args, cwd) {
  const told = `process.on('exit', () => process.stderr.write('\\n' + process.resourceUsage().maxRSS));`;
  const source = `process.argv.splice(1, 1, ${JSON.stringify(program)}); ${told} await import(${JSON.stringify(program)});`;
  const { stderr } = spawnSync('/usr/bin/env', ['node', '--input-type=module', '-e', source, 'x', ...args], {
    cwd,
    encoding: 'utf8',
    stdio: ['ignore', 'ignore', 'pipe'],
  });
  return Math.round(Number(/(\d+)\s*$/u.exec(stderr)?.[1]) / 1024);
}
