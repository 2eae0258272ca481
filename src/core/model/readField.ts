import type { FieldDoc } from '../definition/field.ts';
import type { KindDoc, KitDoc, Origin, Origins } from '../definition/shared.ts';
import { kinds } from '../kinds/index.ts';
import { compact, equal, isList, isObject, type Json, type JsonObject, ownValue, withoutKey } from '../plain/json.ts';
import { didYouMean } from '../plain/nearest.ts';
import { list, quote, thereAre } from '../plain/words.ts';
import { kitsInside, misplacedInside } from './inside.ts';
import type { Kept } from './memo.ts';
import type { Mistake } from './mistakes.ts';
import { compatibilityOf, splitMany } from './optionCompatibility.ts';
import { kindsCalled, sayOtherWord } from './otherWords.ts';
import { parseOptions } from './parseOptions.ts';
import { mistakeInPlainName, readRawFields } from './readHead.ts';
import { sameShape } from './traversal.ts';

/** What fields can be made of beside the kinds of the language. */
export interface Shelf {
  readonly kinds: Readonly<Record<string, KindDoc>>;
  readonly fields: OnShelf<FieldDoc>;
  readonly kits: OnShelf<KitDoc>;
  /** The types that one extends, at any distance; absent where nobody knows. */
  readonly basesOf?: ((type: string) => readonly string[]) | undefined;
}

/** Definitions by name; those made of others may lead back to themselves. */
type OnShelf<T> = Pick<Kept<unknown, T>, 'names' | 'get'>;

/** A definition that arrives from elsewhere, and whose it is: `the kit sharing`. */
export interface Inherited {
  readonly definition: FieldDoc;
  readonly from: string;
}

/** A field read from a file, with its origin and its mistakes. */
export interface ReadField {
  readonly field?: FieldDoc;
  readonly origin?: Origin;
  /** What the fields inside it are made of, by their dotted names. */
  readonly inside?: Origins;
  readonly mistakes: readonly Mistake[];
}

const nothing: OnShelf<never> = { names: [], get: () => undefined };

/** A shelf on which only kinds stand. */
export const onlyKinds = (kinds: Shelf['kinds']): Shelf => ({ kinds, fields: nothing, kits: nothing });

const bare = onlyKinds({});

/**
 * Reads one field's kind and options into their normal form.
 * @param inherited the definition that a kit or a base type has under the same name, which can only be narrowed.
 */
export function readField(data: Json, shelf: Shelf = bare, inherited?: Inherited): ReadField {
  if (inherited) return readInherited(data, inherited, shelf);

  const use = isObject(data) ? ownValue(data, 'use') : undefined;
  if (isObject(data) && use !== undefined) return readUse(data, String(use), shelf);

  const kindName = isObject(data) ? ownValue(data, 'kind') : undefined;
  const names = [...kinds.keys(), ...Object.keys(shelf.kinds)];
  if (!isObject(data) || kindName === undefined) {
    const kind = isObject(data) ? ownValue(data, 'type') : data;
    const [kindName] = typeof kind === 'string' ? [...kindsCalled(kind), ...names.filter((name) => name === kind)] : [];
    const mend = kindName
      ? `Write \`kind: ${kindName}\`${isObject(data) ? ' instead of `type`' : ' in braces'}.`
      : `Write \`{ kind: text }\`; the kinds are ${list(names)}.`;

    return mistake([], 'the field says no kind', mend);
  }

  const named = ownValue(shelf.kinds, String(kindName));
  if (named) return readNamedKind(data, String(kindName), named, shelf);

  const kind = kinds.get(String(kindName));
  if (!kind)
    return mistake(
      ['kind'],
      `there is no kind ${quote(kindName)}`,
      sayOtherWord(String(kindName)) ?? didYouMean(String(kindName), names) ?? `The kinds are ${list(names)}.`,
    );

  const hasKits = kind.nests && Object.hasOwn(data, 'kits');
  const parsed = parseOptions(kind.name, hasKits ? { fields: {}, ...withoutKey(data, 'kits') } : data);
  if ('problem' in parsed) return { mistakes: parsed.problem };

  const field = parsed.value;
  if (kind.maps) return readMap(data, field, shelf);
  if (kind.nests) return readInner(data, field, shelf);
  return { field, mistakes: [] };
}

/** The fields inside an object, read like those of a type; some things only make sense in a type itself. */
function readInner(data: JsonObject, field: FieldDoc, shelf: Shelf): ReadField {
  const raw = readRawFields(ownValue(data, 'fields'), mistakeInPlainName);
  const { arriving, mistakes: inKits } = kitsInside(ownValue(data, 'kits'), shelf.kits);
  if (inKits.length > 0) return { mistakes: inKits };

  const mistakes = [...raw.mistakes];
  const inner = new Map<string, FieldDoc>();
  const origins: [string, Origin][] = [];

  for (const { name, data: definition, path } of raw.fields) {
    const above = arriving.get(name);
    const read = readField(definition, shelf, above && { definition: above.definition, from: `the kit ${above.kit}` });
    const misplaced = read.field ? misplacedInside(read.field) : [];
    mistakes.push(...[...read.mistakes, ...misplaced].map((wrong) => ({ ...wrong, path: [...path, ...wrong.path] })));
    if (!read.field) continue;

    inner.set(name, read.field);
    if (read.origin) origins.push([name, read.origin]);
    for (const [deeper, origin] of Object.entries(read.inside ?? {})) origins.push([`${name}.${deeper}`, origin]);
  }

  for (const [name, { kit, definition }] of arriving) {
    if (!inner.has(name)) inner.set(name, definition);
    origins.push([name, { kit }]);
  }

  if (mistakes.length > 0) return { mistakes };
  return compact({
    field: { ...field, fields: Object.fromEntries(inner) },
    inside: origins.length > 0 ? Object.fromEntries(origins) : undefined,
    mistakes: [],
  });
}

/** The kinds whose values are texts that can be keys. */
const keyKinds = ['text', 'language', 'term', 'choice', 'reference'];

/** What the keys and the values of a map are, each read like a field. */
function readMap(data: JsonObject, field: FieldDoc, shelf: Shelf): ReadField {
  const parts = (['keys', 'value'] as const).map((part) => {
    const read = readField(ownValue(data, part) ?? null, shelf);
    const misplaced = read.field
      ? [...misplacedInside(read.field), ...(part === 'keys' ? unfitKeys(read.field) : [])]
      : [];
    const mistakes = [...read.mistakes, ...misplaced].map((wrong) => ({ ...wrong, path: [part, ...wrong.path] }));
    return { part, read, mistakes };
  });
  const mistakes = parts.flatMap((part) => part.mistakes);
  if (mistakes.length > 0) return { mistakes };

  const created = Object.fromEntries(parts.flatMap(({ part, read }) => (read.field ? [[part, read.field]] : [])));
  const origins = parts.flatMap(({ part, read: { origin, inside = {} } }) => [
    ...(origin ? [[part, origin] as const] : []),
    ...Object.entries(inside).map(([deeper, origin]) => [`${part}.${deeper}`, origin] as const),
  ]);

  return compact({
    field: { ...field, ...created },
    inside: origins.length > 0 ? Object.fromEntries(origins) : undefined,
    mistakes: [],
  });
}

function unfitKeys(keys: FieldDoc): readonly Mistake[] {
  if (!keyKinds.includes(keys.kind))
    return [
      {
        path: ['kind'],
        says: `keys cannot be of kind ${keys.kind}`,
        mend: `Let them be of kind ${list(keyKinds, 'or')}.`,
      },
    ];
  return ['many', 'localized', 'required', 'default', 'mayBeEmpty', 'unique']
    .filter((option) => ownValue(keys, option) !== undefined)
    .map((option) => ({
      path: [option],
      atKey: true,
      says: `\`${option}\` means nothing for keys`,
      mend: 'Remove it.',
    }));
}

const mistake = (path: Mistake['path'], message: string, mend: string, atKey = false): ReadField => ({
  mistakes: [compact({ path, says: message, mend, atKey: atKey || undefined })],
});

function readInherited(data: Json, { definition, from }: Inherited, shelf: Shelf): ReadField {
  if (!isObject(data))
    return mistake([], `the field arrives by ${from}`, 'Write what is narrower here, such as `{ required: true }`.');

  const redefined = ['kind', 'use'].find((key) => Object.hasOwn(data, key));
  if (redefined !== undefined)
    return mistake(
      [redefined],
      `the field is defined in ${from} already`,
      `Leave out \`${redefined}\` and say only what is narrower here, or give the field another name.`,
      true,
    );
  return narrowed(definition, data, from, shelf);
}

function readUse(data: JsonObject, name: string, shelf: Shelf): ReadField {
  const { names } = shelf.fields;
  const definition = shelf.fields.get(name);
  if (definition === 'circle')
    return mistake(
      ['use'],
      `the shared field ${name} is made of itself, by way of a kit`,
      'Take it out of that kit, or the kit out of it.',
    );
  if (!definition) {
    return {
      mistakes: [
        {
          path: ['use'],
          says: `there is no shared field ${quote(name)}`,
          mend: didYouMean(name, names) ?? thereAre(names) ?? `Define it in model/fields/${name}.yaml.`,
          isUndefined: true,
        },
      ],
    };
  }
  if (Object.hasOwn(data, 'kind'))
    return mistake(['kind'], `the shared field ${name} has its kind already`, 'Remove `kind`, or `use`.', true);

  const { use: _, ...over } = data;
  const read = narrowed(definition, over, `the shared field ${name}`, shelf);

  if (!read.field) return read;
  return { ...read, origin: { use: name } };
}

function readNamedKind(data: JsonObject, name: string, { on, options }: KindDoc, shelf: Shelf): ReadField {
  const fixed = Object.keys(data).filter((key) => Object.hasOwn(options, key));
  if (fixed.length > 0)
    return {
      mistakes: fixed.map((key) => ({
        path: [key],
        atKey: true,
        says: `\`${key}\` is fixed by the kind ${name}`,
        mend: `Remove it, or use the kind ${on} itself.`,
      })),
    };

  // Without the kind itself, so that kinds which are built on each other come to an end.
  const read = readField({ ...options, ...data, kind: on }, { ...shelf, kinds: withoutKey(shelf.kinds, name) });

  if (!read.field) return read;
  return { ...read, origin: { kind: name } };
}

/** A definition with options put over it, each of which has to let less pass, or be about how the field is shown. */
function narrowed(base: FieldDoc, over: JsonObject, whose: string, shelf: Shelf): ReadField {
  if (Object.hasOwn(over, 'kits'))
    return mistake(['kits'], `the fields of the object are defined in ${whose} already`, 'Add the kits there.', true);

  const read = readField({ ...base, ...over });
  const { field } = read;
  if (!field) return read;

  const mistakes = Object.keys(over).flatMap((option): readonly Mistake[] => {
    const before = ownValue(base, option);
    const after = ownValue(field, option);
    if (equal(before, after) || isNarrower(base, field, option, shelf)) return [];
    return [
      {
        path: [option],
        atKey: true,
        says: `\`${option}\` lets more pass than ${whose} (${before === undefined ? 'none' : quote(before)} there)`,
        mend: 'A use can only narrow. Change it there for all, or define a field of its own here.',
      },
    ];
  });

  if (mistakes.length > 0) return { mistakes };
  return { field, mistakes: [] };
}

function isNarrower(base: FieldDoc, field: FieldDoc, option: string, { basesOf }: Shelf): boolean {
  const before = ownValue(base, option);
  const after = inBases(ownValue(field, option), before, basesOf);
  if (!sameShape(base, field) && (option === 'many' || option === 'localized')) return false;

  const parts = option === 'many' ? splitMany(before, after) : [{ option, before, after }];
  return parts.every((part) => {
    const direction = compatibilityOf(base.kind, part.option).direction(part.before, part.after);
    return direction === 'narrower' || direction === 'presentation';
  });
}

/** A list of names of types in which one that extends a type of another list stands as that: it is part of it. */
function inBases(types: Json | undefined, otherTypes: Json | undefined, basesOf: Shelf['basesOf']): Json | undefined {
  if (!basesOf || !isList(types) || !isList(otherTypes)) return types;
  return types.map((type) => {
    if (typeof type !== 'string' || otherTypes.includes(type)) return type;
    return basesOf(type).find((base) => otherTypes.includes(base)) ?? type;
  });
}
