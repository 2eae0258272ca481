import type { Model } from '../core/model/link.ts';
import { list } from '../core/plain/words.ts';
import { refuseInterrupted, settle, settleForReading } from '../journal/settle.ts';
import { withLock } from '../workspace/lock.ts';
import { findWorkspace, openSoundWorkspace, openWorkspace, type Workspace } from '../workspace/open.ts';
import { Trouble } from '../workspace/trouble.ts';
import type { Call } from './call.ts';

/** The workspace of a call, for a command that reads: in order after any stop, its model without mistakes. @throws {Trouble} */
export async function reading(call: Call): Promise<Workspace> {
  return openSoundWorkspace(await settled(call));
}

/** The same where mistakes in the model are the command's own business. */
export async function readingMistakes(call: Call): Promise<Workspace> {
  return openWorkspace(await settled(call));
}

/** The same for a command that tells of runs, and so of one that was interrupted too. */
export async function readingRuns(call: Call): Promise<Workspace> {
  const root = findWorkspace(call.workspace);
  await settleForReading(root);
  return openWorkspace(root);
}

/** The model of a workspace as it is read in a language; in the main one where none is requested. @throws {Trouble} */
export function readIn({ model, modelIn, languages }: Workspace, language: string | undefined): Model {
  if (language === undefined) return model;
  if (languages.includes(language)) return modelIn(language);
  throw new Trouble('no-language', `\`${language}\` is no language of the workspace`, {
    mend: `Its languages are ${list(languages)}.`,
  });
}

async function settled(call: Call): Promise<string> {
  const root = findWorkspace(call.workspace);
  await settleForReading(root);
  refuseInterrupted(root);
  return root;
}

/** Does the work of a command that writes: alone, in a workspace that is in order and has no mistakes. @throws {Trouble} */
export async function writing<T>(call: Call, work: (workspace: Workspace) => Promise<T> | T): Promise<T> {
  return settledAlone(call, (root) => {
    refuseInterrupted(root);
    return work(openSoundWorkspace(root));
  });
}

/** The same for what deals with interrupted runs itself, and opens the workspace when it needs it. */
export async function settledAlone<T>(call: Call, work: (root: string) => Promise<T> | T): Promise<T> {
  const root = findWorkspace(call.workspace);
  return withLock(root, () => {
    settle(root);
    return work(root);
  });
}
