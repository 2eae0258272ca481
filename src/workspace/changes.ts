import fs from 'node:fs';

/** So long, in milliseconds, is waited for more changes: an editor writes several at once. */
const patience = 40;

/** What entries and the model depend on, below a workspace. */
const isLookedAt = (file: string): boolean =>
  /^(?:content|model|assets)(?:\/|$)|^(?:lumbrik\.yaml|baseline\.ndjson)$/u.test(file);

/** What changes below a workspace, a handful at a time. */
export class Changes {
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
