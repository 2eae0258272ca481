import { recallCompiled } from './compileCache.ts';

/* The program of another thread. It is ended from outside, so it keeps what it compiled after its first piece of work. */

let keep: (() => void) | undefined = recallCompiled(import.meta.dirname);

void import('./passes/threadWork.ts').then(({ workOnParts }) =>
  workOnParts(() => {
    keep?.();
    keep = undefined;
  }),
);
