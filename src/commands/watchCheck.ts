import { type CheckCall, type CheckResult, check } from '../tasks/check/check.ts';
import { harmless } from '../view/harmless.ts';
import { type Look, lookFor } from '../view/look.ts';
import { troubleText } from '../view/text/trouble.ts';
import { changedText } from '../view/text/watch.ts';
import { Changes } from '../workspace/changes.ts';
import { findWorkspace } from '../workspace/open.ts';
import { holdParts } from '../workspace/partMemory.ts';
import { Trouble } from '../workspace/trouble.ts';

/**
 * Checks, and again whenever something changes, until Ctrl-C. Each result is printed to standard output.
 * @param view how a result reads.
 */
export async function watchCheck(
  { workspace, color }: { readonly workspace: string | undefined; readonly color: boolean | undefined },
  request: CheckCall,
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
      const text = await oneCheck(root, request, (result) => view(result, look), look);
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
  request: CheckCall,
  view: (result: CheckResult) => string,
  look: Look,
): Promise<string> {
  try {
    return view(harmless(await check({ workspace: root }, request)));
  } catch (error) {
    if (!(error instanceof Trouble)) throw error;
    const { code, message, mend, also } = error;
    return troubleText(harmless({ code, says: message, mend, also: [...also] }), look);
  }
}
