import type { FieldDoc } from '../definition/field.ts';
import type { KitDoc, Origin, Shared, Uses } from '../definition/shared.ts';
import type { TypeDoc } from '../definition/type.ts';
import { at, compact, equal, type Path } from '../plain/json.ts';
import { didYouMean } from '../plain/nearest.ts';
import {
  type Arriving,
  basesIn,
  definitionOf,
  type FilePlace,
  formsOf,
  fromKits,
  inheritedOptions,
  isMade,
  kitInside,
  type Made,
  originsOf,
  partsOf,
  rulePlaces,
  type Saying,
  type UsedKit,
  type Whole,
} from './inheritedParts.ts';
import { arrivesTwice, sayNoKit } from './inside.ts';
import { Kept } from './memo.ts';
import type { Mistake } from './mistakes.ts';
import type { ParsedDefinition } from './parsedDefinition.ts';
import { type Inherited, onlyKinds, readField, type Shelf } from './readField.ts';
import { isFieldName, type RawField } from './readHead.ts';
import { readKinds } from './readShared.ts';

export interface MistakeInFile extends Mistake {
  readonly file: string;
}

type FoundOf<W extends ParsedDefinition['what']> = Extract<ParsedDefinition, { what: W }>;
export type InFile<W extends ParsedDefinition['what']> = FoundOf<W> & { readonly file: string };

export interface Resolved {
  readonly types: Readonly<Record<string, TypeDoc>>;
  readonly shared: Shared | undefined;
  readonly mistakes: readonly MistakeInFile[];
  /** Where a path of a type or a kit is written. */
  readonly placeOf: (name: string, path: Path) => FilePlace | undefined;
  /** All places that say something about it: a field that is defined in a kit may be narrowed in a type. */
  readonly placesOf: (name: string, path: Path) => readonly FilePlace[];
}

/** Makes types and kits whole: gives every field its kind, its shared definition, and what arrives by kits and base types. */
export class Resolver {
  readonly #mistakes: MistakeInFile[] = [];
  readonly #shelf: Shelf;
  readonly #definitions = new Map<string, Saying>();
  readonly #fields: Kept<InFile<'field'>, FieldDoc>;
  readonly #kits: Kept<InFile<'kit'>, Whole<KitDoc>>;
  readonly #types: Kept<InFile<'type'>, Whole<TypeDoc>>;
  readonly #usesByType: ReadonlyMap<string, Uses>;
  /** Types whose base does not exist or leads back to them: in the model they extend nothing. */
  readonly #baseless = new Set<string>();

  constructor(found: readonly (ParsedDefinition & { readonly file: string })[]) {
    const all = <W extends ParsedDefinition['what']>(what: W): ReadonlyMap<string, InFile<W>> =>
      new Map(found.filter((one): one is InFile<W> => one.what === what).map((one) => [one.name, one]));
    this.#usesByType = new Map([...all('type').values()].map(({ name, uses }) => [name, uses]));
    this.#fields = new Kept(all('field'), (field) => this.#makeField(field));
    this.#kits = new Kept(all('kit'), (kit) => this.#makeKit(kit));
    this.#types = new Kept(all('type'), (type) => this.#makeType(type));
    this.#shelf = {
      kinds: this.#readKinds([...all('kind').values()]),
      fields: this.#fields,
      kits: { names: this.#kits.names, get: (name: string) => definitionOf(this.#kits.get(name)) },
      basesOf: (type) => basesIn(this.#usesByType, type),
    };
    for (const kept of [this.#fields, this.#kits, this.#types]) kept.all();
  }

  #readKinds(found: readonly InFile<'kind'>[]): Shelf['kinds'] {
    const { kinds, mistakes } = readKinds(Object.fromEntries(found.map(({ name, definition }) => [name, definition])));
    for (const { name, file, definition } of found) {
      const own = mistakes.filter(({ kind }) => kind === name).map(({ kind: _, ...mistake }) => mistake);
      this.#report(file, [], own);
      this.#definitions.set(`kind ${name}`, { file, path: ['options'], data: definition.options });
    }
    return kinds;
  }

  result(): Resolved {
    const types = this.#types.all();
    const uses = types.flatMap(([name, { fields }]): [string, Uses][] => {
      const origins = originsOf(fields);
      const { extends: base, ...others } = this.#usesByType.get(name) ?? {};
      const isBased = base !== undefined && !this.#baseless.has(name);
      const all = compact({ extends: isBased ? base : undefined, ...others, ...(origins ? { origins } : {}) });
      return Object.keys(all).length > 0 ? [[name, all]] : [];
    });
    const definitions = <T>(all: readonly (readonly [string, Whole<T>])[]): Readonly<Record<string, T>> =>
      Object.fromEntries(all.map(([name, { definition }]) => [name, definition]));
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
        const whole = this.#types.get(name) ?? this.#kits.get(name);
        return isMade(whole) ? this.#placeIn(whole, path) : undefined;
      },
      placesOf: (name, path) => {
        const whole = this.#types.get(name) ?? this.#kits.get(name);
        return isMade(whole) ? this.#placesIn(whole, path) : [];
      },
    };
  }

  #makeField({ name, data, file }: InFile<'field'>): FieldDoc | undefined {
    const read = readField(data, { ...this.#shelf, fields: onlyKinds({}).fields });
    this.#report(file, [], read.mistakes);
    this.#definitions.set(`use ${name}`, { file, path: [], data });
    return read.field;
  }

  #makeKit({ options, fields, file }: InFile<'kit'>): Whole<KitDoc> {
    const kits = this.#kitsOf(options.kits, file);
    const arriving = this.#arriveByKits(kits, new Map(), file);
    const own = this.#makeFields(fields, arriving, file);
    const made = new Map([...own, ...[...arriving].filter(([field]) => !own.has(field))]);
    const origins = originsOf(made);
    const taken = fromKits(kits);
    const { groups: _, rules: __, kits: ___, ...others } = options;
    const definition: KitDoc = {
      ...others,
      ...(kits.length > 0 ? { kits: kits.map(({ kit }) => kit) } : {}),
      ...partsOf([options.groups, taken.groups], [options.rules, taken.rules]),
      fields: formsOf(made),
      ...(origins ? { origins } : {}),
    };
    return { definition, fields: made, rules: [...rulePlaces(options.rules, file), ...taken.rulePlaces], file };
  }

  /** The fields that arrive by kits, beside those that arrive already. */
  #arriveByKits(
    kits: readonly UsedKit[],
    already: ReadonlyMap<string, Arriving>,
    file: string,
  ): ReadonlyMap<string, Arriving> {
    const arriving = new Map(already);
    for (const { kit, whole, index } of kits)
      for (const [field, made] of whole.fields) {
        const other = arriving.get(field);
        if (!other) arriving.set(field, { ...made, from: `the kit ${kit}` });
        else this.#report(file, ['kits', index], [{ path: [], ...arrivesTwice(field, other.from, kit) }]);
      }
    return arriving;
  }

  #makeType(type: InFile<'type'>): Whole<TypeDoc> {
    const { file, options, uses } = type;
    const base = this.#baseOf(type);
    const kits = this.#kitsOf(uses.kits, file);
    const inherited = [...(base?.fields ?? [])].map(
      ([field, made]) => [field, { ...made, from: `the type ${uses.extends}` }] as const,
    );
    const arriving = this.#arriveByKits(kits, new Map(inherited), file);
    const own = this.#makeFields(type.fields, arriving, file);
    const baseNames = new Set(base?.fields.keys() ?? []);
    // Base first, then what is the type's own, then what its kits add.
    const ordered = new Map(
      [
        ...[...arriving].filter(([field]) => baseNames.has(field)),
        ...own,
        ...[...arriving].filter(([field]) => !baseNames.has(field)),
      ].map(([field, made]) => [field, own.get(field) ?? made] as const),
    );
    const taken = fromKits(kits);
    const { groups: _, rules: __, ...others } = options;
    const definition: TypeDoc = {
      ...inheritedOptions(base?.definition, others),
      ...partsOf(
        [base?.definition.groups, options.groups, taken.groups],
        [base?.definition.rules, options.rules, taken.rules],
      ),
      fields: formsOf(ordered),
    };
    const rules = [...(base?.rules ?? []), ...rulePlaces(options.rules, file), ...taken.rulePlaces];
    return { definition, fields: ordered, rules, file };
  }

  #baseOf({ name, uses, file }: InFile<'type'>): Whole<TypeDoc> | undefined {
    if (uses.extends === undefined) return undefined;
    const base = this.#types.get(uses.extends);
    if (isMade(base)) return base;

    this.#baseless.add(name);
    const names = this.#types.names.filter((one) => one !== name);
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
      const whole = this.#kits.get(kit);
      if (isMade(whole)) return [{ kit, whole, index }];
      this.#report(file, ['kits', index], [{ path: [], ...sayNoKit(kit, this.#kits, whole) }]);
      return [];
    });
  }

  #makeFields(
    fields: readonly RawField[],
    arriving: ReadonlyMap<string, Arriving>,
    file: string,
  ): ReadonlyMap<string, Made> {
    const made = new Map<string, Made>();
    for (const { name, data, path } of fields) {
      const above = arriving.get(name);
      const inherited: Inherited | undefined = above && { definition: above.definition, from: above.from };
      const read = readField(data, this.#shelf, inherited);
      this.#report(file, path, read.mistakes);
      if (!read.field || !isFieldName(name)) continue;
      const here = { file, path, data };
      made.set(name, {
        definition: read.field,
        origin: read.origin,
        inside: read.inside,
        places: [...(above?.places ?? this.#sourceOf(read.origin)), here],
      });
    }
    return made;
  }

  #sourceOf(origin: Origin | undefined): Made['places'] {
    if (!origin || 'kit' in origin) return [];
    const source = this.#definitions.get('use' in origin ? `use ${origin.use}` : `kind ${origin.kind}`);
    return source ? [source] : [];
  }

  /** Where something is written that a path of the whole leads to: the nearest place that says it. */
  #placeIn({ fields, rules, file }: Whole<unknown>, path: Path): FilePlace {
    const [part, name, ...rest] = path;
    if (part === 'rules') {
      const rule = rules[Number(name)];
      return rule ? { file: rule.file, path: [...rule.path, ...rest] } : { file, path };
    }
    const made = part === 'fields' ? fields.get(String(name)) : undefined;
    if (!made) return { file, path };
    const said = made.places.findLast(({ data }) => at(data, rest) !== undefined);
    const inside = said ? undefined : kitInside(made.inside, rest);
    const kit = inside && this.#kits.get(inside.kit);
    if (inside && isMade(kit)) return this.#placeIn(kit, inside.path);

    const saying =
      said ?? made.places.findLast(({ data }) => at(data, rest.slice(0, 1)) !== undefined) ?? made.places.at(-1);
    return saying ? { file: saying.file, path: [...saying.path, ...rest] } : { file, path };
  }

  #placesIn(whole: Whole<unknown>, path: Path): readonly FilePlace[] {
    const [part, name, ...rest] = path;
    const made = part === 'fields' ? whole.fields.get(String(name)) : undefined;
    const place = this.#placeIn(whole, path);
    if (!made) return [place];
    const said = made.places
      .filter(({ data }) => at(data, rest) !== undefined)
      .map((one) => ({ file: one.file, path: [...one.path, ...rest] }));
    return said.some(({ file, path: one }) => file === place.file && equal(one, place.path)) ? said : [...said, place];
  }

  #report(file: string, path: Path, mistakes: readonly Mistake[]): void {
    this.#mistakes.push(...mistakes.map((mistake) => ({ ...mistake, file, path: [...path, ...mistake.path] })));
  }
}
