import { editText } from '../core/source/edit.ts';
import type { Edit } from '../core/source/editOperation.ts';
import { CannotEdit } from '../core/source/editOperation.ts';
import { Trouble } from './trouble.ts';

/** The text of a file after some edits, all else in it as it was. @throws {Trouble} where that cannot be. */
export const editedText = (file: string, text: string, edits: readonly Edit[]): string =>
  refusingEdits(file, () => editText(text, edits, file.endsWith('.json') ? 'json' : 'yaml'));

/** Edits a file. @throws {Trouble} where the edit would touch more than what is intended. */
export function refusingEdits<T>(file: string, edit: () => T): T {
  try {
    return edit();
  } catch (error) {
    if (!(error instanceof CannotEdit)) throw error;
    throw new Trouble(
      'cannot-edit',
      `${file} cannot be edited without touching more than the change: ${error.message}`,
      {
        mend: 'Write it out plainly in that file (no anchors, no aliases, a line each), then try again.',
        where: { file },
        cause: error,
      },
    );
  }
}
