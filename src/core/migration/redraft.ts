import type { DraftedStep } from '../diff/draftedStep.ts';
import { equal, type JsonObject, ownValue } from '../plain/json.ts';
import { anySize } from '../plain/limits.ts';
import { editText } from '../source/edit.ts';
import type { Edit } from '../source/editOperation.ts';
import { readYaml, type Source } from '../source/yaml.ts';
import { stepText } from './draft.ts';
import type { Migration, MigrationStep } from './read.ts';

/** The keys by which a step says what entries get: what a person decided, beside what the draft knows. */
const decided = ['value', 'cel', 'where', 'split', 'written', 'by', 'inside'] as const;

/** A migration as it is in its file. */
interface WrittenStep {
  readonly text: string;
  readonly source: Source;
  readonly migration: Migration;
}

interface Block {
  readonly step: MigrationStep;
  /** Its lines, with the comments above them. */
  readonly lines: string;
}

/**
 * The steps of a migration that was drafted anew, each as its file has it where it still says the same: with its answers
 * and its comments. Decisions for a changed step are kept, and asked about again. Steps that
 * only set values were added by hand, and stay behind those that they stood behind.
 * @returns the text of all steps.
 */
export function redraftedSteps(written: WrittenStep, drafted: readonly DraftedStep[]): string {
  const blocks = blocksOf(written);
  const used = new Set<Block>();
  const texts = drafted.flatMap((step) => {
    const answered = blocks.find(
      (block) => !used.has(block) && nameOf(block.step.kind.verb, block.step.address) === nameOfDrafted(step),
    );
    if (!answered) return [stepText(step)];

    used.add(answered);
    // What nobody has to answer any more is not asked any more.
    const isSettled = step.open === undefined && answered.step.open !== undefined;
    const isSame =
      equal(undecided(answered.step.data), undecided(step.data)) && !isSettled && !isNewlyAsked(step, answered);
    const lines = isSame ? answered.lines : stepText(withDecisions(step, answered.step));

    return [lines, ...addedBehind(answered, blocks, used)];
  });
  const unused = blocks.filter((block) => block.step.kind.verb === 'set' && !used.has(block));

  return [...texts, ...unused.map(({ lines }) => lines)].join('\n');
}

/** Whether a step has a new question without an answer. */
const isNewlyAsked = ({ open }: DraftedStep, { step: { open: before, answered, data } }: Block): boolean =>
  open !== undefined &&
  before === undefined &&
  answered === undefined &&
  !['value', 'cel', 'use'].some((key) => Object.hasOwn(data, key));

/** Steps that only set values, directly behind another one. */
function addedBehind(block: Block, blocks: readonly Block[], used: Set<Block>): readonly string[] {
  const texts: string[] = [];
  for (const next of blocks.slice(blocks.indexOf(block) + 1)) {
    if (next.step.kind.verb !== 'set') break;
    used.add(next);
    texts.push(next.lines);
  }

  return texts;
}

const nameOf = (verb: string, address: string): string => `${verb} ${address}`;

function nameOfDrafted({ data }: DraftedStep): string {
  const [[verb = '', address] = []] = Object.entries(data);
  return nameOf(verb, String(address));
}

const undecided = (data: JsonObject): JsonObject =>
  Object.fromEntries(Object.entries(data).filter(([key]) => !decided.some((decision) => decision === key)));

function withDecisions(step: DraftedStep, { data }: MigrationStep): DraftedStep {
  const decisions = decided.flatMap((key) => {
    const value = ownValue(data, key);
    if (value === undefined) return [];
    return [[key, value] as const];
  });
  if (decisions.length === 0) return step;
  return { ...step, data: { ...step.data, ...Object.fromEntries(decisions) } };
}

/**
 * A migration's text with some of its steps alone, in the same order: each as it stands, or as it says now.
 * @param steps the numbers of the steps that stay, and their content.
 */
export function keptSteps(
  written: WrittenStep,
  steps: readonly { readonly number: number; readonly data: JsonObject }[],
): string {
  const blocks = blocksOf(written);
  const { text } = written;
  const [first] = blocks;
  const start = first ? text.indexOf(first.lines.trimEnd()) : text.length;
  const head = (first ? text.slice(0, start) : text).replace(
    /^steps:.*\n/mu,
    steps.length === 0 ? 'steps: []\n' : 'steps:\n',
  );
  const texts = steps.flatMap(({ number, data }) => {
    const block = blocks[number - 1];
    if (!block) return [];
    if (equal(block.step.data, data)) return [block.lines];

    const edits = Object.entries(data)
      .filter(([key, value]) => !equal(ownValue(block.step.data, key), value))
      .map(([key, value]): Edit => ({ do: 'set', path: ['steps', number - 1, key], value }));
    const edited = editText(text, edits, 'yaml');
    const reading = readYaml(edited, anySize);
    const lines = 'value' in reading ? blocksOf({ ...written, text: edited, source: reading.value }) : blocks;

    return [lines[number - 1]?.lines ?? block.lines];
  });

  return head + texts.join('\n');
}

/** What the comments above each step say, as one text; how it is answered is not repeated. */
export const commentsIn = (written: WrittenStep): readonly string[] =>
  blocksOf(written).map(({ lines }) =>
    (lines.match(/^\s*#.*$/gmu) ?? [])
      .map((line) => line.replace(/^\s*#\s?/u, ''))
      .join(' ')
      .replace(/ (?:Yes: |As `|Add `).*$/u, ''),
  );

/** The lines of each step in a file, with the comments directly above it. */
function blocksOf({ text, source, migration }: WrittenStep): readonly Block[] {
  const lines = text.split('\n');
  const starts = migration.steps.map(({ number }) => {
    let start = source.locate(['steps', number - 1]).line - 1;
    while (start > 0 && /^\s*#/u.test(lines[start - 1] ?? '')) start -= 1;
    return start;
  });

  return migration.steps.map((step, index) => {
    const block = lines.slice(starts[index], starts[index + 1] ?? lines.length).join('\n');
    return { step, lines: `${block.trimEnd()}\n` };
  });
}
