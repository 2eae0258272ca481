import { type BuiltIn, type BuiltInNames, keysOfFacts, statuses } from '../../definition/builtIn.ts';
import { wordsIn } from '../../definition/wording.ts';
import type { Shape } from '../../kinds/shape.ts';
import { askedLanguages } from '../../model/languages.ts';
import type { Field, Model, Type } from '../../model/link.ts';
import type { Json } from '../../plain/json.ts';
import { capital } from '../../plain/words.ts';
import { doc, fileHead, keyText, literal } from '../typescriptSource.ts';
import type { ExportFormat } from './define.ts';

export const typescript: ExportFormat = {
  name: 'typescript',
  about: 'TypeScript: each type as its entries are stored, and as they are once published',
  file: 'content.ts',
  text: ({ workspace, model, types, factKeys, call }) => {
    const names = new Names(model);
    return [
      fileHead(workspace, call),
      helpers(names),
      facts(names, factKeys),
      ...types.map((type) => typeText(type, model, names, factKeys)),
      together(types, names),
    ].join('');
  },
};

/** What types are called in TypeScript, and what helps them, so that no two are called the same. */
class Names {
  readonly #taken: Set<string>;

  constructor({ types }: Model) {
    this.#taken = new Set([...types.keys()].flatMap((name) => [capital(name), `Published${capital(name)}`]));
  }

  of({ name }: Type): string {
    return capital(name);
  }

  published({ name }: Type): string {
    return `Published${capital(name)}`;
  }

  /** A name of ours, with a sign behind it where a type of the model has it. */
  ours(name: string): string {
    if (!this.#taken.has(name)) return name;
    return `${name}_`;
  }
}

const helpers = (names: Names): string => `/** What counts as no value. */
export type ${names.ours('None')} = null | '';

/** Any JSON. */
export type ${names.ours('Json')} = null | boolean | number | string | readonly ${names.ours('Json')}[] | { readonly [key: string]: ${names.ours('Json')} };

declare const entryOf: unique symbol;

/** The identifier of an entry of a type. A text may stand for it; the identifier of an entry of another type may not. */
export type ${names.ours('Id')}<T extends string> = string & { readonly [entryOf]?: T };

`;

/** What every entry has of itself. */
function facts(names: Names, factKeys: readonly BuiltInNames[]): string {
  const shapes: Readonly<Record<BuiltIn, string>> = {
    id: 'string | number',
    type: 'string',
    status: statuses.map((status) => `'${status}'`).join(' | '),
    created: 'string',
    changed: 'string',
    publicFrom: 'string',
    publicUntil: 'string',
  };
  const lines = keysOfFacts(factKeys).map(([fact, key]) => `  readonly ${keyText(key)}?: ${shapes[fact]} | null;\n`);

  return `/** What every entry has of itself. */\nexport interface ${names.ours('EntryFacts')} {\n${lines.join('')}}\n`;
}

function typeText(type: Type, model: Model, names: Names, factKeys: readonly BuiltInNames[]): string {
  const writer = new Writer(model, names);
  const fields = [...type.fields.values()];
  const name = names.of(type);
  const about = wordsIn(type.definition.about, model.readingOrder);
  const later = fields.filter(({ common: { required, when } }) => required === 'published' && when === undefined);
  const facts = keysOfFacts(factKeys);
  // A field of the type has the place of what every entry has.
  const hidden = facts.flatMap(([, key]) => (type.fields.has(key) ? [key] : []));
  const base =
    hidden.length === 0
      ? names.ours('EntryFacts')
      : `Omit<${names.ours('EntryFacts')}, ${hidden.map(literal).join(' | ')}>`;
  const published = [
    ...facts.flatMap(([fact, key]) =>
      fact === 'status' && !hidden.includes(key) ? [`  readonly ${keyText(key)}?: 'published' | null;\n`] : [],
    ),
    ...later.map((field) => `  readonly ${keyText(field.name)}: ${writer.value(field, 'needed', 2)};\n`),
  ];

  return [
    `\n${doc([`${type.label.many}${about === undefined ? '' : `: ${about}`}`], '')}`,
    `export interface ${name} extends ${base} {\n${fields.map((field) => writer.line(field, 2)).join('')}}\n`,
    `\n${doc([`The same once it is published${later.length === 0 ? '' : `: with ${later.map((field) => field.name).join(', ')}`}.`], '')}`,
    `export interface ${names.published(type)} extends ${name} {\n${published.join('')}}\n`,
  ].join('');
}

/** Names that find each type. */
function together(types: readonly Type[], names: Names): string {
  const map = (name: string, textOf: (type: Type) => string): string =>
    `export interface ${name} {\n${types.map((type) => `  readonly ${keyText(type.name)}: ${textOf(type)};\n`).join('')}}\n`;
  return [
    `\n/** The entries by the names of their types. */\n${map(names.ours('Entries'), (type) => names.of(type))}`,
    `\n/** The published ones. */\n${map(names.ours('PublishedEntries'), (type) => names.published(type))}`,
    `\nexport type ${names.ours('TypeName')} = keyof ${names.ours('Entries')};\n`,
  ].join('');
}

/* ── fields ──────────────────────────────────────────────────────────────────────────────────────────────────── */

/** Whether a value has to be there. */
type Need = 'needed' | 'free';

/** Writes fields as members of an interface. */
class Writer {
  readonly #model: Model;
  readonly #names: Names;

  constructor(model: Model, names: Names) {
    this.#model = model;
    this.#names = names;
  }

  /** A member with what authors are reported of it. @param indent how deep it stands, in blanks. */
  line(field: Field, indent: number): string {
    const { common, name } = field;
    const isNeeded = common.required === true && common.when === undefined && common.computed === undefined;
    const gap = ' '.repeat(indent);
    const value = this.value(field, isNeeded ? 'needed' : 'free', indent);
    return `${doc(this.#words(field), gap)}${gap}readonly ${keyText(name.slice(name.lastIndexOf('.') + 1))}${isNeeded ? '' : '?'}: ${value};\n`;
  }

  value(field: Field, need: Need, indent: number): string {
    const { common } = field;
    const single = this.#single(field, indent);
    const many = common.many ? listOf(single, common.many.orOne === true) : single;
    const none = common.mayBeEmpty ? 'null' : this.#names.ours('None');
    if (!common.localized) return need === 'needed' ? many : `${many} | ${none}`;

    const requiredNames = new Set(
      askedLanguages(this.#model.definition).flatMap(({ language, required }) => (required === true ? [language] : [])),
    );
    const members = this.#model.definition.languages.map((language) =>
      need === 'needed' && requiredNames.has(language)
        ? `readonly ${keyText(language)}: ${many}`
        : `readonly ${keyText(language)}?: ${many} | ${none}`,
    );
    const objectText = `{ ${members.join('; ')} }`;

    if (need === 'needed') return objectText;
    return `${objectText} | ${this.#names.ours('None')}`;
  }

  #single(field: Field, indent: number): string {
    const { kind, options, fields } = field;
    const { context } = this.#model;
    if (kind.maps) {
      const value = fields.get('value');
      return `{ readonly [key: string]: ${value ? this.value(value, 'free', indent) : this.#names.ours('Json')} }`;
    }
    if (kind.nests)
      return `{\n${[...fields.values()].map((field) => this.line(field, indent + 2)).join('')}${' '.repeat(indent)}}`;

    const { types } = kind.pointsAt(options);
    const { isReference } = kind;
    if (!isReference || types.length === 0) return this.#shape(kind.stores(options, context));

    const addresses = types.flatMap((name) => context.acceptedAs(name)).map((name) => `\`${name}/\${string}\``);
    const [only] = types;

    if (types.length === 1 && only !== undefined)
      return [`${this.#names.ours('Id')}<${literal(only)}>`, ...addresses].join(' | ');
    return addresses.join(' | ');
  }

  #shape(shape: Shape): string {
    switch (shape.is) {
      case 'text':
        return 'string';
      case 'number':
      case 'integer':
        if (!shape.values) return 'number';
        return shape.values.join(' | ') || 'never';
      case 'boolean':
        return 'boolean';
      case 'one of':
        return shape.values.map(literal).join(' | ') || 'never';
      case 'keys': {
        const members = Object.entries(shape.keys).map(
          ([key, inner]) =>
            `readonly ${keyText(key)}${shape.optional?.includes(key) ? '?' : ''}: ${this.#shape(inner)}`,
        );
        const openKey = shape.isOpen ? [`readonly [key: string]: ${this.#names.ours('Json')}`] : [];
        return `{ ${[...members, ...openKey].join('; ')} }`;
      }
      case 'list':
        return `readonly ${this.#names.ours('Json')}[]`;
      case 'either':
        return [...new Set(shape.shapes.map((shape) => this.#shape(shape)))].join(' | ');
      case 'anything':
      case 'by schema':
        return this.#names.ours('Json');
    }
  }

  /** What authors are reported, and what a type cannot say. */
  #words({ label, kind, options, common }: Field): readonly string[] {
    const { readingOrder } = this.#model;
    const help = wordsIn(common.help, readingOrder);
    const gist = kind.gist(options);
    const labels = kind.members(options, readingOrder).filter(({ name, label: words }) => name !== words);

    return [
      help === undefined ? label : `${label}. ${help}`,
      ...(gist === '' ? [kind.name] : [`${kind.name}, ${gist}`]),
      ...(labels.length === 0 ? [] : [labels.map(({ name, label: words }) => `${name}: ${words}`).join('; ')]),
      ...(common.required === 'published' ? ['Required once published.'] : []),
      ...(common.when === undefined ? [] : [`Only where ${common.when}.`]),
      ...(common.computed === undefined ? [] : ['Computed: nobody writes it.']),
      ...(common.example === undefined ? [] : [`@example ${exampleText(common.example)}`]),
    ];
  }
}

const listOf = (typeText: string, orOne: boolean): string => {
  const list = `readonly (${typeText})[]`;
  if (!orOne) return list;
  return `${typeText} | ${list}`;
};

const exampleText = (value: Json): string => {
  if (typeof value === 'string') return value;
  return JSON.stringify(value);
};
