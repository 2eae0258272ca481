import { link, type Model } from '../core/model/link.ts';
import type { EntryStore } from '../stores/store.ts';
import { timestamp } from '../workspace/clock.ts';
import type { CheckContext, Checked } from './checked.ts';
import { checkerFor } from './checker.ts';
import { CheckPart, type PartChecked, type PartFacts, shiftedFacts, shiftedPart } from './checkPart.ts';
import type { Circumstances } from './circumstances.ts';
import { findingOfFile } from './fileFinding.ts';
import { JoinedParts } from './joinedParts.ts';
import type { LocatedFinding } from './locatedFinding.ts';
import { type BeginPart, type Pass, request, type Work } from './pass.ts';

/** So many findings make a report while a check lasts: fewer come in the order of all at the end. */
const toldAtOnce = 256;

/** A check that can give its findings when it is stopped. */
export interface CheckPass extends Pass<Checked, PartChecked, PartFacts> {
  /** The findings in the entries so far, each alone, without checks across entries. */
  readonly untilNow: () => Pick<Checked, 'findings' | 'looked'>;
}

/** What checking needs: plain data. */
interface CheckData extends Pick<Model, 'definition' | 'contentTerms'>, Circumstances {}

/** Checking each entry alone, for any worker. */
export const checkWork: Work<CheckData, PartChecked, PartFacts> = {
  name: 'check',
  prepare: ({ definition, contentTerms, ...circumstances }, store) =>
    begin(link(definition, contentTerms), circumstances, store),
};

/**
 * Checks every entry of a store against a model: each alone while it is read, then together. Places are worked out for
 * entries with findings only.
 */
export function checkPass(store: EntryStore, model: Model, context: CheckContext = {}): CheckPass {
  const { definition, contentTerms } = model;
  const circumstances = { currentTime: timestamp(), assets: context.assets };
  const joined = new JoinedParts(store, model, { ...context, ...circumstances });

  return {
    prepare: () => begin(model, circumstances, store),
    elsewhere: request(checkWork, { definition, contentTerms, ...circumstances }),
    memory: context.memory,
    moved: shiftedPart,
    movedRest: shiftedFacts,
    take: async ({ result, rest, key }) => {
      await joined.take(result, rest, key);
      await joined.tell(toldAtOnce);
    },
    soFar: () => joined.soFar(),
    untilNow: () => joined.untilNow(),
    finish: () => joined.finish(),
  };
}

async function begin(
  model: Model,
  circumstances: Circumstances,
  store: EntryStore,
): Promise<BeginPart<PartChecked, PartFacts>> {
  const checker = await checkerFor(model, circumstances);
  return () => new CheckPart(store, model, checker);
}

/** A file in the content folder that no store reads. */
export const unreadFinding = (file: string): LocatedFinding => findingOfFile(file, 'unread-file', {});
