import fs from 'node:fs';
import { type CheckCall, type CheckResult, check } from '../tasks/check/check.ts';
import { harmless } from '../view/harmless.ts';
import { type Look, lookFor } from '../view/look.ts';
import { troubleText } from '../view/text/trouble.ts';
import { changedText } from '../view/text/watch.ts';
import { findWorkspace } from '../workspace/open.ts';
import { holdParts } from '../workspace/partMemory.ts';
import { Trouble } from '../workspace/trouble.ts';

/** So long, in milliseconds, is waited for more changes: an editor writes several at once. */
const patience = 40;

/** What a check depends on, below a workspace. */
const isLookedAt = (file: string): boolean =>
  /^(?:content|model|assets)(?:\/|$)|^(?:lumbrik\.yaml|baseline\.ndjson)$/u.test(file);

/**
 * Checks, and again whenever something changes, until Ctrl-C. What is printed goes to standard output, each time anew.
 * @param view how a result reads.
 */
export async function watchCheck(
  { workspace, color }: { readonly workspace: string | undefined; readonly color: boolean | undefined },
  asked: CheckCall,
  view: (result: CheckResult, look: Look) => string,
): Promise<void> {
  const root = findWorkspace(workspace);
  const look = lookFor(process.stdout, color);
  holdParts();
  const changes = new Changes(root);
  const stop = (): void => changes.end();
  process.on('SIGINT', stop);
  try {
    for (let changed: readonly string[] | undefined = []; changed; changed = await changes.next()) {
      const started = performance.now();
      const text = await oneCheck(root, asked, (result) => view(result, look), look);
      process.stdout.write(changedText(harmless(changed), performance.now() - started, look) + text);
    }
  } finally {
    process.off('SIGINT', stop);
    changes.end();
  }
}

/** What a check says; where it cannot be done, why: the next change may mend that. */
async function oneCheck(
  root: string,
  asked: CheckCall,
  view: (result: CheckResult) => string,
  look: Look,
): Promise<string> {
  try {
    return view(harmless(await check({ workspace: root }, asked)));
  } catch (error) {
    if (!(error instanceof Trouble)) throw error;
    const { code, message: says, mend, also } = error;
    return troubleText(harmless({ code, says, mend, also: [...also] }), look);
  }
}

/** What changes below a workspace, a handful at a time. */
class Changes {
  readonly #watcher: fs.FSWatcher;
  readonly #files = new Set<string>();
  #isEnded = false;
  #wake: () => void = () => undefined;

  constructor(root: string) {
    this.#watcher = fs.watch(root, { recursive: true }, (_, name) => {
      const file = String(name ?? '').replaceAll('\\', '/');
      if (!isLookedAt(file) || file.split('/').some((part) => part.startsWith('.'))) return;
      this.#files.add(file);
      this.#wake();
    });
  }

  /** Waits for the next changes; `undefined` at the end. */
  async next(): Promise<readonly string[] | undefined> {
    while (this.#files.size === 0 && !this.#isEnded)
      await new Promise<void>((resolve) => {
        this.#wake = resolve;
      });
    if (this.#isEnded) return undefined;
    await new Promise((resolve) => setTimeout(resolve, patience));
    const files = [...this.#files].sort();
    this.#files.clear();
    return files;
  }

  end(): void {
    this.#isEnded = true;
    this.#watcher.close();
    this.#wake();
  }
}
