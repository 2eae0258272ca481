import { main } from '../dist/program.js';

/** Runs a command in a folder, inside this process, and insists that it ends well. */
export async function lumbrik(folder, args) {
  const printed = { out: '', err: '' };
  const real = { out: process.stdout.write, err: process.stderr.write };
  const into = (side) => (text) => {
    printed[side] += text;
    return true;
  };
  Object.assign(process.stdout, { write: into('out') });
  Object.assign(process.stderr, { write: into('err') });
  process.chdir(folder);
  process.exitCode = 0;
  try {
    await main(args, '');
  } finally {
    Object.assign(process.stdout, { write: real.out });
    Object.assign(process.stderr, { write: real.err });
  }
  const code = process.exitCode;
  process.exitCode = 0;
  if (code > 1 || printed.err !== '') throw new Error(`lumbrik ${args.join(' ')}: ${printed.err}`);
  return printed.out;
}
