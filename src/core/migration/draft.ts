import { nameOfField, parseAddress } from '../definition/address.ts';
import type { ModelDoc } from '../definition/model.ts';
import type { Comparison } from '../diff/compare.ts';
import type { Impact } from '../diff/counter.ts';
import { addressOf, kindOf, sayDifference } from '../diff/difference.ts';
import type { DraftContext, ImpactOf, NamedDifference } from '../diff/differences/define.ts';
import { differenceKinds } from '../diff/differences/index.ts';
import { askForSteps, type DraftedStep } from '../diff/draftedStep.ts';
import { link } from '../model/link.ts';
import { fieldAddressed } from '../model/nestedFields.ts';
import { makersOf } from '../model/provenance.ts';
import { grouped } from '../plain/grouped.ts';
import { compact, equal, type JsonObject, ownValue } from '../plain/json.ts';
import { once } from '../plain/once.ts';
import { slugify } from '../plain/slugify.ts';
import { count, humanize, list } from '../plain/words.ts';
import { writeComment, writeYaml } from '../source/write.ts';
import { takesFill } from './fill.ts';
import { writeTree } from './steps/arrange.ts';
import { steps } from './steps/index.ts';

/**
 * Drafts the steps from one model to another. Applied to the older model in this order they give exactly the newer.
 * What happens to entries where the models alone do not say it is left as an open question.
 */
export function draftSteps(
  { differences, renamed }: Comparison,
  after: ModelDoc,
  impactOf: ImpactOf,
): readonly DraftedStep[] {
  const linked = once(() => link(after));
  const context: DraftContext = {
    after,
    impactOf,
    takes: (address, value) => {
      const field = fieldAddressed(linked(), address);
      return field !== undefined && takesFill(value, field, linked());
    },
    say: (difference) => sayDifference(difference, 'to'),
  };
  const ordered = differenceKinds.flatMap(({ name, draft }) => {
    const named: readonly NamedDifference[] = differences.filter((difference) => difference.name === name);
    if (!draft) return [];
    return named.toSorted(draft.order);
  });
  const byStep = grouped(ordered, (difference) => kindOf(difference).draft?.key?.(difference) ?? keyOf(difference));
  const drafted = [...byStep.values()].flatMap(([first, ...rest]) => {
    const step = first && kindOf(first).draft?.step([first, ...rest], context);
    if (!step) return [];
    return [step];
  });

  const rearranged = (taxonomy: string): Impact | undefined => {
    const difference = differences.find(
      (difference) => difference.name === 'terms-rearranged' && difference.taxonomy === taxonomy,
    );
    return difference && impactOf(difference);
  };

  return askedOnce(withArrangements(drafted, { renamed, after, rearranged }), after);
}

/**
 * The steps with one question for each field that is kept once and used in many types: the first asks, and its answer is
 * answered goes for the others.
 */
function askedOnce(drafted: readonly DraftedStep[], after: ModelDoc): readonly DraftedStep[] {
  const asking = drafted.filter(({ open }) => open !== undefined);
  const groups = grouped(asking, (step) => madeIn(step, after) ?? addressIn(step));

  return drafted.map((step) => {
    const group = step.open ? (groups.get(madeIn(step, after) ?? addressIn(step)) ?? []) : [];
    const [leader, ...rest] = group;
    if (!leader || rest.length === 0) return step;
    if (step === leader) {
      const names = rest.map((other) => `\`${addressIn(other)}\``);
      return { ...step, why: `${step.why} The answer goes for ${list(names)} too.` };
    }

    const { open: _, ...settled } = step;

    return {
      ...settled,
      data: { ...step.data, like: addressIn(leader) },
      why: `${step.why} What \`${addressIn(leader)}\` is answered goes for it too.`,
    };
  });
}

const addressIn = ({ data }: DraftedStep): string => String(Object.values(data)[0]);

/** What a step that asks about a shared field says, with where that field is made; `undefined` of other steps. */
function madeIn({ data }: DraftedStep, after: ModelDoc): string | undefined {
  const [[verb = '', address] = []] = Object.entries(data);
  const parsed = parseAddress(String(address));
  if (!['add', 'change', 'convert'].includes(verb) || (parsed?.what !== 'field' && parsed?.what !== 'inner'))
    return undefined;

  const maker = makersOf(after, parsed.type, nameOfField(parsed)).at(-1);
  if (!maker) return undefined;
  return JSON.stringify([verb, maker.what, maker.name, maker.field, { ...data, [verb]: null }]);
}

const keyOf = (difference: NamedDifference): string => `${difference.name} ${addressOf(difference)}`;

interface Arranging {
  readonly renamed: ModelDoc;
  readonly after: ModelDoc;
  /** What the new places of its terms do to entries. */
  readonly rearranged: (taxonomy: string) => Impact | undefined;
}

/** Adds a step for each taxonomy whose terms would still be elsewhere than they should. */
function withArrangements(
  drafted: readonly DraftedStep[],
  { renamed, after, rearranged }: Arranging,
): readonly DraftedStep[] {
  const reached = drafted.reduce((model, { data }) => applied(data, model), renamed);
  const arrangements = Object.entries(after.taxonomies).flatMap(([name, { tree }]): readonly DraftedStep[] => {
    const isThere = equal(ownValue(reached.taxonomies, name)?.tree, tree);
    if (isThere) return [];

    const data = { arrange: `${name}:`, tree: writeTree(tree) };
    const impact = rearranged(name);
    const moved = 'Terms stand in another order or under other terms';
    if (impact && impact.hits > 0) return [{ data, why: `${moved}; ${impact.says}.`, open: askForSteps }];
    return [{ data, why: `${moved}; no entry changes.` }];
  });

  return [...drafted, ...arrangements];
}

function applied(data: JsonObject, model: ModelDoc): ModelDoc {
  // `model` starts after the renames and the moves
  if (Object.hasOwn(data, 'rename') || Object.hasOwn(data, 'move')) return model;
  const kind = Object.keys(data).flatMap((key) => steps.get(key) ?? [])[0];
  if (!kind) return model;
  return kind.model(data, model);
}

/* ── as a file ───────────────────────────────────────────────────────────────────────────────────────────────── */

/** The head of a drafted migration file. */
export interface DraftHead {
  readonly number: number;
  readonly about: string;
  readonly from: string;
  readonly to: string;
  /** How the two models are called by people: `revision 1`, `the working files`. */
  readonly fromName: string;
  readonly toName: string;
  /** Refused renames and moves. */
  readonly apart?: readonly string[] | undefined;
}

/** The text of a drafted migration: readable, with a comment on each step and the open questions marked. */
export function migrationText(head: DraftHead, drafted: readonly DraftedStep[]): string {
  const open = drafted.filter((step) => step.open !== undefined).length;
  return headText(head, open, drafted.length === 0) + drafted.map(stepText).join('\n');
}

/** The heading above the steps. @param open the number of questions. */
export function headText(
  { number, about, from, to, fromName, toName, apart = [] }: DraftHead,
  open: number,
  isEmpty: boolean,
): string {
  const head = [
    writeComment(`From ${fromName} to ${toName}. Read each step; change what is not meant.`),
    open > 0
      ? writeComment(
          `${count(open, 'open question')}: each stands in a line \`open:\`. Answer it there, with \`answer: yes\` or as the comment says, or one by one: lumbrik migration answer ${number}. The migration does not run before.`,
        )
      : '',
    writeYaml({ migration: number, about }),
    writeYaml({ from }).replace(/\n$/u, ` # ${oneLineOf(fromName)}\n`),
    writeYaml({ to }).replace(/\n$/u, ` # ${oneLineOf(toName)}\n`),
    apart.length > 0 ? writeYaml({ apart }) : '',
    isEmpty ? 'steps: []\n' : 'steps:\n',
  ];
  return head.join('');
}

/** The YAML of a drafted step, with its comment. */
export function stepText({ data, why: reason, open }: DraftedStep): string {
  const question = open ? compact({ suggest: open.suggest, open: open.question }) : {};
  const lines = writeYaml({ ...data, ...question })
    .trimEnd()
    .split('\n');
  const step = lines.map((line, index) => `${index === 0 ? '  - ' : '    '}${line}\n`).join('');
  const comment = writeComment(reason) + (open ? writeComment(open.how) : '');
  return comment.replace(/^(?=#)/gmu, '  ') + step;
}

/** A name for a migration's file, from its first steps: `rename-height-and-2-more`. */
export function nameOf(drafted: readonly DraftedStep[]): string {
  const [first] = drafted;
  if (!first) return 'nothing';

  const [verb = 'change', address] = Object.entries(first.data)[0] ?? [];
  const last = String(address).split(/[.:/]/u).filter(Boolean).at(-1) ?? '';
  // Names of fields are stated in words, `focalHeight` as focal-height; identifiers may be any text.
  const slug = slugify(humanize(last)) || slugify(String(address)) || 'it';
  return `${verb}-${slug.slice(0, 60)}${drafted.length > 1 ? `-and-${drafted.length - 1}-more` : ''}`;
}

const oneLineOf = (text: string): string => text.replace(/\s+/gu, ' ');
