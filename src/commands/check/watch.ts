import { type CheckCall, type CheckResult, check } from '../../tasks/check/check.ts';
import { harmless } from '../../view/harmless.ts';
import { type Look, lookFor } from '../../view/look.ts';
import { checkShown, checkText } from '../../view/text/check.ts';
import { troubleText } from '../../view/text/trouble.ts';
import { changedText } from '../../view/text/watch.ts';
import { Changes } from '../../workspace/changes.ts';
import { handlingInterrupt } from '../../workspace/interrupt.ts';
import { holdParts } from '../../workspace/memory/partMemory.ts';
import { findWorkspace } from '../../workspace/open.ts';
import { Trouble } from '../../workspace/trouble.ts';
import { type Arguments, colorOf, refuseFormat, textOf } from '../answer.ts';
import { limitOf } from '../limit.ts';
import { checkCallOf } from './report.ts';

/** Checks, and again whenever something changes, until Ctrl-C. Each result is printed to standard output. */
export async function watch(args: Arguments): Promise<void> {
  refuseFormat(String(args.format), []);
  const request = await checkCallOf(args);
  const root = findWorkspace(textOf(args.workspace));
  const look = lookFor(process.stdout, colorOf(args));
  const view = (result: CheckResult): string => checkText(checkShown(result, limitOf(args.limit)), look);
  holdParts();
  const changes = new Changes(root);
  const stop = (): void => changes.end();

  await handlingInterrupt(stop, async () => {
    for (let changed: readonly string[] | undefined = []; changed; changed = await changes.next()) {
      const started = performance.now();
      const text = await oneCheck(root, request, view, look);
      process.stdout.write(changedText(harmless(changed), performance.now() - started, look) + text);
    }
  }).finally(stop);
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
