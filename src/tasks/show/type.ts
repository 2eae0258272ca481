import type { z } from 'zod';
import { keyOfField } from '../../core/definition/fieldName.ts';
import { previewOptions } from '../../core/definition/preview.ts';
import { wordsIn } from '../../core/definition/wording.ts';
import type { Entry } from '../../core/entry/entry.ts';
import { countedValue } from '../../core/model/emptiness.ts';
import type { Field, Model, Type } from '../../core/model/link.ts';
import { fieldsWithin, holdersOf } from '../../core/model/nestedFields.ts';
import { fieldsOf } from '../../core/model/ownFields.ts';
import { namesIn, provenanceOf } from '../../core/model/provenance.ts';
import { compact, ownValue } from '../../core/plain/json.ts';
import { didYouMean } from '../../core/plain/nearest.ts';
import { onceFor } from '../../core/plain/once.ts';
import { rangeOf, thereAre } from '../../core/plain/words.ts';
import { entriesPass } from '../../passes/facts.ts';
import { walk } from '../../passes/walk.ts';
import type { EntryStore } from '../../stores/store.ts';
import type { Workspace } from '../../workspace/open.ts';
import { Trouble } from '../../workspace/trouble.ts';
import { command, type FieldShown, type ShowResult, type TypeShown } from './result.ts';

/** The type with a name. @throws Trouble if there is none. */
export function typeNamed({ model }: Workspace, name: string): Type {
  const type = model.types.get(name);
  if (type) return type;
  const names = namesIn(model.definition);
  throw new Trouble('not-found', `there is no type and no taxonomy \`${name}\``, {
    mend: didYouMean(name, names) ?? thereAre(names) ?? 'Define one in model/types/.',
  });
}

export const showType = async ({ model }: Workspace, store: EntryStore, type: Type): Promise<ShowResult> =>
  typeShown(model, type, await countEntries(store, (entry) => entry.type === type.name));

/** A type with all that is stated of it. @param entries how many there are. */
export function typeShown(model: Model, type: Type, entries: number): TypeShown {
  const { definition } = type;
  const { shared } = model.definition;
  const { readingOrder } = model;
  const uses = ownValue(shared?.types ?? {}, type.name);

  return {
    ...command,
    what: 'type',
    name: type.name,
    label: type.label,
    about: wordsIn(definition.about, readingOrder),
    guide: wordsIn(definition.guide, readingOrder),
    titled: definition.titled,
    single: definition.single === true,
    extends: uses?.extends,
    extendedBy: Object.entries(shared?.types ?? {}).flatMap(([name, uses]) =>
      uses.extends === type.name ? [name] : [],
    ),
    kits: [...(uses?.kits ?? [])],
    ...compact({ byline: definition.byline, builtIn: definition.builtIn, versions: definition.versions }),
    previews: Object.entries(definition.previews ?? {}).map(([name, preview]) => ({
      name,
      ...previewOptions(preview),
    })),
    groups: [...(definition.groups ?? [])],
    entries,
    fields: [...type.fields.values()].map((field) => fieldShown(field, model)),
    rules: (definition.rules ?? []).map((rule) => ({ ...rule, say: wordsIn(rule.say, readingOrder) })),
    inverses: [...(pointingAt(model).get(type.name)?.values() ?? [])].map((field) => {
      const { inverse: name } = field.kind.pointsAt(field.options);
      return compact({ field: field.address, name });
    }),
  };
}

/** For each type the fields that may point at its entries, by their addresses. */
const pointingAt = onceFor(({ types, context }: Model): ReadonlyMap<string, ReadonlyMap<string, Field>> => {
  const pointing = new Map<string, Map<string, Field>>();
  for (const field of [...types.values()].flatMap(({ fields }) => fieldsWithin(fields)))
    for (const name of field.kind.pointsAt(field.options).types.flatMap((target) => context.acceptedAs(target)))
      pointing.set(name, (pointing.get(name) ?? new Map<string, Field>()).set(field.address, field));
  return pointing;
});

async function countEntries(store: EntryStore, counts: (entry: Entry) => boolean): Promise<number> {
  let number = 0;
  const pass = entriesPass((entry) => {
    if (counts(entry)) number += 1;
  });
  await walk(store, [pass]);
  return number;
}

/** A field for the result of `show`. */
export function fieldShown(
  { name, label, kind, options, common, type }: Field,
  { definition, readingOrder }: Model,
): z.output<typeof FieldShown> {
  const { required } = common;
  return compact({
    name,
    label,
    kind: kind.name,
    many: common.many !== undefined,
    ...(required === undefined ? {} : { required: required === true ? ('always' as const) : required }),
    unique: common.unique === true || kind.unique,
    group: common.group,
    help: common.help === undefined ? undefined : wordsIn(common.help, readingOrder),
    example: common.example,
    from: provenanceOf(definition, type, name).map(({ what: category, name: partName }) => ({
      what: category,
      name: partName,
    })),
    default: common.default,
    computed: common.computed,
    gist: [
      computedGist(common.computed),
      kind.gist(options),
      itemsGist(common.many),
      common.localized ? 'in each language' : '',
      common.mayBeEmpty ? 'may be empty' : '',
      common.when === undefined ? '' : `only where ${common.when}`,
    ]
      .filter(Boolean)
      .join(', '),
    options: { ...options, ...(common.many ? { many: common.many } : {}) },
  });
}

/** `computed: entry.a + entry.b`, `counts item.shelf` */
function computedGist(computed: Field['common']['computed']): string {
  if (!computed) return '';
  if ('cel' in computed) return `computed: ${computed.cel}`;
  return `counts ${computed.count}`;
}

/** `1–8 items` */
function itemsGist(many: Field['common']['many']): string {
  const words = [
    rangeOf(many?.min, many?.max, 'item'),
    many?.orOne ? 'or one alone' : '',
    many?.distinct ? 'no two the same' : '',
  ];
  return words.filter(Boolean).join(', ');
}

/** A field with its values for the result of `show`. */
export async function showField(
  workspace: Workspace,
  store: EntryStore,
  address: { readonly type: string; readonly field: string; readonly inside?: readonly string[] },
): Promise<ShowResult> {
  const { type: typeName, inside = [] } = address;
  const type = typeNamed(workspace, typeName);
  const outer = fieldNamed(type.fields, address.field, typeName);
  const field = inside.reduce((inner, name) => fieldNamed(inner.fields, name, inner.address), outer);
  const isOfType = (entry: Entry): boolean => entry.type === typeName;

  const isFilled = (entry: Entry): boolean =>
    holdersOf(type, field.name, fieldsOf(entry, type)).some(
      (holder) => countedValue(field, ownValue(holder, keyOfField(field.name))) !== undefined,
    );

  return {
    ...command,
    what: 'field',
    type: typeName,
    field: fieldShown(field, workspace.model),
    choices: choicesOf(field, workspace.model),
    inside: [...field.fields.values()].map((field) => fieldShown(field, workspace.model)),
    entries: await countEntries(store, isOfType),
    filled: await countEntries(store, (entry) => isOfType(entry) && isFilled(entry)),
  };
}

const choicesOf = ({ kind, options }: Field, { readingOrder }: Model) =>
  kind.members(options, readingOrder).map(({ name, label }) => ({ choice: name, label }));

function fieldNamed(fields: ReadonlyMap<string, Field>, name: string, where: string): Field {
  const field = fields.get(name);
  if (field) return field;
  throw new Trouble('not-found', `there is no field \`${where}.${name}\``, {
    mend: didYouMean(name, fields.keys()) ?? thereAre([...fields.keys()]) ?? `\`${where}\` has no fields inside it.`,
  });
}
