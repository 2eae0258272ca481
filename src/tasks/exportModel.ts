import { z } from 'zod';
import type { BuiltInNames } from '../core/definition/builtIn.ts';
import { formats } from '../core/export/formats/index.ts';
import type { Model, Type } from '../core/model/link.ts';
import { anySize } from '../core/plain/limits.ts';
import { unixLines } from '../core/plain/lineEnds.ts';
import { didYouMean } from '../core/plain/nearest.ts';
import { list, thereAre } from '../core/plain/words.ts';
import { readText, statOf, writeWhole } from '../workspace/files.ts';
import type { Workspace } from '../workspace/open.ts';
import { outPath } from '../workspace/outPath.ts';
import { refuse, Trouble } from '../workspace/trouble.ts';
import type { Call } from './call.ts';
import { readIn, reading } from './openForCall.ts';
import { head, resultVersion } from './result.ts';

/** The result of `lumbrik export`. */
export const ExportResult = z.strictObject({
  ...head('export'),
  format: z.string(),
  types: z.array(z.string()),
  /** What the model is in that format. */
  text: z.string(),
  /** The call that gives the same. */
  call: z.string(),
  /** The file that it is kept in, where one is named. */
  file: z.string().optional(),
  /** What the format cannot say, and how often. */
  lost: z.array(z.strictObject({ says: z.string(), count: z.int() })).optional(),
  /** Whether the file says that already. */
  current: z.boolean().optional(),
});
export type ExportResult = z.output<typeof ExportResult>;

/** The options of an export of the model. */
export interface ExportCall {
  readonly format: string | undefined;
  /** Types; all of them where none is named. */
  readonly types: readonly string[];
  readonly language?: string | undefined;
  /** The file to write; nothing is written where none is named. */
  readonly out?: string | undefined;
  /** Only tell whether the file is as it should be. */
  readonly isCheck: boolean;
}

/** Tells the model in a format for other programs, and keeps a file up to date with it. */
export async function exportModel(call: Call, request: ExportCall): Promise<ExportResult> {
  const format = formats.find(({ name }) => name === request.format);
  if (request.format === undefined)
    throw new Trouble('unusable-call', 'no export format is named', {
      mend: `Say lumbrik export ${list(
        formats.map(({ name }) => name),
        'or',
      )}.`,
    });
  if (!format)
    throw new Trouble('unusable-call', `there is no format \`${request.format}\``, {
      mend:
        didYouMean(
          request.format,
          formats.map(({ name }) => name),
        ) ??
        thereAre(formats.map(({ name }) => name)) ??
        '',
    });

  const workspace = await reading(call);
  const model = readIn(workspace, request.language);
  const types = typesNamed(request.types, model);
  const factKeys = factKeysIn(workspace);
  const again = callOf(request);
  const text = format.text({ workspace: workspace.name, model, types, factKeys, call: again });
  const result = {
    lumbrik: resultVersion,
    command: 'export',
    format: format.name,
    types: types.map(({ name }) => name),
    text,
    call: again,
  } as const;

  return { ...result, ...kept(workspace.root, request, text, (oldText) => ownMark.test(oldText.slice(0, 2000))) };
}

/**
 * Keeps a file that is shown to be up to date, or only tells whether it is.
 * @param isOwn whether what is there was written by an export.
 */
export function kept(
  root: string,
  { out: outFile, isCheck }: { readonly out?: string | undefined; readonly isCheck: boolean },
  text: string,
  isOwn: (oldText: string) => boolean,
): { readonly file?: string; readonly current?: boolean } {
  if (outFile === undefined) return {};

  const file = outPath(root, outFile);
  const existing = statOf(file) ? readText(file, anySize) : undefined;
  const current = existing !== undefined && 'value' in existing && unixLines(existing.value) === unixLines(text);
  if (!current && !isCheck) {
    if (existing !== undefined && ('problem' in existing || !isOwn(existing.value)))
      throw refuse('other-file', 'there is something else already, which no export wrote', {
        mend: 'Name another file with --out, or move that one away.',
        where: { file: outFile },
      });
    writeWhole(file, text);
  }

  return { file: outFile, current };
}

/** What an export says of itself, so that it is known again. */
export const ownMark = /Written by `?lumbrik export /u;

/** The call that gives the same. */
const callOf = ({ format = '', types, language }: ExportCall): string =>
  ['lumbrik export', format, ...types, ...(language === undefined ? [] : [`--language ${language}`])].join(' ');

/** What the workspace, and each store that calls it otherwise, calls what every entry has. */
export const factKeysIn = ({ content, factKeys }: Workspace): readonly BuiltInNames[] => [
  factKeys,
  ...content.flatMap((store) => ('keys' in store && store.keys ? [store.keys] : [])),
];

/** Types by their names, all of them where none is named. @throws {Trouble} where there is no such type. */
export const typesNamed = (names: readonly string[], { types }: Model): readonly Type[] => {
  if (names.length === 0) return [...types.values()];
  return names.map((name) => typeNamed(name, types));
};

function typeNamed(name: string, types: Model['types']): Type {
  const type = types.get(name);
  if (type) return type;
  throw new Trouble('not-found', `there is no type \`${name}\``, {
    mend: didYouMean(name, types.keys()) ?? thereAre([...types.keys()]) ?? 'Define one in model/types/.',
  });
}
