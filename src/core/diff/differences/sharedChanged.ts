import { isUnique } from '../../check/uniqueness.ts';
import type { Shared } from '../../definition/shared.ts';
import type { Model } from '../../model/link.ts';
import { fieldsWithin } from '../../model/nestedFields.ts';
import { basesOf } from '../../model/provenance.ts';
import { compact, equal, isObject, type Json, type JsonObject, ownValue, withKey } from '../../plain/json.ts';
import { list } from '../../plain/words.ts';
import { contextCounter, isReference } from '../contextCounter.ts';
import { type Counter, share } from '../counter.ts';
import { crossEntryCounter } from '../crossEntryCounter.ts';
import { askForSteps, type DraftedStep, sentence } from '../draftedStep.ts';
import { sayOption } from '../optionText.ts';
import { type ComparedModels, type DraftContext, defineDifference } from './define.ts';

/** Something that is kept once and used in many types, or what a type uses; a side is absent where it is not there. */
export interface SharedChanged {
  readonly name: 'shared-changed';
  readonly part: keyof Shared;
  readonly key: string;
  readonly before?: Json;
  readonly after?: Json;
}

export const sharedChanged = defineDifference<SharedChanged>({
  name: 'shared-changed',
  address: ({ key }) => key,
  say,
  rate: (difference, { after }) => {
    if (leavesBase(difference)) return { entries: 'migrate', readers: 'break' };
    return { entries: joinsOthers(difference, after) ? 'migrate' : 'valid', readers: 'unaffected' };
  },
  count: (difference, { between, after }) => {
    if (leavesBase(difference)) return contextCounter(between, after, isReference);
    if (!joinsOthers(difference, after)) return undefined;
    return togetherCounter({ between, after });
  },
  // That a kit changed goes without saying where the change of its field is shown.
  hide: ({ part, key, before, after }, addresses) =>
    part !== 'types' && before !== undefined && after !== undefined && addresses.has(key),
  details: ({ before, after }) => compact({ before, after }),
  draft: { key: () => 'shared', step },
});

/** Whether a type no longer is where the type is accepted that it used to extend. */
const leavesBase = ({ part, before, after }: SharedChanged): boolean =>
  part === 'types' &&
  isObject(before) &&
  before.extends !== undefined &&
  (!isObject(after) || after.extends !== before.extends);

/** Whether the entries of a type join those of another, among which something goes for all of them together. */
function joinsOthers({ part, key, before, after }: SharedChanged, model: Model): boolean {
  if (part !== 'types' || !isObject(after) || after.extends === undefined) return false;
  if (isObject(before) && before.extends === after.extends) return false;

  const bases = new Set(basesOf(model.definition.shared, key));

  return [...model.types.values()].some(({ name, fields }) =>
    fieldsWithin(fields).some((field) => {
      const { types, inverseMin = 0, inverseMax } = field.kind.pointsAt(field.options);
      const isBounded = inverseMin > 0 || inverseMax !== undefined;
      if (bases.has(name)) return isUnique(field) || isBounded;
      return isBounded && types.some((type) => bases.has(type));
    }),
  );
}

/** Counts what only shows among entries of several types. */
const togetherCounter = (models: ComparedModels): Counter =>
  crossEntryCounter(
    models,
    ({ finding }) => ['not-unique', 'too-many-pointing', 'too-few-pointing'].includes(finding),
    (hits, total, example) =>
      `${share(hits, total, ['breaks', 'break'])} what goes for them together, for example ${example}`,
  );

const words = { kinds: 'kind', fields: 'shared field', kits: 'kit' } as const;

/** `new kit`, `takes: extends none → place, kits + sharing`. */
function say({ part, before, after }: SharedChanged): string {
  if (part !== 'types') {
    if (before === undefined) return `new ${words[part]}`;
    if (after === undefined) return `${words[part]} removed`;
    return `${words[part]} changed`;
  }

  const oldDefinition = isObject(before) ? before : {};
  const newDefinition = isObject(after) ? after : {};

  return ['extends', 'kits', 'origins']
    .flatMap((key) => {
      if (equal(oldDefinition[key], newDefinition[key])) return [];
      if (key === 'origins') return ['other shared definitions in use'];
      return [sayOption({ option: key, before: oldDefinition[key] ?? null, after: newDefinition[key] ?? null }, '→')];
    })
    .join(', ');
}

/** Restates shared parts as a whole if they differ: the types are right already. */
function step(group: readonly SharedChanged[], { impactOf, say: inWords }: DraftContext): DraftedStep {
  const to = group.reduce<JsonObject>((result, { part, key, after }) => {
    const shelf = ownValue(result, part);
    return withKey(result, part, withKey(isObject(shelf) ? shelf : {}, key, after ?? null));
  }, {});
  const data = { change: 'shared', to };
  const changes = list(group.map((change) => `${change.key} (${inWords(change)})`));
  const reason = `What is kept once and used in many types: ${changes}.`;

  const hurt = group.flatMap((change) => impactOf(change) ?? []).find(({ hits }) => hits > 0);

  if (hurt) return { data, why: `${reason} ${sentence(hurt.says)}`, open: askForSteps };
  return { data, why: `${reason} No entry changes.` };
}
