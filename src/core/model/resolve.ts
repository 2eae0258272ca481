import type { FieldDoc } from '../definition/field.ts';
import type { KitDoc, Origin, Origins, Shared, Uses } from '../definition/shared.ts';
import type { Rule, TypeDoc } from '../definition/type.ts';
import { compact, isObject, type Json, type Path } from '../plain/json.ts';
import { didYouMean } from '../plain/nearest.ts';
import { thereAre } from '../plain/words.ts';
import type { Mistake } from './mistakes.ts';
import type { ParsedDefinition } from './parsedDefinition.ts';
import { type Inherited, readField, type Shelf } from './readField.ts';
import { isFieldName, type RawField } from './readHead.ts';
import { readKinds } from './readShared.ts';

/** A place in a model file. */
export interface FilePlace {
  readonly file: string;
  readonly path: Path;
}

export interface MistakeInFile extends Mistake {
  readonly file: string;
}

type FoundOf<W extends ParsedDefinition['what']> = Extract<ParsedDefinition, { what: W }>;
export type InFile<W extends ParsedDefinition['what']> = FoundOf<W> & { readonly file: string };

/** A field made whole, and every place that says something about it: the outermost first, the nearest last. */
interface Made {
  readonly definition: FieldDoc;
  readonly origin?: Origin | undefined;
  readonly inside?: Origins | undefined;
  readonly places: readonly (FilePlace & { readonly keys: ReadonlySet<string> })[];
}

/** Something with fields made whole. */
interface Whole<T> {
  readonly definition: T;
  readonly fields: ReadonlyMap<string, Made>;
  readonly rules: readonly FilePlace[];
}

/** A field that a type takes from elsewhere, and from where in words. */
interface Arriving extends Made {
  readonly from: string;
}

/** A kit that a type uses, and which of its kits that is. */
interface UsedKit {
  readonly kit: string;
  readonly whole: Whole<KitDoc>;
  readonly index: number;
}

export interface Resolved {
  readonly types: Readonly<Record<string, TypeDoc>>;
  readonly shared: Shared | undefined;
  readonly mistakes: readonly MistakeInFile[];
  /** Where a path of a type or a kit is written. */
  readonly placeOf: (name: string, path: Path) => FilePlace | undefined;
}

/** Makes types and kits whole: gives every field its kind, its shared definition, and what arrives by kits and base types. */
export class Resolver {
  readonly #mistakes: MistakeInFile[] = [];
  readonly #shelf: { kinds: Shelf['kinds']; fields: Shelf['fields']; basesOf: Shelf['basesOf'] };
  readonly #definitions = new Map<string, FilePlace & { readonly keys: ReadonlySet<string> }>();
  readonly #types: ReadonlyMap<string, InFile<'type'>>;
  readonly #kits = new Map<string, Whole<KitDoc> & { readonly file: string }>();
  readonly #whole = new Map<string, Whole<TypeDoc> & { readonly file: string }>();
  readonly #open = new Set<string>();
  /** Types whose base does not exist or leads back to them: in the model they extend nothing. */
  readonly #baseless = new Set<string>();

  constructor(found: readonly (ParsedDefinition & { readonly file: string })[]) {
    const all = <W extends ParsedDefinition['what']>(what: W): readonly InFile<W>[] =>
      found.filter((one): one is InFile<W> => one.what === what);
    const baseByType = new Map(all('type').map(({ name, uses }) => [name, uses.extends]));
    this.#shelf = { kinds: {}, fields: {}, basesOf: (type) => basesIn(baseByType, type) };
    const read = readKinds(Object.fromEntries(all('kind').map(({ name, definition }) => [name, definition])));
    this.#shelf.kinds = read.kinds;
    for (const { name, file } of all('kind'))
      this.#report(
        file,
        [],
        read.mistakes.filter(({ kind }) => kind === name).map(({ kind: _, ...mistake }) => mistake),
      );
    for (const kind of all('kind'))
      this.#definitions.set(`kind ${kind.name}`, {
        file: kind.file,
        path: ['options'],
        keys: new Set(Object.keys(kind.definition.options)),
      });
    this.#shelf.fields = Object.fromEntries(all('field').flatMap((one) => this.#readDefinition(one)));
    for (const kit of all('kit')) this.#kits.set(kit.name, this.#makeKit(kit));
    this.#types = new Map(all('type').map((type) => [type.name, type]));
    for (const name of this.#types.keys()) this.#type(name);
  }

  result(): Resolved {
    const types = Object.fromEntries([...this.#types.keys()].flatMap((name) => this.#pair(name)));
    const uses = [...this.#types.values()].flatMap(({ name, uses: said }): [string, Uses][] => {
      const origins = originsOf(this.#whole.get(name)?.fields ?? new Map());
      const { extends: base, ...others } = said;
      const isBased = base !== undefined && !this.#baseless.has(name);
      const all = { ...(isBased ? { extends: base } : {}), ...others, ...(origins ? { origins } : {}) };
      return Object.keys(all).length > 0 ? [[name, all]] : [];
    });
    const parts: readonly (readonly [string, object])[] = [
      ['kinds', this.#shelf.kinds],
      ['fields', this.#shelf.fields],
      ['kits', Object.fromEntries([...this.#kits].map(([name, { definition }]) => [name, definition]))],
      ['types', Object.fromEntries(uses)],
    ];
    const filled = parts.filter(([, part]) => Object.keys(part).length > 0);

    return {
      types,
      shared: filled.length > 0 ? (Object.fromEntries(filled) as Shared) : undefined,
      mistakes: this.#mistakes,
      placeOf: (name, path) => {
        const whole = this.#whole.get(name) ?? this.#kits.get(name);
        return whole && placeIn(whole, path);
      },
    };
  }

  #pair(name: string): readonly [string, TypeDoc][] {
    const whole = this.#whole.get(name);
    return whole ? [[name, whole.definition]] : [];
  }

  #readDefinition({ name, data, file }: InFile<'field'>): readonly [string, FieldDoc][] {
    const read = readField(data, { kinds: this.#shelf.kinds, fields: {} });
    this.#report(file, [], read.mistakes);
    this.#definitions.set(`use ${name}`, { file, path: [], keys: keysOf(data) });
    return read.field ? [[name, read.field]] : [];
  }

  #makeKit({ options, fields, file }: InFile<'kit'>): Whole<KitDoc> & { readonly file: string } {
    const made = this.#makeFields(fields, new Map(), file);
    const origins = originsOf(made);
    const definition = { ...options, fields: formsOf(made), ...(origins ? { origins } : {}) };
    return { definition, fields: made, rules: rulePlaces(options.rules, file), file };
  }

  #arriveByKit({ kit, whole, index }: UsedKit, arriving: Map<string, Arriving>, file: string): void {
    for (const [field, made] of whole.fields) {
      const other = arriving.get(field);
      if (!other) {
        arriving.set(field, { ...made, from: `the kit ${kit}` });
        continue;
      }
      const says = `the field \`${field}\` arrives by ${other.from} and by the kit ${kit}`;
      const mend = 'Use one of the two, or rename the field in the kit.';
      this.#report(file, ['kits', index], [{ path: [], says, mend }]);
    }
  }

  /** A type made whole, its base first. `undefined` where it does not exist or extends itself. */
  #type(name: string): Whole<TypeDoc> | undefined {
    const done = this.#whole.get(name);
    const type = this.#types.get(name);
    if (done || !type || this.#open.has(name)) return done;

    this.#open.add(name);
    const { file, options, uses } = type;
    const base = this.#baseOf(type);
    const kits = (uses.kits ?? []).flatMap((kit, index) => this.#kitOf(kit, index, file));
    const arriving = new Map<string, Arriving>();
    for (const [field, made] of base?.fields ?? []) arriving.set(field, { ...made, from: `the type ${uses.extends}` });
    for (const kit of kits) this.#arriveByKit(kit, arriving, file);
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
    const rules = joined<Rule>([
      base?.definition.rules,
      options.rules,
      ...kits.map(({ whole }) => whole.definition.rules),
    ]);
    const groups = [
      ...new Set(
        joined<string>([base?.definition.groups, options.groups, ...kits.map(({ whole }) => whole.definition.groups)]),
      ),
    ];
    const { groups: _, rules: __, ...others } = options;
    const definition: TypeDoc = {
      ...inheritedOptions(base?.definition, others),
      ...(groups.length > 0 ? { groups } : {}),
      ...(rules.length > 0 ? { rules } : {}),
      fields: formsOf(ordered),
    };
    const whole = {
      definition,
      fields: ordered,
      rules: [...(base?.rules ?? []), ...rulePlaces(options.rules, file), ...kits.flatMap((one) => one.whole.rules)],
      file,
    };
    this.#whole.set(name, whole);
    this.#open.delete(name);
    return whole;
  }

  #baseOf({ name, uses, file }: InFile<'type'>): Whole<TypeDoc> | undefined {
    if (uses.extends === undefined) return undefined;
    const base = this.#type(uses.extends);
    if (base) return base;

    this.#baseless.add(name);
    const names = [...this.#types.keys()].filter((one) => one !== name);
    this.#report(
      file,
      ['extends'],
      [
        this.#types.has(uses.extends)
          ? {
              path: [],
              says: `\`${name}\` extends itself, by way of \`${uses.extends}\``,
              mend: 'Let the most general of them extend nothing.',
            }
          : {
              path: [],
              says: `there is no type \`${uses.extends}\` to extend`,
              mend: didYouMean(uses.extends, names) ?? `Define it in model/types/${uses.extends}.yaml.`,
            },
      ],
    );

    return undefined;
  }

  #kitOf(kit: string, index: number, file: string) {
    const whole = this.#kits.get(kit);
    if (whole) return [{ kit, whole, index }];
    const names = [...this.#kits.keys()];

    this.#report(
      file,
      ['kits', index],
      [
        {
          path: [],
          says: `there is no kit \`${kit}\``,
          mend: didYouMean(kit, names) ?? thereAre(names) ?? `Define it in model/kits/${kit}.yaml.`,
        },
      ],
    );
    return [];
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
      const here = { file, path, keys: keysOf(data) };
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
    if (!origin) return [];
    const source = this.#definitions.get('use' in origin ? `use ${origin.use}` : `kind ${origin.kind}`);
    return source ? [source] : [];
  }

  #report(file: string, path: Path, mistakes: readonly Mistake[]): void {
    this.#mistakes.push(...mistakes.map((mistake) => ({ ...mistake, file, path: [...path, ...mistake.path] })));
  }
}

/** What a type says itself over what its base type says: of new entries and previews, key by key. */
function inheritedOptions(base: TypeDoc | undefined, own: Omit<TypeDoc, 'fields'>): Omit<TypeDoc, 'fields'> {
  if (!base) return own;
  const { titled, guide, order, newEntries, previews } = base;
  const both = compact({
    newEntries: newEntries && { ...newEntries, ...own.newEntries },
    previews: previews && { ...previews, ...own.previews },
  });
  return { ...compact({ titled, guide, order }), ...own, ...both };
}

/** The types that one extends, the nearest first; each once, where they go round in a circle. */
function basesIn(baseByType: ReadonlyMap<string, string | undefined>, type: string): readonly string[] {
  const bases: string[] = [];
  for (let base = baseByType.get(type); base !== undefined && !bases.includes(base); base = baseByType.get(base))
    bases.push(base);
  return bases;
}

const keysOf = (data: Json): ReadonlySet<string> => new Set(isObject(data) ? Object.keys(data) : []);

const joined = <T>(lists: readonly (readonly T[] | undefined)[]): T[] => lists.flatMap((one) => one ?? []);

const formsOf = (made: ReadonlyMap<string, Made>): Readonly<Record<string, FieldDoc>> =>
  Object.fromEntries([...made].map(([name, { definition }]) => [name, definition]));

/** What the fields that are defined here were made of. */
function originsOf(made: ReadonlyMap<string, Made>): Origins | undefined {
  const origins = [...made].flatMap(([name, { origin, inside = {} }]) => [
    ...(origin ? [[name, origin] as const] : []),
    ...Object.entries(inside).map(([deeper, one]) => [`${name}.${deeper}`, one] as const),
  ]);
  return origins.length > 0 ? Object.fromEntries(origins) : undefined;
}

const rulePlaces = (rules: readonly Rule[] | undefined, file: string): readonly FilePlace[] =>
  (rules ?? []).map((_, index) => ({ file, path: ['rules', index] }));

/** Where something is written that a path of the whole leads to: the nearest place that says it. */
function placeIn({ fields, rules, file }: Whole<unknown> & { readonly file: string }, path: Path): FilePlace {
  const [part, name, ...rest] = path;
  if (part === 'rules') {
    const rule = rules[Number(name)];
    return rule ? { file: rule.file, path: [...rule.path, ...rest] } : { file, path };
  }
  const places = part === 'fields' ? (fields.get(String(name))?.places ?? []) : [];
  const saying = places.findLast(({ keys }) => rest[0] === undefined || keys.has(String(rest[0]))) ?? places.at(-1);
  return saying ? { file: saying.file, path: [...saying.path, ...rest] } : { file, path };
}
