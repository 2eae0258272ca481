import fs from 'node:fs';
import path from 'node:path';
import { z } from 'zod';
import { quotedId } from '../core/definition/address.ts';
import type { ModelDoc } from '../core/definition/model.ts';
import { addressOfRename, type Rename } from '../core/definition/rename.ts';
import { compare } from '../core/diff/compare.ts';
import type { Move } from '../core/model/move.ts';
import { compact } from '../core/plain/json.ts';
import { usualLimits } from '../core/plain/limits.ts';
import { writeComment, writeYaml } from '../core/source/write.ts';
import { readYaml } from '../core/source/yaml.ts';
import type { WantedChange } from '../journal/change.ts';
import { readTextOrRefuse } from '../workspace/files.ts';
import { Trouble } from '../workspace/trouble.ts';
import { type Renames, readRenameOptions } from './renameOptions.ts';

/**
 * What was renamed and moved by commands since the last migration was drafted. It is kept beside the migrations, so that
 * it goes along with the branch on which it was done, and is no guess for anyone who compares and drafts there.
 */
export const statedFile = 'migrations/stated.yaml';

const Stated = z.strictObject({ renamed: z.array(z.string()).default([]), moved: z.array(z.string()).default([]) });

type Settled = Required<Omit<Renames, 'notRenamed'>>;

/** What was stated; nothing where nothing was. @throws {Trouble} where the file cannot be read. */
export function readStated(root: string): Settled {
  if (!fs.existsSync(path.join(root, statedFile))) return { renamed: [], moved: [] };

  const reading = readYaml(readTextOrRefuse(path.join(root, statedFile), statedFile, usualLimits), usualLimits);
  const read = 'value' in reading ? Stated.safeParse(reading.value.data ?? {}) : undefined;
  if (read?.success) return read.data;
  throw new Trouble('unusable-file', `${statedFile} lists no renames and moves`, {
    mend: 'Write `renamed: [lighthouse.height=focalHeight]` and `moved: [tour.street=tour.at.street]`, or delete the file.',
    where: { file: statedFile },
  });
}

/** The file that states renames and moves; gone where there are none. */
export const statedChange = ({ renamed, moved }: Settled): WantedChange =>
  compact({
    file: statedFile,
    text: renamed.length + moved.length === 0 ? undefined : textOf({ renamed, moved }),
  });

const textOf = ({ renamed, moved }: Settled): string =>
  writeComment(
    'Renames and moves for the next `lumbrik migration draft`: the old address and the new name; for moved fields both addresses.',
  ) +
  writeYaml(
    compact({ renamed: renamed.length > 0 ? renamed : undefined, moved: moved.length > 0 ? moved : undefined }),
  );

/** A rename as `--renamed` takes it. */
export const sayRename = (rename: Rename): string => `${addressText(rename)}=${rename.to}`;
/** A move as `--moved` takes it. */
export const sayMove = ({ type, from, to }: Move): string => `${type}.${from}=${type}.${to}`;

/** The address of what a rename concerns as it can be typed. */
function addressText(rename: Rename): string {
  const address = addressOfRename(rename);
  const [before, name] = [address.slice(0, address.length - rename.from.length), rename.from];
  if (rename.what === 'term' || rename.what === 'choice') return before + quotedId(name);
  return address;
}

/** What was stated and can be between two models, beside what a person says of the same things. */
export function withStated(
  stated: Renames,
  { renamed, moved }: Settled,
  [before, after]: readonly [ModelDoc, ModelDoc],
): Renames {
  const isOpen = (text: string): boolean => {
    const [address = ''] = text.split('=');
    return (
      !stated.notRenamed?.includes(address) &&
      ![...(stated.renamed ?? []), ...(stated.moved ?? [])].some((other) => other.split('=')[0] === address)
    );
  };

  const applicable = possible({ renamed: renamed.filter(isOpen), moved: moved.filter(isOpen) }, [before, after]);

  return {
    ...stated,
    renamed: [...applicable.renamed, ...(stated.renamed ?? [])],
    moved: [...applicable.moved, ...(stated.moved ?? [])],
  };
}

/** Those of some statements that can be between two models. */
function possible({ renamed, moved }: Settled, [before, after]: readonly [ModelDoc, ModelDoc]): Settled {
  if (renamed.length + moved.length === 0) return { renamed, moved };

  const { renames, moves = [] } = readRenameOptions({ renamed, moved });
  const { misstated, misplaced } = compare(before, after, { renames, moves, apart: new Set() });
  if (misstated.length + misplaced.length === 0) return { renamed, moved };

  // What one says may hang on another, so the first that cannot be is left out and the rest asked again.
  const [wrong] = misstated;
  const [misplacedFirst] = misplaced;
  const position = wrong ? renamed.findIndex((_, index) => sameName(renames[index], wrong.rename)) : -1;
  const movedAt = misplacedFirst ? moves.findIndex((move) => sayMove(move) === sayMove(misplacedFirst)) : -1;

  return possible(
    wrong
      ? { renamed: renamed.toSpliced(Math.max(0, position), 1), moved }
      : { renamed, moved: moved.toSpliced(Math.max(0, movedAt), 1) },
    [before, after],
  );
}

const sameName = (a: Rename | undefined, b: Rename): boolean =>
  a?.what === b.what && a.from === b.from && a.to === b.to;
