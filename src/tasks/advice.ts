import { z } from 'zod';
import { advice as shelf } from '../core/advice/index.ts';
import { Stumbles } from '../core/advice/stumbles.ts';
import type { Facts } from '../core/check/facts.ts';
import { TermUsage } from '../core/check/termUsage.ts';
import type { Entry } from '../core/entry/entry.ts';
import type { Finding } from '../core/entry/findings.ts';
import { mapOf } from '../core/map/modelMap.ts';
import type { Model } from '../core/model/link.ts';
import { summarizeType } from '../core/profile/summary.ts';
import { factsPass } from '../passes/facts.ts';
import { type Profiled, profilePass } from '../passes/profile.ts';
import { walk } from '../passes/walk.ts';
import { openStore } from '../stores/open.ts';
import type { Workspace } from '../workspace/open.ts';
import { Trouble } from '../workspace/trouble.ts';
import type { Call } from './call.ts';
import { reading } from './openForCall.ts';
import { head, resultVersion } from './result.ts';

const Advised = z.strictObject({
  advice: z.string(),
  /** The address that it is about. */
  at: z.string(),
  says: z.string(),
  why: z.string(),
  mend: z.string(),
  /** A command that shows more of it. */
  command: z.string().optional(),
});

/** The result of `lumbrik advice`. */
export const AdviceResult = z.strictObject({
  ...head('advice'),
  /** How much was looked at. */
  types: z.int(),
  fields: z.int(),
  entries: z.int(),
  /** How many things are where an entry should and cannot be read as one. */
  unreadable: z.int(),
  advice: z.array(Advised),
  /** Advice declined in lumbrik.yaml; without `says` where it would not be given any more. */
  declined: z.array(
    z.strictObject({ advice: z.string(), at: z.string(), because: z.string(), says: z.string().optional() }),
  ),
});
export type AdviceResult = z.output<typeof AdviceResult>;

/** So many different values of a field are looked at. */
const mostValues = 20;

/** Reviews the model by its definitions and their use. Advice is never a rule. */
export async function advice(call: Call): Promise<AdviceResult> {
  const workspace = await reading(call);
  const { model } = workspace;
  refuseUnknownAdvice(workspace);
  const counts = new AdviceCounts(model);
  const counting = await factsPass(model, counts.see);
  const profiling = profilePass(model, [...model.types.keys()]);
  const [profiled] = await walk(openStore(workspace), [profiling, counting] as const, call);
  return adviceTold(workspace, profiled, counts);
}

/** What advice asks of entries beside how their fields are used. */
export class AdviceCounts {
  readonly usage: TermUsage;
  readonly stumbles = new Stumbles();

  constructor(model: Model) {
    this.usage = new TermUsage(model);
  }

  readonly see = (facts: Facts, entry: Entry, findings: readonly Finding[]): void => {
    this.usage.add(facts);
    this.stumbles.see(entry, findings);
  };
}

/** @throws {Trouble} where the workspace declines advice that there is not. */
export function refuseUnknownAdvice(workspace: Workspace): void {
  const declined = workspace.advice.declined ?? [];
  const unknown = declined.find((item) => !shelf.some(({ name }) => name === item.advice));
  if (unknown)
    throw new Trouble(
      'unusable-workspace',
      `lumbrik.yaml declines the advice \`${unknown.advice}\`, and there is none`,
      {
        mend: `All of it: ${shelf.map(({ name }) => name).join(', ')}.`,
        where: { file: 'lumbrik.yaml' },
      },
    );
}

/** The advice on a model whose entries were counted. */
export function adviceTold(
  workspace: Workspace,
  { types, unreadable }: Profiled,
  { usage, stumbles }: AdviceCounts,
): AdviceResult {
  const { model } = workspace;
  const declined = workspace.advice.declined ?? [];
  const profiles = new Map(
    [...types].map(([name, counted]) => [name, summarizeType(model, name, counted, { most: mostValues })]),
  );
  const terms = new Map(
    [...model.taxonomies.values()].flatMap((taxonomy) =>
      [...taxonomy.terms.keys()].map((term) => [`${taxonomy.name}:${term}`, usage.alone(taxonomy.name, term)] as const),
    ),
  );
  const reviewed = { model, profiles, map: mapOf(model), terms, stumbles };
  const advice = shelf.flatMap(({ name, why: reason, find }) =>
    [...find(reviewed)].map((advised) => ({ advice: name, ...advised, why: reason })),
  );
  const isDeclined = (item: { readonly advice: string; readonly at: string }): boolean =>
    declined.some((other) => other.advice === item.advice && other.at === item.at);

  return {
    lumbrik: resultVersion,
    command: 'advice',
    types: model.types.size,
    fields: [...model.types.values()].reduce((sum, { fields }) => sum + fields.size, 0),
    entries: [...profiles.values()].reduce((sum, { entries }) => sum + entries, 0),
    unreadable,
    advice: advice.filter((item) => !isDeclined(item)),
    declined: declined.map((item) => {
      const given = advice.find((other) => other.advice === item.advice && other.at === item.at);
      return { ...item, ...(given ? { says: given.says } : {}) };
    }),
  };
}
