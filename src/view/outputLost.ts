import { exitCodes } from '../workspace/exitCodes.ts';

/** What is stated of an output that takes nothing more, by the code of the system. */
const reasons: Readonly<Record<string, string>> = {
  ENOSPC: 'the disk is full',
  EDQUOT: 'your share of the disk is used up',
  EIO: 'the device fails',
};

/**
 * Goes on without standard error where nobody takes it, and ends where standard output takes nothing more: a reader that
 * went away has read enough (`lumbrik show | head`), and what was found decides the exit code; all else is reported.
 */
export function watchOutput(): void {
  process.stdout.on('error', endWithout);
  process.stderr.on('error', () => undefined);
}

function endWithout({ code = '', message }: NodeJS.ErrnoException): void {
  if (code === 'EPIPE') process.exit(process.exitCode ?? exitCodes.fine);
  process.stderr.write(
    `✗ The output could not be written: ${reasons[code] ?? message}\n  Send it somewhere else, then try again.\n`,
  );
  process.exit(exitCodes.unusable);
}
