import { keyOfField } from '../definition/fieldName.ts';
import { asJson, type ModelDoc } from '../definition/model.ts';
import type { Branch, TaxonomyDoc } from '../definition/taxonomy.ts';
import type { Comparison } from '../diff/compare.ts';
import type { Impact } from '../diff/counting.ts';
import { addressOf, addressOfRename, type Difference } from '../diff/difference.ts';
import { sayDifference } from '../diff/rating.ts';
import { sayShape } from '../model/traversal.ts';
import { grouped } from '../plain/grouped.ts';
import { equal, isObject, type Json, type JsonObject, own, withKey } from '../plain/json.ts';
import { count, humanize, list } from '../plain/words.ts';
import { writeComment, writeYaml } from '../source/write.ts';
import { writeTree } from './steps/arrange.ts';
import { steps } from './steps/index.ts';

/** A step as it is drafted: what it says, why it is there, and what it leaves open. */
export interface DraftedStep {
  readonly says: JsonObject;
  readonly why: string;
  /** A question that only a person can answer, and how to answer it. */
  readonly open?: { readonly question: string; readonly how: string };
}

/** What counting said about a difference; `undefined` where nothing was to count. */
export type ImpactOf = (difference: Difference) => Impact | undefined;

/**
 * Drafts the steps from one model to another. Applied to the older model in this order they give exactly the newer.
 * What happens to entries where the models alone do not say it is left as an open question.
 */
export function draftSteps(
  { differences, renamed }: Comparison,
  after: ModelDoc,
  impactOf: ImpactOf,
): readonly DraftedStep[] {
  const ordered = order.flatMap((names) =>
    differences.filter(({ name }) => names.includes(name)).sort(upperTermsFirst),
  );
  const byAddress = grouped(ordered, (difference) =>
    difference.name === 'shared-changed' ? 'shared' : `${verbOf(difference)} ${addressOf(difference)}`,
  );
  const drafted = [...byAddress.values()].flatMap((group) => draftStep(group, after, impactOf));
  return withArrangements(drafted, renamed, after);
}

/** The order of steps: what others need comes first, what others may still mention goes last. */
const order: readonly (readonly Difference['name'][])[] = [
  ['renamed'],
  ['languages-changed', 'language-changed'],
  ['taxonomy-added'],
  ['term-added'],
  ['term-changed'],
  ['taxonomy-changed'],
  ['type-added'],
  ['field-reshaped'],
  ['field-added'],
  ['field-changed'],
  ['type-changed'],
  ['term-removed'],
  ['field-removed'],
  ['type-removed'],
  ['taxonomy-removed'],
  ['shared-changed'],
];

/** A term that is added below another new one comes after it. */
const upperTermsFirst = (a: Difference, b: Difference): number =>
  a.name === 'term-added' && b.name === 'term-added' ? a.path.length - b.path.length : 0;

function verbOf({ name }: Difference): string {
  if (name.endsWith('-added')) return 'add';
  if (name.endsWith('-removed')) return 'drop';
  if (name.endsWith('-changed')) return 'change';
  return name === 'renamed' ? 'rename' : 'convert';
}

function draftStep(group: readonly Difference[], after: ModelDoc, impactOf: ImpactOf): readonly DraftedStep[] {
  const [first] = group;
  if (!first) return [];
  const address = addressOf(first);
  const impact = impactOf(first);
  const hits = impact?.hits ?? 0;
  switch (first.name) {
    case 'renamed':
      return [renameStep(first, impact)];
    case 'languages-changed':
    case 'language-changed':
      return [languageStep(group, after, impactOf)];
    case 'shared-changed':
      return [sharedStep(group, impactOf)];
    case 'taxonomy-added':
      return [{ says: { add: address, taxonomy: fileForm(first.definition) }, why: 'New taxonomy; no entry changes.' }];
    case 'term-added':
      return [{ says: { add: address, term: asJson(first.definition) }, why: 'New term; no entry changes.' }];
    case 'type-added':
      return [{ says: { add: address, type: asJson(first.definition) }, why: 'New type; no entry changes.' }];
    case 'field-added':
      return [addStep(address, first.definition, hits, impact)];
    case 'field-reshaped':
      return [convertStep(address, first, impact)];
    case 'term-removed':
      return [
        removeStep(
          address,
          hits,
          impact,
          'Which term do they get instead?',
          `Name it (\`use: another-term\`), or let them lose it; then delete the line \`open\`.`,
        ),
      ];
    case 'field-removed':
    case 'type-removed':
      return [
        removeStep(
          address,
          hits,
          impact,
          'Are these to be lost?',
          `Yes: delete the line \`open\`. No, it is a rename: delete this file and draft again with --renamed ${address}=newName.`,
        ),
      ];
    case 'taxonomy-removed':
      return [{ says: { drop: address }, why: 'The taxonomy is gone from the model.' }];
    default:
      return [changeStep(address, group, impactOf)];
  }
}

function languageStep(group: readonly Difference[], after: ModelDoc, impactOf: ImpactOf): DraftedStep {
  const says = {
    change: 'languages',
    to: asJson({
      languages: after.languages,
      ...(after.languageOptions ? { languageOptions: after.languageOptions } : {}),
    }),
  };
  const what = `Languages: ${group.map((one) => sayDifference(one, 'to')).join('; ')}.`;
  const hurt = group.flatMap((one) => impactOf(one) ?? []).find(({ hits }) => hits > 0);
  if (!hurt) return { says, why: what };
  return {
    says,
    why: `${what} ${sentence(hurt.says)}`,
    open: {
      question: 'Are the values in languages that are gone to be lost, and who writes what is missing?',
      how: 'Delete the line `open` once that is decided. What a language lacks then is listed by the check.',
    },
  };
}

/** What is shared is said again as a whole where it differs: the types themselves are as they should be by now. */
function sharedStep(group: readonly Difference[], impactOf: ImpactOf): DraftedStep {
  const to = group.reduce<JsonObject>((all, one) => {
    if (one.name !== 'shared-changed') return all;
    const part = own(all, one.part);
    return withKey(all, one.part, withKey(isObject(part) ? part : {}, one.key, one.after ?? null));
  }, {});
  const says = { change: 'shared', to };
  const why = `What is kept once and used in many types: ${list(group.map((one) => `${addressOf(one)} (${sayDifference(one, 'to')})`))}.`;
  const hurt = group.flatMap((one) => impactOf(one) ?? []).find(({ hits }) => hits > 0);
  if (!hurt) return { says, why: `${why} No entry changes.` };
  return { says, why: `${why} ${sentence(hurt.says)}`, open: mendEntries };
}

function renameStep(
  { rename, sure, reasons, stated }: Extract<Difference, { name: 'renamed' }>,
  impact: Impact | undefined,
): DraftedStep {
  const address = addressOfRename(rename);
  const says = { rename: address, to: rename.to };
  const reach = impact ? ` ${sentence(impact.says)}` : '';
  if (stated) return { says, why: `A rename, as you said.${reach}` };
  return {
    says,
    why: `\`${rename.from}\` is gone and \`${rename.to}\` is new: ${percent(sure)} sure that this is one ${rename.what} with another name (${list(reasons)}).${reach}`,
    open: {
      question: 'Is this a rename?',
      how: `Yes: delete the line \`open\`. No: delete this file and draft again with --not-renamed ${address}.`,
    },
  };
}

function addStep(address: string, field: JsonObject, hits: number, impact: Impact | undefined): DraftedStep {
  const says = { add: address, field };
  if (!impact) return { says, why: 'New and optional: the entries that exist stay without it.' };
  const why = `New and required${field.required === 'published' ? ' once published' : ''}; ${impact.says}.`;
  if (hits === 0) return { says, why };
  return {
    says,
    why,
    open: {
      question: `What ${hits === 1 ? 'does the entry' : `do the ${count(hits, 'entry', 'entries')}`} without a value get?`,
      how: `Add \`value: …\` (the same for all) or \`cel: ${isInside(address) ? 'item' : 'entry'}.…\` (computed from each), then delete the line \`open\`.`,
    },
  };
}

function convertStep(
  address: string,
  { was, is }: Extract<Difference, { name: 'field-reshaped' }>,
  impact: Impact | undefined,
): DraftedStep {
  const says = { convert: address, field: is };
  const why = `${sayShape(was)} becomes ${sayShape(is)}${impact && impact.hits > 0 ? `; ${impact.says}` : ': every value can be carried over'}.`;
  if (!impact || impact.hits === 0) return { says, why };
  return {
    says,
    why,
    open: {
      question: 'What becomes of the values that cannot be carried over or do not fit?',
      how: `Add \`value: …\` or \`cel: ${celStart(address)}…\` for what they get, or let them be lost; then delete the line \`open\`.`,
    },
  };
}

function changeStep(address: string, group: readonly Difference[], impactOf: ImpactOf): DraftedStep {
  const to = group.reduce<JsonObject>(
    (all, one) => ('option' in one ? withKey(all, one.option, one.after ?? null) : all),
    {},
  );
  const says = { change: address, to };
  const hurt = group.flatMap((one) => impactOf(one) ?? []).filter(({ hits }) => hits > 0);
  const why = group.map((one) => sayDifference(one, 'to')).join('; ');
  if (hurt.length === 0) return { says, why: `${sentence(why)} No entry has to change.` };
  return {
    says,
    why: `${sentence(why)} ${hurt.map((one) => sentence(one.says)).join(' ')}`,
    open: address.includes('.') ? mendValues(address) : mendEntries,
  };
}

/** Whether an address is that of a field inside an object: `settings.hours.opens`. */
const isInside = (address: string): boolean => address.split('.').length > 2;

/** How an expression names the value of a field: `entry.height`, or `item.opens` inside an object. */
const celStart = (address: string): string => `${isInside(address) ? 'item' : 'entry'}.${keyOfField(address)}`;

const mendValues = (address: string): NonNullable<DraftedStep['open']> => ({
  question: 'How are the values mended that no longer fit?',
  how: `Add \`value: …\` or \`cel: ${celStart(address)}…\` for what they get, or leave them to their authors (the check will list them); then delete the line \`open\`.`,
});

const mendEntries: NonNullable<DraftedStep['open']> = {
  question: 'How are the entries mended that no longer fit?',
  how: 'Add steps `set` below for what can be computed, or leave them to their authors (the check will list them); then delete the line `open`.',
};

function removeStep(
  address: string,
  hits: number,
  impact: Impact | undefined,
  question: string,
  how: string,
): DraftedStep {
  const says = { drop: address };
  if (hits === 0) return { says, why: 'It is gone from the model, and no entry has it.' };
  return { says, why: `It is gone from the model; ${impact?.says}.`, open: { question, how } };
}

/** Adds a step for each taxonomy whose terms would still stand elsewhere than they should. */
function withArrangements(drafted: readonly DraftedStep[], renamed: ModelDoc, after: ModelDoc): readonly DraftedStep[] {
  const reached = drafted.reduce((model, { says }) => applied(says, model), renamed);
  const arrangements = Object.entries(after.taxonomies).flatMap(([name, { tree }]): readonly DraftedStep[] => {
    const isThere = equal(own(reached.taxonomies, name)?.tree, tree);
    return isThere
      ? []
      : [
          {
            says: { arrange: `${name}:`, tree: writeTree(tree) },
            why: 'Terms stand in another order or under other terms; no entry changes.',
          },
        ];
  });
  return [...drafted, ...arrangements];
}

function applied(says: JsonObject, model: ModelDoc): ModelDoc {
  if (Object.hasOwn(says, 'rename')) return model; // `model` starts after the renames
  const kind = Object.keys(says).flatMap((key) => steps.get(key) ?? [])[0];
  return kind ? kind.model(says, model) : model;
}

/** A taxonomy as its file says it: terms nested under each other. */
function fileForm({ terms, tree, ...options }: TaxonomyDoc): JsonObject {
  const nest = (branches: readonly Branch[]): Json =>
    branches.map(({ term, also, terms: below }) =>
      also
        ? { also: term }
        : { term, ...asJson(own(terms, term) ?? {}), ...(below && below.length > 0 ? { terms: nest(below) } : {}) },
    );
  return { ...asJson(options), terms: nest(tree) };
}

const percent = (sure: number): string => `${Math.round(sure * 100)} %`;
const sentence = (text: string): string =>
  `${text.charAt(0).toUpperCase()}${text.slice(1)}${/[.!?]$/u.test(text) ? '' : '.'}`;

/* ── as a file ───────────────────────────────────────────────────────────────────────────────────────────────── */

export interface DraftHead {
  readonly number: number;
  readonly about: string;
  readonly from: string;
  readonly to: string;
  /** How the two models are called by people: `revision 1`, `the working files`. */
  readonly fromName: string;
  readonly toName: string;
}

/** The text of a drafted migration: readable, with a comment on each step and the open questions marked. */
export function migrationText(
  { number, about, from, to, fromName, toName }: DraftHead,
  drafted: readonly DraftedStep[],
): string {
  const open = drafted.filter((step) => step.open !== undefined).length;
  const head = [
    writeComment(`From ${fromName} to ${toName}. Read each step; change what is not meant.`),
    open > 0
      ? writeComment(
          `${count(open, 'open question')}: each stands in a line \`open:\`. Answer it and delete the line; the migration does not run before.`,
        )
      : '',
    writeYaml({ migration: number, about, from, to }),
    drafted.length > 0 ? 'steps:\n' : 'steps: []\n',
  ];
  return head.join('') + drafted.map(stepText).join('\n');
}

function stepText({ says, why, open }: DraftedStep): string {
  const lines = writeYaml({ ...says, ...(open ? { open: open.question } : {}) })
    .trimEnd()
    .split('\n');
  const step = lines.map((line, index) => `${index === 0 ? '  - ' : '    '}${line}\n`).join('');
  const comment = writeComment(why) + (open ? writeComment(open.how) : '');
  return comment.replace(/^(?=#)/gmu, '  ') + step;
}

/** A name for a migration's file, from its first steps: `rename-height-and-2-more`. */
export function nameOf(drafted: readonly DraftedStep[]): string {
  const [first] = drafted;
  if (!first) return 'nothing';
  const [verb = 'change', address] = Object.entries(first.says)[0] ?? [];
  const last = String(address).split(/[.:/]/u).filter(Boolean).at(-1) ?? '';
  const slug = humanize(last).toLowerCase().replaceAll(' ', '-');
  return `${verb}-${slug}${drafted.length > 1 ? `-and-${drafted.length - 1}-more` : ''}`;
}
