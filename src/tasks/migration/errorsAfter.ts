import { z } from 'zod';
import { keyOf } from '../../core/entry/entry.ts';
import type { Finding } from '../../core/entry/findings.ts';
import { isError } from '../../core/entry/severities.ts';
import { wordsOf } from '../../core/messages/words.ts';
import type { MigrationStep } from '../../core/migration/read.ts';
import { at, compact, type Path, pointer } from '../../core/plain/json.ts';
import type { FoundAhead } from '../../passes/ahead.ts';

/** What a rehearsal tells of errors afterwards. */
export const ErrorsAfter = {
  /** How many errors would be there that are not now, how many are there now too, and how many would be gone. */
  findings: z.strictObject({ new: z.int(), left: z.int(), gone: z.int() }),
  /** The first of the errors afterwards, those that are new before the others; with the step that is about the same field. */
  findingsAfter: z.array(
    z.strictObject({
      finding: z.string(),
      entry: z.string(),
      pointer: z.string(),
      says: z.string(),
      isNew: z.boolean(),
      step: z.int().optional(),
    }),
  ),
};

/** Problems of entries before: how often a finding is made of one, by its address. */
export interface Errors {
  readonly count: number;
  readonly all: ReadonlyMap<string, number>;
}

/** An error afterwards, with the address that its entry has now, where that is another one. */
export type ErrorAfter = Finding & { readonly was?: string };

/** Tells errors that are new from those that were there, by entry and finding. */
export function compareErrors({ all: list }: Errors, after: readonly ErrorAfter[], steps: readonly MigrationStep[]) {
  const counts = new Map(list);
  const marked = after.map((error) => {
    const name = `${error.was ?? keyOf(error.entry)} ${error.finding}`;
    const times = counts.get(name) ?? 0;
    counts.set(name, times - 1);
    return { error, isNew: times <= 0 };
  });
  const isNew = marked.filter((item) => item.isNew);
  const before = [...list.values()].reduce((sum, times) => sum + times, 0);
  const stayed = marked.length - isNew.length;

  return {
    findings: { new: isNew.length, left: stayed, gone: before - stayed },
    findingsAfter: [...isNew, ...marked.filter((item) => !item.isNew)]
      .slice(0, mostTold)
      .map(({ error: { entry, path, ...finding }, isNew: comes }) =>
        compact({
          finding: finding.finding,
          entry: keyOf(entry),
          pointer: pointer(path),
          says: wordsOf(finding).says,
          isNew: comes,
          step: comes ? stepAbout(steps, entry.type, path) : undefined,
        }),
      ),
  };
}

const mostTold = 50;

/** The step that asks for a language which is missing; else the last about the field, or about the type. */
function stepAbout(steps: readonly MigrationStep[], type: string, path: Path): number | undefined {
  const [field] = path;
  const places = ({ kind, address, data }: MigrationStep): readonly string[] =>
    [address, kind.leadsTo?.(data), ...kind.addresses.map((key) => data[key])].flatMap((value) =>
      typeof value === 'string' ? value.split('.').slice(0, 2).join('.') : [],
    );

  const about = (name: string) => steps.findLast((step) => places(step).includes(name))?.number;
  const asking = steps.findLast(
    ({ address, data }) =>
      address === 'languages' && at(data, ['to', 'languageOptions', String(path.at(-1)), 'required']) !== undefined,
  );

  return asking?.number ?? about(`${type}.${String(field)}`) ?? about(type);
}

/** Problems of entries before: what cannot be read as one is an error, too. */
export function errorsIn({ findings, unreadable }: Pick<FoundAhead, 'findings' | 'unreadable'>): Errors {
  const errors = findings.filter(isError);
  const counts = new Map<string, number>();
  for (const { entry, finding } of errors) {
    const name = `${keyOf(entry)} ${finding}`;
    counts.set(name, (counts.get(name) ?? 0) + 1);
  }

  return { count: unreadable + errors.length, all: counts };
}
