import { type BuiltIn, type BuiltInNames, keysOfFacts, statuses } from '../../definition/builtIn.ts';
import { wordsIn } from '../../definition/wording.ts';
import type { Shape, TextShape } from '../../kinds/shape.ts';
import { askedLanguages, isAskedOncePublished } from '../../model/languages.ts';
import type { Field, Model, Type } from '../../model/link.ts';
import { ownValue } from '../../plain/json.ts';
import { capital } from '../../plain/words.ts';
import { factTime } from '../entrySchema.ts';
import { doc, fileHead, keyText, literal } from '../typescriptSource.ts';
import type { ExportFormat } from './define.ts';

export const zod: ExportFormat = {
  name: 'zod',
  about: 'Zod: schemas (of its version 4) that say of an entry alone what a check says',
  file: 'content.zod.ts',
  text: ({ workspace, model, types, factKeys, call }) =>
    [
      fileHead(workspace, call),
      helpers,
      factsText(factKeys),
      ...types.map((type) => typeText(type, model, factKeys)),
      // Names of types begin with a capital here, and names of ours do not: they never meet.
      `\n/** The schemas by the names of the types. */\nexport const schemas = {\n${types.map((type) => `  ${keyText(type.name)}: ${capital(type.name)},\n`).join('')}};\n`,
    ].join(''),
};

const helpers = `import { z } from 'zod';

/** What counts as no value: nothing, an empty text, list or group. */
const none = z.union([z.null(), z.literal(''), z.tuple([]), z.strictObject({})]);

type Is = (value: unknown) => boolean;

const isGiven: Is = (value) => value !== undefined && value !== null;

const isFilled: Is = (value) => value !== undefined && !none.safeParse(value).success;

/** That there is a value, and one in each of some languages. */
const inLanguages = (is: Is, ...languages: readonly string[]): Is => (value) =>
  isFilled(value) && languages.every((language) => is((value as Record<string, unknown>)[language]));

/** Characters as people count them. */
const hasLength = (min: number, max: number) => (text: string): boolean => {
  const length = [...text].length;
  return length >= min && length <= max;
};

/** Whether a date-time is of a day that exists. */
const hasDay = (text: string): boolean => z.iso.date().safeParse(text.slice(0, 10)).success;

const hasSize = (min: number, max: number) => (group: object): boolean => {
  const size = Object.keys(group).length;
  return size >= min && size <= max;
};

/** A value as a text that is the same for the same value, whatever the order of its keys. */
const told = (value: unknown): string =>
  JSON.stringify(value, (_, one: unknown) =>
    typeof one === 'object' && one !== null && !Array.isArray(one)
      ? Object.fromEntries(Object.entries(one).sort(([a], [b]) => (a < b ? -1 : 1)))
      : one,
  );

const isDistinct = (list: readonly unknown[]): boolean => new Set(list.map(told)).size === list.length;

/** The values that a published entry needs. */
const oncePublished = (statusKeys: readonly string[], fields: Readonly<Record<string, Is>>) =>
  (entry: object, context: z.RefinementCtx): void => {
    const values = entry as Record<string, unknown>;
    if (statusKeys.some((key) => isGiven(values[key]) && values[key] !== 'published')) return;
    for (const [name, is] of Object.entries(fields))
      if (!is(values[name])) context.addIssue({ code: 'custom', path: [name], message: 'Required once published' });
  };
`;

function typeText(type: Type, model: Model, factKeys: readonly BuiltInNames[]): string {
  const writer = new Writer(model);
  const fields = [...type.fields.values()];
  const name = capital(type.name);
  const about = wordsIn(type.definition.about, model.readingOrder);
  // A field of the type has the place of what every entry has: such an entry always counts as published.
  const statusKeys = keysOfFacts(factKeys).flatMap(([fact, key]) =>
    fact === 'status' && !type.fields.has(key) ? [literal(key)] : [],
  );
  const later = fields.filter(
    (field) => field.common.when === undefined && isAskedOncePublished(field.common, model.definition),
  );
  const members = ['  ...facts,\n', ...fields.map((field) => writer.line(field, field.name, 2))];
  const demand =
    later.length === 0
      ? ''
      : `.superRefine(\n  oncePublished([${statusKeys.join(', ')}], {\n${later.map((field) => `    ${keyText(field.name)}: ${writer.demand(field, 'published')},\n`).join('')}  }),\n)`;

  return [
    `\n${doc([`${type.label.many}${about === undefined ? '' : `: ${about}`}`], '')}`,
    `export const ${name} = z.strictObject({\n${members.join('')}})${demand};\n`,
    `export type ${name} = z.infer<typeof ${name}>;\n`,
  ].join('');
}

/** What every entry has of itself. */
function factsText(factKeys: readonly BuiltInNames[]): string {
  const lines = keysOfFacts(factKeys).map(([fact, key]) => `  ${keyText(key)}: ${factText(fact)}.optional(),\n`);
  return `\n/** What every entry has of itself. */\nconst facts = {\n  $schema: z.string().optional(),\n${lines.join('')}};\n`;
}

function factText(fact: BuiltIn): string {
  if (fact === 'status') return `z.enum([${statuses.map(literal).join(', ')}])`;
  if (fact === 'id' || fact === 'type') return 'z.union([z.string(), z.number()])';
  return `z.union([none, z.string().regex(${regularExpression(factTime)})])`;
}

/** Writes fields as members of a schema. */
class Writer {
  readonly #model: Model;

  constructor(model: Model) {
    this.#model = model;
  }

  /** A member. @param indent how deep it stands, in blanks. */
  line(field: Field, name: string, indent: number): string {
    const { common, label } = field;
    const isAsked = common.required === true && common.when === undefined;
    const gap = ' '.repeat(indent);
    const help = wordsIn(common.help, this.#model.readingOrder);
    const words = [
      help === undefined ? label : `${label}. ${help}`,
      ...(common.when === undefined ? [] : [`Only where ${common.when}.`]),
      ...(this.#hasSchema(field) ? ['Any JSON here: the JSON Schema of its own is not said again.'] : []),
    ];
    const value = `${this.value(field, indent)}${isAsked ? `.refine(${this.demand(field, true)}, 'Required')` : '.optional()'}`;

    return `${doc(words, gap)}${gap}${keyText(name)}: ${value},\n`;
  }

  /** A value, or none. */
  value(field: Field, indent: number): string {
    const { common } = field;
    const single = this.#single(field, indent);
    const text = common.many ? manyText(single, common.many) : single;
    const noneOf = common.mayBeEmpty ? 'z.null()' : 'none';
    if (!common.localized) return `z.union([${noneOf}, ${text}])`;

    const languages = this.#model.definition.languages.map(
      (language) => `${keyText(language)}: z.union([${noneOf}, ${text}]).optional()`,
    );

    return `z.union([none, z.strictObject({ ${languages.join(', ')} })])`;
  }

  /** What says whether it has the values that it has to have. @param when always, or once it is published. */
  demand({ common }: Field, when: true | 'published'): string {
    const check = common.mayBeEmpty ? 'isGiven' : 'isFilled';
    if (!common.localized) return check;
    const languages = askedLanguages(this.#model.definition)
      .filter(({ required }) => when === 'published' || required === true)
      .map(({ language }) => literal(language));

    return `inLanguages(${[check, ...languages].join(', ')})`;
  }

  #hasSchema({ kind, options }: Field): boolean {
    return !kind.maps && !kind.nests && kind.stores(options, this.#model.context).is === 'by schema';
  }

  #single(field: Field, indent: number): string {
    const { kind, options, fields } = field;
    if (kind.maps) return this.#map(field, indent);
    if (!kind.nests) return shapeText(kind.stores(options, this.#model.context));
    const members = [...fields].map(([name, field]) => this.line(field, name, indent + 2));
    return `z.strictObject({\n${members.join('')}${' '.repeat(indent)}})`;
  }

  #map({ fields, options }: Field, indent: number): string {
    const [keys, value] = [fields.get('keys'), fields.get('value')];
    const key = keys ? this.#single(keys, indent) : 'z.string()';
    const record = `z.partialRecord(${key}, ${value ? this.value(value, indent) : 'z.json()'})`;
    return sized(record, 'hasSize', ownValue(options, 'min'), ownValue(options, 'max'));
  }
}

function manyText(item: string, { min, max, distinct, orOne }: NonNullable<Field['common']['many']>): string {
  const list = [
    `z.array(${item})`,
    min === undefined ? '' : `.min(${min})`,
    max === undefined ? '' : `.max(${max})`,
    distinct ? `.refine(isDistinct, 'The same twice')` : '',
  ].join('');
  if (orOne && (min ?? 0) < 2) return `z.union([${item}, ${list}])`;
  return list;
}

function shapeText(shape: Shape): string {
  switch (shape.is) {
    case 'text':
      return textText(shape);
    case 'number':
    case 'integer':
      if (shape.values) return `z.literal([${shape.values.join(', ')}])`;
      return `z.${shape.is === 'integer' ? 'int' : 'number'}()${bound('min', shape.min)}${bound('max', shape.max)}`;
    case 'boolean':
      return 'z.boolean()';
    case 'one of':
      if (shape.values.length > 0) return `z.enum([${shape.values.map(literal).join(', ')}])`;
      return 'z.never()';
    case 'keys': {
      const members = Object.entries(shape.keys).map(
        ([key, inner]) => `${keyText(key)}: ${shapeText(inner)}${shape.optional?.includes(key) ? '.optional()' : ''}`,
      );
      return `z.${shape.isOpen ? 'looseObject' : 'strictObject'}({ ${members.join(', ')} })`;
    }
    case 'list':
      return 'z.array(z.json())';
    case 'either':
      return `z.union([${shape.shapes.map(shapeText).join(', ')}])`;
    case 'anything':
    case 'by schema':
      return 'z.json()';
  }
}

/** A text, with its limits; a day is one that exists. */
function textText({ format, min, max, patterns = [] }: TextShape): string {
  const text = format === 'date' ? 'z.iso.date()' : 'z.string()';
  const calls = patterns.map((pattern) => `.regex(${regularExpression(pattern)})`).join('');
  const day = format === 'date-time' ? `.refine(hasDay, 'There is no such day')` : '';
  return sized(`${text}${calls}${day}`, 'hasLength', min, max);
}

const regularExpression = (pattern: string): string => String(new RegExp(pattern, 'u'));

const bound = (name: 'min' | 'max', value: number | undefined): string => {
  if (value === undefined) return '';
  return `.${name}(${value})`;
};

function sized(text: string, by: 'hasLength' | 'hasSize', min: unknown, max: unknown): string {
  if (min === undefined && max === undefined) return text;
  const bounds = [min === undefined ? [] : [`at least ${min}`], max === undefined ? [] : [`at most ${max}`]].flat();
  return `${text}.refine(${by}(${min ?? 0}, ${max ?? 'Infinity'}), ${literal(bounds.join(', '))})`;
}
