import { type Entry, keyOf } from '../../core/entry/entry.ts';
import { addedTakenBack, editsKept } from '../../core/migration/editsKept.ts';
import type { Loss } from '../../core/migration/operation.ts';
import type { Plan } from '../../core/migration/plan.ts';
import { pointer } from '../../core/plain/json.ts';
import type { Look } from '../../core/rules/lookUp.ts';
import type { LineOfEntry } from '../../stores/store.ts';

/** The lines of a file before a run, as the run left them, and as they are now. */
interface Lines {
  readonly was: readonly LineOfEntry[];
  readonly left: readonly LineOfEntry[];
  readonly now: readonly LineOfEntry[];
}

interface Kept {
  readonly entry: string;
  readonly fields: readonly string[];
  readonly state: 'edited' | 'deleted' | 'new';
}

/** The lines of before with what was edited since; those that came since stand at the end. */
export function linesWithEdits({ was, left, now }: Lines, back: Plan, look: Look | undefined) {
  const lines: Buffer[] = [];
  const kept: Kept[] = [];
  const lost: { entry: string; why: string }[] = [];
  const byAddress = new Map(now.flatMap((line) => (line.entry ? [[keyOf(line.entry), line] as const] : [])));
  const met = new Set<LineOfEntry>();
  const made = new Set(left);
  for (const [one, after] of pairsOf(was, left, (line) => line.entry)) {
    if (after) made.delete(after);
    const edited = after?.entry && byAddress.get(keyOf(after.entry));
    if (edited) met.add(edited);
    if (!one.entry || !after?.entry || edited?.bytes.equals(after.bytes)) lines.push(one.bytes);
    else if (!edited?.entry) kept.push({ entry: keyOf(one.entry), fields: [], state: 'deleted' });
    else {
      const entry = keyOf(one.entry);
      const outcome = editsKept({ before: one.entry, after: after.entry, now: edited.entry }, back, look);
      lines.push(one.rewrite(outcome.operations) ?? one.bytes);
      if (outcome.fields.length > 0) kept.push({ entry, fields: outcome.fields, state: 'edited' });
      lost.push(...outcome.lost.map((one) => ({ entry, why: cannotTakeBack(one) })));
    }
  }
  for (const line of made) {
    const edited = line.entry && byAddress.get(keyOf(line.entry));
    if (!line.entry || !edited) continue;
    met.add(edited);
    if (!edited.bytes.equals(line.bytes)) lost.push({ entry: keyOf(line.entry), why: 'the run made it, and it goes' });
  }
  for (const line of now) {
    const isBroken =
      !line.entry && line.bytes.toString().trim() !== '' && !left.some((one) => one.bytes.equals(line.bytes));
    if (isBroken) lost.push({ entry: 'a line', why: 'it cannot be read as an entry any more' });
    if (met.has(line) || !line.entry) continue;
    const draft = addedTakenBack(line.entry, back, look);
    const become = draft && line.rewrite(draft.operations);
    lines.push(become ?? line.bytes);
    if (draft && become) kept.push({ entry: keyOf(draft), fields: [], state: 'new' });
    else lost.push({ entry: keyOf(line.entry), why: 'it came since, and stays as the newer model has it' });
  }
  return { lines: withLineEnds(lines), kept, lost };
}

/** Why an edit is lost, in words: `at/street cannot be taken back: …`. */
export const cannotTakeBack = ({ path, why }: Loss): string =>
  `${pointer(path).slice(1) || 'its text'} cannot be taken back: ${why}`;

/** Every line but the last ends; one that stood last and does not any more is ended. */
const withLineEnds = (lines: readonly Buffer[]): readonly Buffer[] =>
  lines.map((line, index) =>
    index < lines.length - 1 && line.at(-1) !== 0x0a ? Buffer.concat([line, Buffer.from('\n')]) : line,
  );

/**
 * What each of some entries became, in their order: the one of its identifier, of its own type before any other. What has
 * no entry is what stands in its place.
 */
export function pairsOf<T>(
  was: readonly T[],
  left: readonly T[],
  entryOf: (one: T) => Entry | undefined = (one) => one as Entry,
): readonly (readonly [T, T | undefined])[] {
  const unused = new Map<string, T[]>();
  for (const one of left) {
    const id = entryOf(one)?.id;
    if (id !== undefined) unused.set(id, [...(unused.get(id) ?? []), one]);
  }
  const take = (one: T, isSameType: boolean): T | undefined => {
    const entry = entryOf(one);
    const all = entry === undefined ? [] : (unused.get(entry.id) ?? []);
    const index = all.findIndex((other) => !isSameType || entryOf(other)?.type === entry?.type);
    return index < 0 ? undefined : all.splice(index, 1)[0];
  };
  const same = new Map(was.map((one) => [one, take(one, true)] as const));
  return was.map((one) => [one, same.get(one) ?? take(one, false)] as const);
}
