import { type Entry, keyOf } from '../../core/entry/entry.ts';
import { addedTakenBack, editsKept } from '../../core/migration/editsKept.ts';
import type { Loss } from '../../core/migration/operation.ts';
import type { Plan } from '../../core/migration/plan.ts';
import { pointer } from '../../core/plain/json.ts';
import type { Look } from '../../core/rules/lookUp.ts';
import type { LineOfEntry } from '../../stores/store.ts';

/** The lines of a file before a run, as the run left them, and as they are now. */
interface Lines {
  readonly oldLines: readonly LineOfEntry[];
  readonly leftLines: readonly LineOfEntry[];
  readonly editedLines: readonly LineOfEntry[];
}

interface KeptEdit {
  readonly entry: string;
  readonly fields: readonly string[];
  readonly state: 'edited' | 'deleted' | 'new';
}

/** The lines of before with later edits; those that came since are at the end. */
export function linesWithEdits({ oldLines, leftLines, editedLines }: Lines, back: Plan, look: Look | undefined) {
  const lines: Buffer[] = [];
  const keptEdits: KeptEdit[] = [];
  const lost: { entry: string; why: string }[] = [];
  const byAddress = new Map(editedLines.flatMap((line) => (line.entry ? [[keyOf(line.entry), line] as const] : [])));
  const met = new Set<LineOfEntry>();
  const ourLines = new Set(leftLines);
  for (const [ownLine, after] of pairsOf(oldLines, leftLines, (line) => line.entry)) {
    if (after) ourLines.delete(after);
    const edited = after?.entry && byAddress.get(keyOf(after.entry));
    if (edited) met.add(edited);
    if (!ownLine.entry || !after?.entry || edited?.bytes.equals(after.bytes)) lines.push(ownLine.bytes);
    else if (!edited?.entry) keptEdits.push({ entry: keyOf(ownLine.entry), fields: [], state: 'deleted' });
    else {
      const entry = keyOf(ownLine.entry);
      const outcome = editsKept({ before: ownLine.entry, after: after.entry, edited: edited.entry }, back, look);
      lines.push(ownLine.rewrite(outcome.operations) ?? ownLine.bytes);
      if (outcome.fields.length > 0) keptEdits.push({ entry, fields: outcome.fields, state: 'edited' });
      lost.push(...outcome.lost.map((loss) => ({ entry, why: cannotTakeBack(loss) })));
    }
  }

  for (const line of ourLines) {
    const edited = line.entry && byAddress.get(keyOf(line.entry));
    if (!line.entry || !edited) continue;
    met.add(edited);
    if (!edited.bytes.equals(line.bytes)) lost.push({ entry: keyOf(line.entry), why: 'the run made it, and it goes' });
  }

  for (const line of editedLines) {
    const isBroken =
      !line.entry &&
      line.bytes.toString().trim() !== '' &&
      !leftLines.some((leftLine) => leftLine.bytes.equals(line.bytes));
    if (isBroken) lost.push({ entry: 'a line', why: 'it cannot be read as an entry any more' });
    if (met.has(line) || !line.entry) continue;

    const draft = addedTakenBack(line.entry, back, look);
    const become = draft && line.rewrite(draft.operations);
    lines.push(become ?? line.bytes);
    if (draft && become) keptEdits.push({ entry: keyOf(draft), fields: [], state: 'new' });
    else lost.push({ entry: keyOf(line.entry), why: 'it came since, and stays as the newer model has it' });
  }

  return { lines: withLineEnds(lines), kept: keptEdits, lost };
}

/** Why an edit is lost, in words: `at/street cannot be taken back: …`. */
export const cannotTakeBack = ({ path, why: reason }: Loss): string =>
  `${pointer(path).slice(1) || 'its text'} cannot be taken back: ${reason}`;

/** Every line but the last ends; one that stood last and does not any more is ended. */
const withLineEnds = (lines: readonly Buffer[]): readonly Buffer[] =>
  lines.map((line, index) =>
    index < lines.length - 1 && line.at(-1) !== 0x0a ? Buffer.concat([line, Buffer.from('\n')]) : line,
  );

/**
 * What each of some entries became, in their order: the one of its identifier, to itself type before any other. Anything with
 * no entry is what is instead of it.
 */
export function pairsOf<T>(
  oldItems: readonly T[],
  newItems: readonly T[],
  entryOf: (item: T) => Entry | undefined = (item) => item as Entry,
): readonly (readonly [T, T | undefined])[] {
  const unused = new Map<string, T[]>();
  for (const item of newItems) {
    const id = entryOf(item)?.id;
    if (id !== undefined) unused.set(id, [...(unused.get(id) ?? []), item]);
  }

  const take = (item: T, isSameType: boolean): T | undefined => {
    const entry = entryOf(item);
    const candidates = entry === undefined ? [] : (unused.get(entry.id) ?? []);
    const index = candidates.findIndex((other) => !isSameType || entryOf(other)?.type === entry?.type);
    if (index < 0) return undefined;
    return candidates.splice(index, 1)[0];
  };

  const same = new Map(oldItems.map((item) => [item, take(item, true)] as const));

  return oldItems.map((item) => [item, same.get(item) ?? take(item, false)] as const);
}
