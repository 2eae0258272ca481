import { compact } from '../../core/plain/json.ts';
import { changeFiles, type WantedChange } from '../../journal/change.ts';
import { workspaceAt } from '../../workspace/commit.ts';
import { listFiles } from '../../workspace/files.ts';
import { filesAt, git } from '../../workspace/git.ts';
import { openWorkspace } from '../../workspace/open.ts';
import { workspaceFile } from '../../workspace/readFiles.ts';
import { Trouble } from '../../workspace/trouble.ts';

/** So many commits are looked into that touched the model, the newest first. */
const mostCommits = 60;

const byHand = 'Nothing was changed. Undo without --model, and bring the files in model/ back by hand.';

/** The model's files as they were undone. */
export interface ModelBack {
  /** The commit that they come from. */
  readonly commit: string;
}

/**
 * Finds the files of a model of before, byte for byte as the newest commit had them that says it.
 * @param modelHash the hash of that model.
 * @returns what takes the working files back to it. @throws {Trouble} where no commit has it.
 */
export function modelBack(root: string, modelHash: string): () => ModelBack {
  const commit = commitWith(root, modelHash);
  if (commit === undefined)
    throw new Trouble(
      'no-commit',
      'no commit of this repository has the files of the model that the entries go back to',
      { mend: byHand },
    );

  const filesThen = filesAt(root, commit, ['model', workspaceFile]);

  const changes = (isWhole: boolean): readonly WantedChange[] => {
    const filesWanted = new Map<string, string | undefined>(
      listFiles(root, 'model', ['']).map((file) => [`model/${file}`, undefined]),
    );
    for (const [file, bytes] of filesThen)
      if (isWhole || file !== workspaceFile) filesWanted.set(file, bytes.toString('utf8'));
    return [...filesWanted].map(([file, text]) => compact({ file, text }));
  };

  return () => {
    // The languages are in lumbrik.yaml, which says other things beside: it is undone only where that is needed.
    const some = changes(false);
    const isEnough = openWorkspace(root, new Map(some.map(({ file, text }) => [file, text]))).modelHash === modelHash;
    changeFiles(root, isEnough ? some : changes(true));
    return { commit };
  };
}

function commitWith(root: string, modelHash: string): string | undefined {
  return commitsOfModel(root)
    .split('\n')
    .filter(Boolean)
    .find((commit) => {
      try {
        return workspaceAt(root, commit).modelHash === modelHash;
      } catch (error) {
        if (error instanceof Trouble) return false; // A commit whose model has mistakes is none to go back to.
        throw error;
      }
    });
}

/** The commits that touched the model, the newest first. @throws {Trouble} where git keeps no files of this workspace. */
function commitsOfModel(root: string): string {
  try {
    return String(git(root, ['log', '--format=%H', '-n', String(mostCommits), '--', 'model', workspaceFile]) ?? '');
  } catch (error) {
    if (!(error instanceof Trouble)) throw error;
    throw new Trouble(error.code, `${error.message}, and the files of the model are brought back from git`, {
      mend: byHand,
    });
  }
}
