import type { FactKeys } from '../definition/builtIn.ts';
import type { FieldDoc } from '../definition/field.ts';
import type { KitDoc, Origin, Shared, Uses } from '../definition/shared.ts';
import type { TypeDoc } from '../definition/type.ts';
import { compact, type Path } from '../plain/json.ts';
import { didYouMean } from '../plain/nearest.ts';
import {
  type Arriving,
  basesIn,
  definitionOf,
  formsOf,
  fromKits,
  inheritedOptions,
  isMade,
  originsOf,
  partsOf,
  type ResolvedField,
  type ResolvedPart,
  rulePlaces,
  type StatingFile,
  type UsedKit,
} from './inheritedParts.ts';
import { arrivesTwice, sayNoKit } from './inside.ts';
import { Kept } from './memo.ts';
import type { Mistake } from './mistakes.ts';
import type { ParsedDefinition } from './parsedDefinition.ts';
import { placeIn, placesIn } from './placesIn.ts';
import { type Inherited, onlyKinds, readField, type Shelf } from './readField.ts';
import { isFieldName, type RawField } from './readHead.ts';
import { readKinds } from './readShared.ts';
import type { InFile, MistakeInFile, Resolved } from './resolved.ts';

/** Makes types and kits whole: gives every field its kind, its shared definition, and what arrives by kits and base types. */
export class Resolver {
  readonly #mistakes: MistakeInFile[] = [];
  readonly #factKeys: FactKeys;
  readonly #shelf: Shelf;
  readonly #definitions = new Map<string, StatingFile>();
  readonly #fields: Kept<InFile<'field'>, FieldDoc>;
  readonly #kits: Kept<InFile<'kit'>, ResolvedPart<KitDoc>>;
  readonly #types: Kept<InFile<'type'>, ResolvedPart<TypeDoc>>;
  readonly #usesByType: ReadonlyMap<string, Uses>;
  /** Types whose base does not exist or leads back to them: in the model they extend nothing. */
  readonly #baseless = new Set<string>();

  /** @param factKeys the keys that no field can have. */
  constructor(definitions: readonly (ParsedDefinition & { readonly file: string })[], factKeys: FactKeys) {
    this.#factKeys = factKeys;
    const ofCategory = <W extends ParsedDefinition['what']>(category: W): ReadonlyMap<string, InFile<W>> =>
      new Map(
        definitions
          .filter((definition): definition is InFile<W> => definition.what === category)
          .map((item) => [item.name, item]),
      );

    this.#usesByType = new Map([...ofCategory('type').values()].map(({ name, uses }) => [name, uses]));
    this.#fields = new Kept(ofCategory('field'), (field) => this.#makeField(field));
    this.#kits = new Kept(ofCategory('kit'), (kit) => this.#makeKit(kit));
    this.#types = new Kept(ofCategory('type'), (type) => this.#makeType(type));
    this.#shelf = {
      kinds: this.#readKinds([...ofCategory('kind').values()]),
      fields: this.#fields,
      kits: { names: this.#kits.names, get: (name: string) => definitionOf(this.#kits.get(name)) },
      basesOf: (type) => basesIn(this.#usesByType, type),
    };
    for (const memo of [this.#fields, this.#kits, this.#types]) memo.all();
  }

  #readKinds(definitions: readonly InFile<'kind'>[]): Shelf['kinds'] {
    const { kinds, mistakes } = readKinds(
      Object.fromEntries(definitions.map(({ name, definition }) => [name, definition])),
    );
    for (const { name, file, definition } of definitions) {
      const ownMistakes = mistakes.filter(({ kind }) => kind === name).map(({ kind: _, ...mistake }) => mistake);
      this.#report(file, [], ownMistakes);
      this.#definitions.set(`kind ${name}`, { file, path: ['options'], data: definition.options });
    }

    return kinds;
  }

  result(): Resolved {
    const types = this.#types.all();
    const uses = types.flatMap(([name, { fields }]): [string, Uses][] => {
      const origins = originsOf(fields);
      const { extends: base, ...rest } = this.#usesByType.get(name) ?? {};
      const isBased = base !== undefined && !this.#baseless.has(name);
      const merged = compact({ extends: isBased ? base : undefined, ...rest, ...(origins ? { origins } : {}) });
      if (Object.keys(merged).length > 0) return [[name, merged]];
      return [];
    });
    const definitions = <T>(pairs: readonly (readonly [string, ResolvedPart<T>])[]): Readonly<Record<string, T>> =>
      Object.fromEntries(pairs.map(([name, { definition }]) => [name, definition]));
    const parts: readonly (readonly [string, object])[] = [
      ['kinds', this.#shelf.kinds],
      ['fields', Object.fromEntries(this.#fields.all())],
      ['kits', definitions(this.#kits.all())],
      ['types', Object.fromEntries(uses)],
    ];
    const filled = parts.filter(([, part]) => Object.keys(part).length > 0);

    return {
      types: definitions(types),
      shared: filled.length > 0 ? (Object.fromEntries(filled) as Shared) : undefined,
      mistakes: this.#mistakes,
      placeOf: (name, path) => {
        const holder = this.#types.get(name) ?? this.#kits.get(name);
        if (!isMade(holder)) return undefined;
        return placeIn(holder, path, this.#kitNamed);
      },
      placesOf: (name, path) => {
        const holder = this.#types.get(name) ?? this.#kits.get(name);
        if (!isMade(holder)) return [];
        return placesIn(holder, path, this.#kitNamed);
      },
    };
  }

  #makeField({ name, data, file }: InFile<'field'>): FieldDoc | undefined {
    const read = readField(data, { ...this.#shelf, fields: onlyKinds({}).fields });
    this.#report(file, [], read.mistakes);
    this.#definitions.set(`use ${name}`, { file, path: [], data });
    return read.field;
  }

  #makeKit({ options, fields, file }: InFile<'kit'>): ResolvedPart<KitDoc> {
    const kits = this.#kitsOf(options.kits, file);
    const arriving = this.#arriveByKits(kits, new Map(), file);
    const ownFields = this.#makeFields(fields, arriving, file);
    const allFields = new Map([...ownFields, ...[...arriving].filter(([field]) => !ownFields.has(field))]);
    const origins = originsOf(allFields);
    const inherited = fromKits(kits);
    const { groups: _, rules: __, kits: ___, ...rest } = options;
    const definition: KitDoc = {
      ...rest,
      ...(kits.length > 0 ? { kits: kits.map(({ kit }) => kit) } : {}),
      ...partsOf([options.groups, inherited.groups], [options.rules, inherited.rules]),
      fields: formsOf(allFields),
      ...(origins ? { origins } : {}),
    };

    return {
      definition,
      fields: allFields,
      rules: [...rulePlaces(options.rules, file), ...inherited.rulePlaces],
      file,
    };
  }

  /** The fields that arrive by kits, beside those that arrive already. */
  #arriveByKits(
    kits: readonly UsedKit[],
    already: ReadonlyMap<string, Arriving>,
    file: string,
  ): ReadonlyMap<string, Arriving> {
    const arriving = new Map(already);
    for (const { kit, resolved, index } of kits)
      for (const [field, definition] of resolved.fields) {
        const other = arriving.get(field);
        if (!other) arriving.set(field, { ...definition, from: `the kit ${kit}` });
        else this.#report(file, ['kits', index], [{ path: [], ...arrivesTwice(field, other.from, kit) }]);
      }

    return arriving;
  }

  #makeType(type: InFile<'type'>): ResolvedPart<TypeDoc> {
    const { file, options, uses } = type;
    const base = this.#baseOf(type);
    const kits = this.#kitsOf(uses.kits, file);
    const inherited = [...(base?.fields ?? [])].map(
      ([field, definition]) => [field, { ...definition, from: `the type ${uses.extends}` }] as const,
    );
    const arriving = this.#arriveByKits(kits, new Map(inherited), file);
    const ownFields = this.#makeFields(type.fields, arriving, file);
    const baseNames = new Set(base?.fields.keys() ?? []);
    // Base first, then the type's own fields, then those of its kits.
    const ordered = new Map(
      [
        ...[...arriving].filter(([field]) => baseNames.has(field)),
        ...ownFields,
        ...[...arriving].filter(([field]) => !baseNames.has(field)),
      ].map(([field, definition]) => [field, ownFields.get(field) ?? definition] as const),
    );
    const fromTheKits = fromKits(kits);
    const { groups: _, rules: __, ...rest } = options;
    const definition: TypeDoc = {
      ...inheritedOptions(base?.definition, rest),
      ...partsOf(
        [base?.definition.groups, options.groups, fromTheKits.groups],
        [base?.definition.rules, options.rules, fromTheKits.rules],
      ),
      fields: formsOf(ordered),
    };
    const rules = [...(base?.rules ?? []), ...rulePlaces(options.rules, file), ...fromTheKits.rulePlaces];

    return { definition, fields: ordered, rules, file };
  }

  #baseOf({ name, uses, file }: InFile<'type'>): ResolvedPart<TypeDoc> | undefined {
    if (uses.extends === undefined) return undefined;

    const base = this.#types.get(uses.extends);
    if (isMade(base)) return base;

    this.#baseless.add(name);
    const names = this.#types.names.filter((other) => other !== name);
    this.#report(
      file,
      ['extends'],
      [
        base === 'circle'
          ? {
              path: [],
              says: `\`${name}\` extends itself, by way of \`${uses.extends}\``,
              mend: 'Let the most general of them extend nothing.',
            }
          : {
              path: [],
              says: `there is no type \`${uses.extends}\` to extend`,
              mend: didYouMean(uses.extends, names) ?? `Define it in model/types/${uses.extends}.yaml.`,
              isUndefined: true,
            },
      ],
    );

    return undefined;
  }

  #kitsOf(names: readonly string[] = [], file: string): readonly UsedKit[] {
    return names.flatMap((kit, index) => {
      const definition = this.#kits.get(kit);
      if (isMade(definition)) return [{ kit, resolved: definition, index }];
      this.#report(file, ['kits', index], [{ path: [], ...sayNoKit(kit, this.#kits, definition) }]);
      return [];
    });
  }

  #makeFields(
    fields: readonly RawField[],
    arriving: ReadonlyMap<string, Arriving>,
    file: string,
  ): ReadonlyMap<string, ResolvedField> {
    const createdFields = new Map<string, ResolvedField>();
    for (const { name, data, path } of fields) {
      const above = arriving.get(name);
      const inherited: Inherited | undefined = above && { definition: above.definition, from: above.from };
      const read = readField(data, this.#shelf, inherited);
      this.#report(file, path, read.mistakes);
      if (!read.field || !isFieldName(name, this.#factKeys)) continue;

      const place = { file, path, data };
      createdFields.set(name, {
        definition: read.field,
        origin: read.origin,
        inside: read.inside,
        places: [...(above?.places ?? this.#sourceOf(read.origin)), place],
      });
    }

    return createdFields;
  }

  #sourceOf(origin: Origin | undefined): ResolvedField['places'] {
    if (!origin || 'kit' in origin) return [];
    const source = this.#definitions.get('use' in origin ? `use ${origin.use}` : `kind ${origin.kind}`);
    if (!source) return [];
    return [source];
  }

  /** A kit that was made; `undefined` where there is none of that name. */
  readonly #kitNamed = (name: string): ResolvedPart<KitDoc> | undefined => {
    const kit = this.#kits.get(name);
    if (isMade(kit)) return kit;
    return undefined;
  };

  #report(file: string, path: Path, mistakes: readonly Mistake[]): void {
    this.#mistakes.push(...mistakes.map((mistake) => ({ ...mistake, file, path: [...path, ...mistake.path] })));
  }
}
