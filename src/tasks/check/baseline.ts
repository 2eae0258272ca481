import path from 'node:path';
import { z } from 'zod';
import { compareText } from '../../core/plain/compareText.ts';
import type { LocatedFinding } from '../../passes/locatedFinding.ts';
import { hashBytes, readTextIfThere } from '../../workspace/files.ts';
import { Trouble } from '../../workspace/trouble.ts';

/** The file of a workspace that holds facts about findings: a line each, in order, so that two branches merge. */
export const baselineFile = 'baseline.ndjson';

const Line = z.strictObject({
  finding: z.string(),
  entry: z.string().optional(),
  /** Absent where it is an entry's. */
  file: z.string().optional(),
  pointer: z.string(),
});

/** Findings that are known, and fail nothing. Each line of the file stands for one of them, wherever it moves to in its file. */
export class Baseline {
  readonly #left = new Map<string, number>();
  readonly #found: string[] = [];

  /** The SHA-256 of the file that they were read from; `null` where there is none. */
  readonly hash: string | null;

  constructor(lines: readonly string[] = [], hash: string | null = null) {
    this.hash = hash;
    for (const line of lines) this.#left.set(line, (this.#left.get(line) ?? 0) + 1);
  }

  /** Whether a finding is one of them that was not met yet. */
  takes(finding: LocatedFinding): boolean {
    if (this.#left.size === 0) return false;

    const line = lineOf(finding);
    const remaining = this.#left.get(line) ?? 0;
    if (remaining === 0) return false;

    this.#left.set(line, remaining - 1);
    this.#found.push(line);
    return true;
  }

  /** How many of them were not met. */
  get gone(): number {
    return [...this.#left.values()].reduce((sum, remaining) => sum + remaining, 0);
  }

  /** The file without those that were not met. */
  withoutGone(): string {
    return textOf(this.#found);
  }
}

/** @throws {Trouble} where a line of the file is none. */
export function readBaseline(root: string): Baseline {
  const text = readTextIfThere(path.join(root, baselineFile), baselineFile);
  const lines = (text ?? '').split('\n').map((line) => line.trimEnd());

  return new Baseline(
    lines.flatMap((line, index) => {
      if (line === '') return [];

      const read = Line.safeParse(parsed(line));
      if (read.success) return [JSON.stringify(read.data)];
      throw new Trouble('unusable-baseline', `line ${index + 1} of ${baselineFile} is no finding`, {
        mend: 'Take both sides of a merge, without its marks; or write it anew: lumbrik check --baseline',
        where: { file: baselineFile, line: index + 1, column: 1 },
      });
    }),
    text === undefined ? null : hashBytes(text),
  );
}

function parsed(line: string): unknown {
  try {
    return JSON.parse(line);
  } catch {
    return undefined;
  }
}

/** A file that holds some findings. */
export const baselineOf = (findings: readonly LocatedFinding[]): string => textOf(findings.map(lineOf));

const textOf = (lines: readonly string[]): string =>
  lines
    .toSorted(compareText)
    .map((line) => `${line}\n`)
    .join('');

const lineOf = ({ finding, entry, file, pointer }: LocatedFinding): string =>
  JSON.stringify(entry === undefined ? { finding, file, pointer } : { finding, entry, pointer });
