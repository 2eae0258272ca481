import type { Mistake } from '../core/model/mistakes.ts';
import type { ModelFile, ReadModel } from '../core/model/read.ts';
import type { Path } from '../core/plain/json.ts';

/** A mistake in a model file, with its place and the line that it is in. */
export interface ModelMistake {
  readonly file: string;
  readonly line: number;
  readonly column: number;
  readonly says: string;
  readonly mend: string;
  readonly excerpt: string;
}

/** A mistake in something shared shows in each type that uses it; it is stated once. */
export function withoutRepeats(mistakes: readonly ModelMistake[]): ModelMistake[] {
  const distinct = new Map(
    mistakes.map((mistake) => [`${mistake.file}:${mistake.line}:${mistake.column} ${mistake.says}`, mistake]),
  );
  return [...distinct.values()];
}

/** A file of the model with its lines, which mistakes show. */
export type TextFile = ModelFile & { readonly lines: readonly string[] };

/** A mistake in the model document at the place in a file that says it; none where no file does. */
export function originOf(
  mistake: Mistake,
  read: ReadModel,
  files: ReadonlyMap<string, TextFile>,
): readonly ModelMistake[] {
  const origin = read.origin(mistake.path);
  if (!origin) return [];
  return placed(files.get(origin.file), origin.path, mistake);
}

/** A mistake at a path of a file, with its line, its column and the text there. */
export function placed(
  file: TextFile | undefined,
  path: Path,
  { atKey, offset = 0, says: message, mend }: Mistake,
): readonly ModelMistake[] {
  if (!file) return [];

  const { line, column } = atKey ? file.source.locateKey(path) : file.source.locate(path);
  const excerpt = excerptOf(file.lines, line, column);

  return [
    {
      file: file.file,
      line,
      column: offset > 0 ? columnInside(excerpt, column, offset) : column,
      says: message,
      mend,
      excerpt,
    },
  ];
}

/** The column of a place inside a text that is written on one line; the one of the text itself where it is not. */
function columnInside(excerpt: string, column: number, offset: number): number {
  const first = excerpt[column - 1];
  if (first === '|' || first === '>') return column;
  return column + offset + (first === '"' || first === "'" ? 1 : 0);
}

/** How long a line may be that is shown with a mistake. */
const longestShown = 2000;

/** A line up to a little after a column; empty where the column is too far along. */
export const excerptOf = (lines: readonly string[], line: number, column: number): string => {
  if (column > longestShown) return '';
  return (lines[line - 1] ?? '').replace(/\r$/u, '').slice(0, Math.max(200, column + 100));
};
