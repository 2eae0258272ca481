import fs from 'node:fs';
import path from 'node:path';
import { makeFolder } from '../makeFolder.ts';
import { renameOver } from '../platform.ts';

/** Who may do what with what is written. */
interface Modes {
  readonly folder?: number;
  readonly file?: number;
}

/**
 * Writes a file whole, without waiting for the disk: what is remembered need not outlast a power cut, as nothing damaged is
 * believed. Throws what the system says.
 */
export function writeUnflushed(file: string, content: Buffer, { folder, file: mode }: Modes = {}): void {
  makeFolder(path.dirname(file), folder);
  // Two processes may write the same at once.
  const beside = `${file}.${process.pid}`;
  fs.writeFileSync(beside, content, { mode });
  renameOver(beside, file);
}
