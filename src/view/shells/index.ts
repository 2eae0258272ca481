import { bash } from './bash.ts';
import { fish } from './fish.ts';
import type { Shell } from './shell.ts';
import { zsh } from './zsh.ts';

/** The shells for which there is completion. */
export const shells: readonly Shell[] = [bash, zsh, fish];
