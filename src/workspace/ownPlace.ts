import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { isWindows } from './platform.ts';

/** The two folders that an account keeps for programs: for data that has to last, and for data that can be made anew. */
export type OwnKind = 'state' | 'cache';

const kinds = {
  state: { variable: 'XDG_STATE_HOME', below: ['.local', 'state'], local: [] },
  cache: { variable: 'XDG_CACHE_HOME', below: ['.cache'], local: ['cache'] },
} as const satisfies Record<OwnKind, unknown>;

/**
 * The folder outside every workspace for one person's data (XDG Base Directory Specification; on Windows the folder that
 * `LOCALAPPDATA` names). Never below the current folder by chance, and never where version control would take it along.
 * @returns the folder, which need not be there, or why there is none.
 */
export function ownPlace(kind: OwnKind): Place {
  const { variable, below, local } = kinds[kind];
  const { [variable]: named = '', LOCALAPPDATA: onWindows = '' } = process.env;
  if (path.isAbsolute(named)) return outsideRepositories(path.join(named, 'lumbrik'));
  if (isWindows() && path.isAbsolute(onWindows)) return outsideRepositories(path.join(onWindows, 'lumbrik', ...local));

  const home = homeFolder();
  if (home === undefined) return { why: 'HOME names no folder by its whole path' };
  return outsideRepositories(path.join(home, ...below, 'lumbrik'));
}

type Place = { readonly folder: string } | { readonly why: string };

/** @returns the home of the account; nothing where it is unknown or no whole path. */
function homeFolder(): string | undefined {
  try {
    const home = os.homedir();
    if (path.isAbsolute(home)) return home;
    return undefined;
  } catch {
    return undefined;
  }
}

const looked = new Map<string, Place>();

function outsideRepositories(folder: string): Place {
  const existing = looked.get(folder) ?? lookAbove(folder);
  looked.set(folder, existing);
  return existing;
}

function lookAbove(folder: string): Place {
  for (let above = path.dirname(folder); ; above = path.dirname(above)) {
    if (fs.existsSync(path.join(above, '.git'))) return { why: `${above} is a repository` };
    if (above === path.dirname(above)) return { folder };
  }
}
