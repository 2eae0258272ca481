import { wordsIn } from '../../definition/wording.ts';
import type { Field, Model, Type } from '../../model/link.ts';
import { fieldsWithin } from '../../model/nestedFields.ts';
import { capital } from '../../plain/words.ts';
import type { Taxonomy } from '../../taxonomy/linkTaxonomy.ts';
import type { Exported, ExportFormat } from './define.ts';
import {
  distinctly,
  entryId,
  enumeration,
  fitted,
  type Member,
  object,
  ownerOf,
  pagingArguments,
  reserved,
  scalarOf,
  scalars,
  shared,
  termMembers,
} from './graphqlText.ts';

export const graphql: ExportFormat = {
  name: 'graphql',
  about: 'GraphQL: how readers ask for what is published, from both sides of references',
  file: 'content.graphql',
  text: (exported) => new SchemaWriter(exported).text(),
};

/** Lists that may be longer than this are requested page by page. */
const longestWhole = 20;

const comment = (text: string): string => `# ${text.replace(/\s+/gu, ' ')}\n`;

/** A reference as it is seen from its target. */
interface Inverse {
  readonly field: Field;
  readonly from: Type;
  readonly name: string;
  readonly isOne: boolean;
}

/** Writes a schema: definitions come as they are needed, each once. */
class SchemaWriter {
  readonly #exported: Exported;
  readonly #model: Model;
  /** By their names: what several types inherit is written once. */
  readonly #definitions = new Map<string, string>();
  /** The names that are taken, by their owners. */
  readonly #names = new Map<string, string>();
  /** The pages of lists, and the interfaces that are written, by their names. */
  readonly #pages = new Map<string, string>();
  readonly #interfaces = new Set<string>();
  readonly #types: ReadonlySet<string>;

  constructor(exported: Exported) {
    this.#exported = exported;
    this.#model = exported.model;
    this.#types = new Set(exported.types.map(({ name }) => name));
    for (const name of reserved) this.#names.set(name, name);
  }

  text(): string {
    const { workspace, call, types, model } = this.#exported;
    for (const type of types) this.#named(`type ${type.name}`, capital(type.name));
    for (const type of types) this.#type(type);
    for (const taxonomy of model.taxonomies.values()) if (this.#isUsed(taxonomy)) this.#taxonomy(taxonomy);
    const languages = model.definition.languages.map(
      (language): Member => ({
        name: fitted(language),
        typeText: '',
        about: fitted(language) === language ? '' : language,
      }),
    );

    return [
      comment(`The content of ${workspace}, as readers ask for it.`),
      comment(`Written by ${call}, and overwritten by it: not for editing.`),
      scalars,
      enumeration(
        'Language',
        'A language that content is written in; another one stands in where it is missing.',
        languages,
      ),
      shared,
      ...this.#definitions.values(),
      this.#query(),
    ].join('\n');
  }

  /** A name that is unique. */
  #named(owner: string, wantedName: string): string {
    for (let name = fitted(wantedName); ; name += '_') {
      const existing = this.#names.get(name);
      if (existing !== undefined && existing !== owner) continue;
      this.#names.set(name, owner);
      return name;
    }
  }

  #define(name: string, text: string): void {
    if (!this.#definitions.has(name)) this.#definitions.set(name, text);
  }

  #nameOf = (type: string): string => this.#named(`type ${type}`, capital(type));

  /* ── types ─────────────────────────────────────────────────────────────────────────────────────────────────── */

  #type(type: Type): void {
    const about = wordsIn(type.definition.about, this.#model.readingOrder);
    const description = `${type.label.many}${about === undefined ? '' : `: ${about}`}`;
    const ownMembers = [...type.fields.values()].map((field) => this.#member(field, ownerOf(field)));
    const back = this.#inversesOf(type).map((inverse) => this.#inverse(inverse));
    const members = distinctly([entryId, ...ownMembers, ...back]);
    const bases = this.#basesOf(type);
    for (const base of bases) this.#interface(base);
    const implemented = ['Entry', ...bases.map((base) => this.#interfaceName(base))].join(' & ');
    const name = this.#nameOf(type.name);
    this.#define(name, object(`type ${name} implements ${implemented}`, description, members));
  }

  /** The types that are in for others, which this one is: itself where others extend it, and those that it extends. */
  #basesOf(type: Type): readonly Type[] {
    return this.#exported.types.filter(({ name }) => {
      const accepted = this.#accepted(name);
      return accepted.length > 1 && accepted.includes(type.name);
    });
  }

  #accepted = (name: string): readonly string[] =>
    this.#model.context.acceptedAs(name).filter((accepted) => this.#types.has(accepted));

  #interfaceName = (type: Type): string => this.#named(`interface ${type.name}`, `Any${capital(type.name)}`);

  /** What all types have that extend one. */
  #interface(type: Type): void {
    const name = this.#interfaceName(type);
    if (this.#interfaces.has(name)) return;
    this.#interfaces.add(name);
    const ownMembers = [...type.fields.values()].map((field) => this.#member(field, ownerOf(field)));
    const description = `${type.label.many}, and what extends them.`;
    this.#define(name, object(`interface ${name} implements Entry`, description, distinctly([entryId, ...ownMembers])));
  }

  #query(): string {
    const members = this.#exported.types.flatMap(({ name: type, label, definition }): readonly Member[] => {
      const [name, ownName] = [this.#nameOf(type), fitted(type)];
      if (definition.single) return [{ name: ownName, typeText: name, about: label.one }];
      return [
        { name: `${ownName}(id: ID!)`, typeText: name, about: `One of the ${label.many}, by its identifier.` },
        { name: `all${capital(ownName)}(${pagingArguments})`, typeText: this.#page(name), about: label.many },
      ];
    });
    const definition = object('type Query', 'What readers can ask for.', distinctly(members));

    return [...this.#pages.values(), definition].join('\n');
  }

  /* ── fields ────────────────────────────────────────────────────────────────────────────────────────────────── */

  /** @param owner what the field is in, as a name begins. */
  #member(field: Field, owner: string): Member {
    const { common, label, name } = field;
    const ownName = name.slice(name.lastIndexOf('.') + 1);
    const help = wordsIn(common.help, this.#model.readingOrder);
    const single = this.#single(field, owner + capital(fitted(ownName)));
    const isReference = field.kind.isReference && field.kind.pointsAt(field.options).types.length > 0;
    const isNeeded = common.required !== undefined && common.when === undefined && !isReference;
    const isLong =
      common.many !== undefined && (common.many.max ?? Number.POSITIVE_INFINITY) > longestWhole && isReference;
    const language = common.localized ? 'language: Language' : '';
    const paging = isLong ? pagingArguments : '';
    const args = [language, paging].filter(Boolean).join(', ');
    const list = isLong ? this.#page(single) : `[${single}!]!`;
    const typeText = common.many ? list : `${single}${isNeeded ? '!' : ''}`;

    return {
      name: `${fitted(ownName)}${args === '' ? '' : `(${args})`}`,
      typeText,
      about: [
        help === undefined ? label : `${label}. ${help}`,
        fitted(ownName) === ownName ? '' : `\`${ownName}\` in the entries.`,
      ]
        .filter(Boolean)
        .join(' '),
    };
  }

  #single(field: Field, owner: string): string {
    const { kind, options, fields } = field;
    if (kind.maps) return this.#pairs(field, owner);
    if (kind.nests) {
      if (fields.size === 0) return 'Json';
      const name = this.#named(`object ${owner}`, owner);
      const members = [...fields.values()].map((field) => this.#member(field, owner));
      this.#define(name, object(`type ${name}`, field.label, distinctly(members)));
      return name;
    }

    const { types } = kind.pointsAt(options);
    if (kind.isReference) return this.#target(types, owner);

    const taxonomy = kind.taxonomy(options);
    if (taxonomy !== undefined) return this.#taxonomyName(taxonomy);
    if (kind.graphql) return kind.graphql.name;

    const members = kind.members(options, this.#model.readingOrder);
    if (members.length > 0) return this.#choices(members, { owner, label: field.label });
    return scalarOf(kind.stores(options, this.#model.context));
  }

  /** A group of keys that are data: pairs of a key and its value. */
  #pairs(field: Field, owner: string): string {
    const value = field.fields.get('value');
    const name = this.#named(`pairs ${owner}`, `${owner}Pair`);
    const typeText = value ? this.#member(value, `${owner}Value`).typeText : 'Json';
    const members: readonly Member[] = [
      { name: 'key', typeText: 'String!', about: '' },
      { name: 'value', typeText, about: '' },
    ];
    this.#define(name, object(`type ${name}`, `${field.label}: a key with its value.`, members));
    // Each key stands once; together they are a list.
    const list = this.#named(`map ${owner}`, `${owner}Map`);
    this.#define(list, object(`type ${list}`, field.label, [{ name: 'pairs', typeText: `[${name}!]!`, about: '' }]));

    return list;
  }

  #choices(
    members: readonly { readonly name: string; readonly label: string }[],
    { owner, label }: { readonly owner: string; readonly label: string },
  ): string {
    const name = this.#named(`choices ${owner}`, owner);
    const values = members.map(
      (member): Member => ({
        name: fitted(member.name),
        typeText: '',
        about:
          fitted(member.name) === member.name ? member.label : `${member.label}: \`${member.name}\` in the entries.`,
      }),
    );
    this.#define(name, enumeration(name, label, distinctly(values)));

    return name;
  }

  /** What a reference leads to: a type, what extends it, or one of several. */
  #target(types: readonly string[], owner: string): string {
    const knownTypes = types.filter((name) => this.#types.has(name));
    const [only] = knownTypes;
    if (only === undefined) return 'Entry';

    const type = this.#model.types.get(only);
    if (knownTypes.length === 1 && type)
      return this.#accepted(only).length > 1 ? this.#interfaceName(type) : this.#nameOf(only);

    const members = [...new Set(knownTypes.flatMap((name) => this.#accepted(name)))];
    const name = this.#named(`union ${owner}`, `${owner}Target`);
    this.#define(name, `union ${name} = ${members.map(this.#nameOf).join(' | ')}\n`);

    return name;
  }

  /* ── the other side of references ──────────────────────────────────────────────────────────────────────────── */

  #inversesOf(type: Type): readonly Inverse[] {
    return this.#exported.types.flatMap((from) =>
      fieldsWithin(from.fields).flatMap((field): readonly Inverse[] => {
        const { types, inverse, inverseMax } = field.kind.pointsAt(field.options);
        const isMeant = types.some((name) => this.#model.context.acceptedAs(name).includes(type.name));
        if (isMeant && inverse !== undefined) return [{ field, from, name: inverse, isOne: inverseMax === 1 }];
        return [];
      }),
    );
  }

  #inverse({ field, from, name, isOne }: Inverse): Member {
    const target = this.#nameOf(from.name);
    const words = name.split(/[^A-Za-z0-9]+/u).filter(Boolean);
    const ownName = fitted(words.map((word, index) => (index === 0 ? word : capital(word))).join(''));
    return {
      name: isOne ? ownName : `${ownName}(${pagingArguments})`,
      typeText: isOne ? target : this.#page(target),
      about: `${capital(name)}: ${from.label.many} that point here by ${field.label}.`,
    };
  }

  /** A page of a long list. */
  #page(itemType: string): string {
    const name = this.#named(`page ${itemType}`, `${itemType}Page`);
    const text = object(`type ${name}`, 'A page of a list, with what leads to the next one.', [
      { name: 'items', typeText: `[${itemType}!]!`, about: '' },
      { name: 'total', typeText: 'Int!', about: 'How many there are altogether.' },
      { name: 'next', typeText: 'String', about: 'What to say as `after` for the next page; null on the last one.' },
    ]);
    this.#pages.set(name, text);
    return `${name}!`;
  }

  /* ── taxonomies ────────────────────────────────────────────────────────────────────────────────────────────── */

  #isUsed = ({ name }: Taxonomy): boolean =>
    this.#exported.types.some(({ fields }) =>
      fieldsWithin(fields).some(({ kind, options }) => kind.taxonomy(options) === name),
    );

  #taxonomyName = (name: string): string => this.#named(`taxonomy ${name}`, `${capital(name)}Term`);

  #taxonomy({ name, label, definition }: Taxonomy): void {
    const about = wordsIn(definition.about, this.#model.readingOrder);
    const ownName = this.#taxonomyName(name);
    this.#define(
      ownName,
      object(`type ${ownName} implements Term`, `A term of ${label}.${about === undefined ? '' : ` ${about}`}`, [
        ...termMembers,
        { name: 'broader', typeText: `[${ownName}!]!`, about: 'The terms above it.' },
        { name: 'narrower', typeText: `[${ownName}!]!`, about: 'The terms below it.' },
      ]),
    );
  }
}
