import { z } from 'zod';
import { parseAddress } from '../core/definition/address.ts';
import { compare } from '../core/diff/compare.ts';
import type { Difference } from '../core/diff/difference.ts';
import { changeOf, type FieldMove, type MapChange, unchanged } from '../core/map/mapChange.ts';
import { around, boxId, mapOf } from '../core/map/modelMap.ts';
import { link, type Model } from '../core/model/link.ts';
import { fieldsOf } from '../core/model/ownFields.ts';
import { targetsIn, termsIn } from '../core/model/uses.ts';
import { compact } from '../core/plain/json.ts';
import { didYouMean } from '../core/plain/nearest.ts';
import { thereAre } from '../core/plain/words.ts';
import { eachEntry, type Pass } from '../passes/pass.ts';
import { walk } from '../passes/walk.ts';
import { openStore } from '../stores/open.ts';
import type { Workspace } from '../workspace/open.ts';
import { Trouble } from '../workspace/trouble.ts';
import type { Call } from './call.ts';
import { knownRenames } from './knownRenames.ts';
import { findModel, type NamedModel } from './models.ts';
import { readIn, reading } from './openForCall.ts';
import { readRenameOptions } from './renameOptions.ts';
import { head, resultVersion } from './result.ts';

const marked = {
  /** What became of it since the model that it is compared with. */
  mark: z.enum(['added', 'removed', 'changed', 'renamed', 'moved']).optional(),
  /** Its name before; of moved parts, where it was. */
  was: z.string().optional(),
  /** Where it is now, of moved parts. */
  now: z.string().optional(),
};

/** The result of `lumbrik map`. */
export const MapResult = z.strictObject({
  ...head('map'),
  workspace: z.string(),
  /** The model that it is compared with, where it is. */
  since: z.strictObject({ said: z.string(), name: z.string() }).optional(),
  /** What the map shows the surroundings of; all of the model where it is not given. */
  around: z.array(z.string()),
  /** How many things are where an entry should and cannot be read as one: what they use is not counted. */
  unreadable: z.int(),
  boxes: z.array(
    z.strictObject({
      what: z.enum(['type', 'kit', 'taxonomy']),
      name: z.string(),
      label: z.string(),
      groups: z.array(
        z.strictObject({
          group: z.string().optional(),
          fields: z.array(
            z.strictObject({
              name: z.string(),
              label: z.string(),
              kind: z.string(),
              many: z.boolean(),
              required: z.boolean(),
              ...marked,
            }),
          ),
        }),
      ),
      /** How many terms a taxonomy has, and how many entries a type. */
      terms: z.int().optional(),
      entries: z.int().optional(),
      ...marked,
    }),
  ),
  arrows: z.array(
    z.strictObject({
      what: z.enum(['reference', 'term', 'kit', 'extends']),
      from: z.string(),
      to: z.string(),
      field: z.string().optional(),
      /** What a reference is called as seen from its target. */
      inverse: z.string().optional(),
      toMany: z.boolean().optional(),
      fromMany: z.boolean().optional(),
      /** How often entries use it. */
      uses: z.int().optional(),
      ...marked,
    }),
  ),
});
export type MapResult = z.output<typeof MapResult>;

/** The options of a map. */
export interface MapCall {
  /** Types, kits and taxonomies whose surroundings are shown; everything where none is named. */
  readonly around: readonly string[];
  /** How many arrows far the surroundings go. */
  readonly depth: number;
  /** A model that it is compared with: a revision, a commit, another folder. */
  readonly since?: string | undefined;
  readonly language?: string | undefined;
}

/** The model as boxes and arrows, with how much each is used. */
export async function map(call: Call, { around: names, depth, since, language }: MapCall): Promise<MapResult> {
  const workspace = await reading(call);
  const model = readIn(workspace, language);
  const before = since === undefined ? undefined : findModel(workspace, since);
  const change = before ? changeSince(workspace, before, model) : unchanged(mapOf(model));
  const part =
    names.length === 0
      ? change
      : around(
          change,
          names.flatMap((name) => boxesNamed(name, change)),
          depth,
        );
  const [usage] = await walk(openStore(workspace), [usagePass(model)], call);

  return {
    ...mapTold(workspace.name, part, usage),
    ...(before && since !== undefined ? { since: { said: since, name: before.name } } : {}),
    around: [...names],
  };
}

/** A map with how much of it is used. */
export function mapTold(workspace: string, part: MapChange, { entries, uses, unreadable }: Usage): MapResult {
  return {
    lumbrik: resultVersion,
    command: 'map',
    workspace,
    around: [],
    unreadable,
    boxes: part.boxes.map(({ groups, definition: _, ...box }) => ({
      ...box,
      groups: groups.map(({ fields, ...group }) => ({
        ...group,
        fields: fields.map(({ definition: _, ...field }) => field),
      })),
      ...(box.what === 'type' ? { entries: entries.get(box.name) ?? 0 } : {}),
    })),
    arrows: part.arrows.map(({ addresses, ...arrow }) =>
      compact({
        ...arrow,
        uses: addresses?.reduce((sum, address) => sum + (uses.get(`${address} ${arrow.to}`) ?? 0), 0),
      }),
    ),
  };
}

/** The map with the changes of its parts since an older model, which takes on the names of the newer one. */
function changeSince({ root }: Workspace, { definition }: NamedModel, model: Model): MapChange {
  const stated = readRenameOptions(knownRenames(root, [definition, model.definition]));
  const { renamed, renames, differences } = compare(definition, model.definition, stated);
  const older = link(renamed, model.contentTerms, model.readingOrder);
  return changeOf(mapOf(older), mapOf(model), {
    renames: renames.map(({ rename }) => rename),
    moves: differences.flatMap(fieldMove),
  });
}

/** A difference that says that a field is elsewhere. */
function fieldMove(difference: Difference): FieldMove[] {
  if (difference.name === 'moved') {
    const { type, from, to } = difference.move;
    return [{ type, from, toType: type, to }];
  }
  if (difference.name !== 'field-moved-along') return [];

  const { type, field, toType, toField } = difference;
  return [{ type, from: field, toType, to: toField }];
}

/** @throws {Trouble} where nothing has that name. */
function boxesNamed(name: string, { boxes }: MapChange): readonly string[] {
  const address = parseAddress(name);
  const bare = address?.what === 'taxonomy' ? address.taxonomy : name;
  const markedBoxes = boxes.filter(
    (box) => box.name === bare && (address?.what !== 'taxonomy' || box.what === 'taxonomy'),
  );
  if (markedBoxes.length > 0) return markedBoxes.map(boxId);

  const names = boxes.map((box) => box.name);
  throw new Trouble('not-found', `there is no type, kit or taxonomy \`${name}\``, {
    mend: didYouMean(bare, names) ?? thereAre(names, 12) ?? 'Define a type in model/types/.',
  });
}

interface Usage {
  /** How many entries there are of each type. */
  readonly entries: ReadonlyMap<string, number>;
  /** How often each field points at each box. */
  readonly uses: ReadonlyMap<string, number>;
  readonly unreadable: number;
}

/** Counts how many entries there are of each type, and how often each field points at each box. */
export function usagePass(model: Model): Pass<Usage> {
  const entries = new Map<string, number>();
  const uses = new Map<string, number>();
  let unreadable = 0;
  const use = (key: string): void => void uses.set(key, (uses.get(key) ?? 0) + 1);

  return eachEntry({
    see: ({ entry }) => {
      const type = model.types.get(entry.type);
      if (!type) return;

      entries.set(type.name, (entries.get(type.name) ?? 0) + 1);
      const fields = fieldsOf(entry, type);
      for (const { field, taxonomy } of termsIn(type, fields))
        use(`${type.name}.${field.name} ${boxId({ what: 'taxonomy', name: taxonomy })}`);
      for (const { field, type: target } of targetsIn(type, fields, model))
        use(`${type.name}.${field.name} ${boxId({ what: 'type', name: target })}`);
    },
    unreadable: () => {
      unreadable += 1;
    },
    finish: () => ({ entries, uses, unreadable }),
  });
}
