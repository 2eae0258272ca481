import { valuesLookedUp } from '../check/lookedUpValues.ts';
import { type Entry, isEmpty, keyOf } from '../entry/entry.ts';
import { countedValue } from '../model/emptiness.ts';
import type { Field } from '../model/link.ts';
import { fieldsOf } from '../model/ownFields.ts';
import { compact, equal, isList, isObject, type Json, type JsonObject, ownValue } from '../plain/json.ts';
import { type Look, lookInto } from '../rules/lookUp.ts';
import type { EntryDraft } from './entryDraft.ts';
import { inverseSteps } from './inverse.ts';
import {
  allShown,
  type Migrated,
  migrateEntry,
  type Plan,
  planMigration,
  showEntry,
  stagesThatSeeAll,
} from './plan.ts';
import type { MigrationStep } from './read.ts';
import type { KnownPlaces } from './step.ts';

/** A value that is another one once an entry was taken there and back. */
interface Unlike {
  readonly field: string;
  readonly before?: Json;
  readonly back?: Json;
}

/** What an entry is once it was taken there and back. */
export interface TakenBack {
  /** Fields that differ although no step said that it could not carry them. */
  readonly wrong: readonly Unlike[];
  /** Fields of which a step said that they cannot be carried, or that it gives them a value. */
  readonly named: readonly string[];
  /** Fields that were converted, and are written otherwise on the way back: `007` as `7`. */
  readonly otherwise: readonly string[];
}

/**
 * The way back of a migration, over all entries: first each is shown as it becomes, then the steps that have to know all
 * are shown them, then each is undone.
 */
export class RoundTrip {
  readonly #steps: readonly MigrationStep[];
  readonly #plan: Plan;
  readonly #sent = new Map<string, string[]>();
  readonly #values = new Map<string, JsonObject>();
  readonly #wanted: Plan['looksUp'];
  #back: Plan | undefined;
  #look: Look | undefined;

  /** @param plan the steps as they were planned: the way there. */
  constructor(steps: readonly MigrationStep[], plan: Plan) {
    this.#steps = steps;
    this.#plan = plan;
    this.#wanted = this.#planned({ sent: () => [] }).looksUp;
  }

  #planned(knownPlaces: KnownPlaces): Plan {
    const { before, after } = this.#plan;
    const planned = planMigration(
      inverseSteps(this.#steps, before.definition, knownPlaces),
      after.definition,
      before.definition,
    );
    if ('value' in planned) return planned.value;
    throw new Error(`the inverse does not fit: ${JSON.stringify(planned.problem)}`);
  }

  /** Shows the outcome for an entry. */
  see({ draft, effects, newEntries }: Migrated): void {
    for (const { step, becomes } of effects) {
      const { kind, data } = this.#steps[step - 1] ?? {};
      if (becomes === undefined || kind?.verb !== 'send') continue;
      const way = `${String(data?.send)} ${String(data?.to)}`;
      const sent = this.#sent.get(way) ?? [];
      sent.push(draft.id);
      this.#sent.set(way, sent);
    }

    for (const entry of afterwards({ draft, newEntries })) {
      const [type, fields] = [this.#plan.after.types.get(entry.type), this.#wanted.get(entry.type)];
      if (type && fields) this.#values.set(keyOf(entry), valuesLookedUp(entry, type, fields));
    }
  }

  /** All were shown. @returns the rounds to show once more: each number stands for one round of all entries. */
  seen(): readonly number[] {
    this.#back = this.#planned({ sent: (from, to) => this.#sent.get(`${from} ${to}`) ?? [] });
    this.#look = lookInto(this.#values, this.#plan.after.context.acceptedAs);
    return stagesThatSeeAll(this.#back);
  }

  /** Shows the outcome for an entry, in a round. */
  show(round: number, migrated: Migrated): void {
    for (const entry of afterwards(migrated)) showEntry(this.plan, round, entry, this.#look);
  }

  shown(round: number): void {
    allShown(this.plan, round);
  }

  /** The steps back, planned. */
  get plan(): Plan {
    if (!this.#back) throw new Error('the entries were not shown yet');
    return this.#back;
  }

  /** Takes an entry back, and compares. */
  takeBack(entry: Entry, { draft, newEntries: _ }: Migrated): TakenBack {
    const type = this.#plan.before.types.get(entry.type);
    const oldFields = fieldsOf(entry, type);
    const [after] = afterwards({ draft, newEntries: [] });
    const back = after ? migrateEntry(this.plan, after, this.#look).draft : undefined;
    const wrong: Unlike[] = [];
    const named: string[] = [];
    const otherwise: string[] = [];
    for (const field of new Set([...Object.keys(oldFields), ...Object.keys(back?.fields ?? {})])) {
      const counted = (value: Json | undefined) =>
        countedValue(type?.fields.get(field) ?? { common: {} }, withoutEmpty(value));
      const [before, returned] = [counted(ownValue(oldFields, field)), counted(back && ownValue(back.fields, field))];
      if (equal(before, returned)) continue;

      const way = this.#wayOf(entry.type, field);
      if (this.#isNamed(way, draft, before)) named.push(field);
      else if (isRewritten(way, type?.fields.get(field))) otherwise.push(field);
      else wrong.push(compact({ field, before, back: returned }));
    }

    if (back && keyOf(back) !== keyOf(entry)) wrong.push({ field: 'type', before: entry.type, back: back.type });

    return { wrong, named, otherwise };
  }

  #isNamed(way: Way, { losses }: EntryDraft, before: Json | undefined): boolean {
    const isLost = losses.some(({ path: [key] }) => way.names.has(String(key)));
    return isLost || (before === undefined && way.isGiven);
  }

  /** The names that a field has on the way, and the operations on it. */
  #wayOf(type: string, field: string): Way {
    const types = new Set([type]);
    const names = new Set([field]);
    const verbs = new Set<string>();
    let isGiven = false;
    let isRead = false;
    for (const { kind, address, data } of this.#steps) {
      const [owner = '', name = ''] = address.split('.');
      const newName = kind.leadsTo?.(data);
      const otherNames = [Object.keys(Object(data.into)), [data.and].flat().map(String)].flat();
      if (kind.verb === 'send' && types.has(address)) {
        types.add(String(data.to));
        for (const [oldName, after] of Object.entries(Object(data.as)))
          if (names.has(oldName)) names.add(String(after));
      } else if (name === '') {
        if (types.has(address) && newName !== undefined) types.add(newName);
      } else if (types.has(owner) && (names.has(name) || otherNames.some((other) => names.has(other)))) {
        verbs.add(kind.verb);
        isRead ||= data.written !== undefined;
        isGiven ||= data.value !== undefined || data.cel !== undefined;
        if (newName !== undefined) names.add(newName.split('.')[1] ?? '');
        for (const other of otherNames) names.add(other);
        names.add(name);
      }
    }

    return { names, verbs, isGiven, isRead };
  }
}

/** Whether a value was converted on its way, or written otherwise by options that say so: it may come back in other words. */
const isRewritten = ({ verbs, isRead }: Way, field: Field | undefined): boolean =>
  isRead || verbs.has('convert') || verbs.has('pull') || (verbs.has('change') && mayBeRewritten(field));

const mayBeRewritten = (field: Field | undefined): boolean =>
  field !== undefined && (field.kind.rewritten !== undefined || [...field.fields.values()].some(mayBeRewritten));

/** A value without what counts as none inside it. */
function withoutEmpty(value: Json | undefined): Json | undefined {
  if (isList(value)) return value.map((item) => withoutEmpty(item) ?? null);
  if (!isObject(value)) return value;

  const counted = Object.entries(value).flatMap(([key, value]) => {
    const inner = withoutEmpty(value);
    if (isEmpty(inner)) return [];
    return [[key, inner] as const];
  });

  return Object.fromEntries(counted) as JsonObject;
}

interface Way {
  readonly names: ReadonlySet<string>;
  readonly verbs: ReadonlySet<string>;
  /** Whether a step gives it a value where it had none. */
  readonly isGiven: boolean;
  /** Whether a step reads it as people write. */
  readonly isRead: boolean;
}

/** The entries that one becomes, as they would be read. */
function afterwards({ draft, newEntries }: Pick<Migrated, 'draft' | 'newEntries'>): readonly Entry[] {
  return [draft, ...newEntries].filter(({ isDeleted }) => !isDeleted).map((draft) => draft.entry());
}
