import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { root } from './program.ts';

/** The versions of Node.js that Lumbrik is tried on: the lowest that it supports, and a later one of each line. */
export const supportedNodes = ['20.19.0', '20.20.2', '22.23.5', '24.22.3', '26.12.1'] as const;

const isThere = (version: string): boolean => fs.existsSync(path.join(root, 'node_modules/.cache/nodes', version));

/** Whether these can be had: where `LUMBRIK_TEST_NODES` is `needed` as in CI, the absence of one is a failure. */
export const hasNodes = process.env.LUMBRIK_TEST_NODES === 'needed' || supportedNodes.every(isThere);

/** The folder with the program of a version of Node.js, from the registry. @throws {Error} where it cannot be had. */
export function folderOfNode(version: string): string {
  return execFileSync(process.execPath, [path.join(root, 'scripts/onNode.mjs'), version], { encoding: 'utf8' }).trim();
}
