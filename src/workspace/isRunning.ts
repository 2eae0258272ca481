/** Whether a process with this number runs on this machine. */
export function isRunning(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    // It runs, and belongs to somebody else.
    return error instanceof Error && 'code' in error && error.code === 'EPERM';
  }
}
