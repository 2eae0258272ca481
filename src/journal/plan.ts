import { hash } from 'node:crypto';
import { z } from 'zod';
import { compact } from '../core/plain/json.ts';
import { isOurs, markOf } from '../workspace/localKey.ts';

/**
 * A journal's account of its changes, written down before anything is changed. Kept in a file with a checksum, which
 * tells damage, and a mark, which tells whether it was made here.
 */

const Hash = z.string().regex(/^[0-9a-f]{64}$/u);
const FileState = z.strictObject({
  path: z.string(),
  /** The SHA-256 of its bytes; the name of the file in the journal that keeps them. */
  hash: Hash,
  /** Its permissions, where they are known. */
  mode: z.int().min(0).max(0o7777).optional(),
});
const FileChange = z.strictObject({
  before: FileState.optional(),
  after: FileState.optional(),
  /** The address of the entry that is kept in the file. */
  entry: z.string().optional(),
});

const RunPlan = z.strictObject({
  migration: z.int(),
  file: z.string(),
  from: z.string(),
  to: z.string(),
  date: z.string(),
  /** The folder of the journal of another run that this one takes back, with later edits kept. */
  undoes: z.string().optional(),
  /** Whether it brought entries forward that version control had merged: their old text may hold conflict marks. */
  merges: z.literal(true).optional(),
  files: z.array(FileChange),
});

/** One file with its old and its new state; a side is absent where there is no file. */
export type FileChange = z.output<typeof FileChange>;
/** All that a run changes. */
export type RunPlan = z.output<typeof RunPlan>;

/**
 * The number of runs that are no migrations: fixes of a check, and renames before the first revision. It leads
 * from no recorded model to another one.
 */
export const mendsNumber = 0;

const Sealed = z.strictObject({ checksum: Hash, madeBy: z.string().optional() });
const planKey = ',"plan":';

/** A plan as it was read, and whether it was made in this person's account. */
export interface RunRead<Plan> {
  readonly plan: Plan;
  readonly checksum: string;
  readonly isOurs: boolean;
}

/** The text of a plan's file. */
export function planText(plan: object): { readonly text: string; readonly checksum: string } {
  const body = JSON.stringify(plan);
  const checksum = hashOfText(body);
  const madeBy = markOf(checksum);
  const seal = compact({ checksum, madeBy });
  return { text: `${JSON.stringify(seal).slice(0, -1)}${planKey}${body}}\n`, checksum };
}

/**
 * Reads the text of a plan's file.
 * @param roots the folders and files of a workspace that its paths may lie in; `content/` for all below it.
 * @returns `undefined` where it is not as it was written, or names a path that it must not.
 */
export function readPlanText<Plan extends { readonly files: readonly FileChange[] }>(
  text: string,
  shape: z.ZodType<Plan>,
  roots: readonly string[],
): RunRead<Plan> | undefined {
  const index = text.indexOf(planKey);
  if (index < 0 || !text.endsWith('}\n')) return undefined;

  const sealed = Sealed.safeParse(parse(`${text.slice(0, index)}}`));
  if (!sealed.success) return undefined;

  const { checksum, madeBy } = sealed.data;
  const body = text.slice(index + planKey.length, -2);
  if (hashOfText(body) !== checksum) return undefined;

  const plan = shape.safeParse(parse(body));
  if (!plan.success || !plan.data.files.every((change) => staysWithin(change, roots))) return undefined;
  return { plan: plan.data, checksum, isOurs: isOurs(checksum, madeBy) };
}

/** What a rename before the first revision changes beside the entries. A migration changes entries alone. */
const besideEntries = ['model/', 'schemas/', 'lumbrik.yaml'] as const;

/** Reads the plan of a run; `undefined` if it is damaged. */
export function readRunPlan(text: string): RunRead<RunPlan> | undefined {
  const read = readPlanText(text, RunPlan, ['content/', ...besideEntries]);
  const isOfEntries = read?.plan.files.every((change) => staysWithin(change, ['content/']));
  if (isOfEntries || read?.plan.migration === mendsNumber) return read;
  return undefined;
}

/** Whether a change stays in the places that it may touch: no way up, nothing hidden, nothing absolute. */
const staysWithin = ({ before, after }: FileChange, roots: readonly string[]): boolean =>
  [before, after].every((state) => state === undefined || isWithin(state.path, roots));

const isWithin = (file: string, roots: readonly string[]): boolean =>
  roots.some((root) => (root.endsWith('/') ? file.startsWith(root) && file !== root : file === root)) &&
  file.split('/').every((part) => part !== '' && !part.startsWith('.') && !/[\\\0]/u.test(part));

function parse(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}

/** The SHA-256 of a text, in hexadecimal. */
export const hashOfText = (text: string): string => hash('sha256', text, 'hex');
