import type { BuiltIn, Status } from '../definition/builtIn.ts';
import { wordsIn } from '../definition/wording.ts';
import { isEmpty } from '../entry/entry.ts';
import { isObject, type Json, type JsonObject } from '../plain/json.ts';
import { freeSlug } from '../plain/slugify.ts';
import { writeComment, writeInline, writeYaml } from '../source/write.ts';
import { askedLanguages } from './languages.ts';
import type { Field, Model, Type } from './link.ts';
import { placeholder } from './placeholder.ts';

/** A new entry as the text of a file, for an author to fill in. */
export interface Skeleton {
  /** `.md` where the type has a field that is the text of a Markdown file, else `.yaml`. */
  readonly ending: '.md' | '.yaml';
  readonly text: string;
  /** The values of its fields, the prose with them. */
  readonly values: JsonObject;
  /** The fields that wait to be filled. */
  readonly open: readonly string[];
}

/** Facts about a new entry before anybody writes it. */
export interface Start {
  readonly title: string | undefined;
  readonly status: Status;
  /** When it is made (RFC 3339). */
  readonly created: string;
  /** The keys of what every entry has where it is kept; undefined of what entries have none of. */
  readonly keyOf: (fact: BuiltIn) => string | undefined;
  /** The key of a field where it is kept. */
  readonly keyOfField: (name: string) => string;
  /** Whether another entry has a value in a field that must differ, in a language where it differs by that. */
  readonly isTaken: (field: string, value: string) => boolean;
}

/**
 * Writes a new entry: defaults where the model has them, placeholders where a value is required, the other fields as
 * comments, with what the model says to authors beside each.
 */
export function skeletonOf(type: Type, model: Model, start: Start): Skeleton {
  const { status, created, keyOf, keyOfField } = start;
  const { languages } = model.definition;
  const values: Record<string, Json> = {};
  const open: string[] = [];
  const lines = [
    ...(type.definition.guide === undefined ? [] : [writeComment(wordsIn(type.definition.guide, languages))]),
    writeYaml(builtInValues({ status, created }, keyOf)),
  ];
  let group: string | undefined;
  let prose = '';

  for (const field of inGroups(type)) {
    if (field.common.computed !== undefined) continue;

    const value = startOf(field, type, model, start);
    if (value !== undefined) values[field.name] = value;
    const isOpen = holdsPlaceholder(value);
    if (isOpen) open.push(field.name);
    if (field === type.body) {
      prose = typeof value === 'string' ? value : '';
      continue;
    }

    if (field.common.group !== undefined && field.common.group !== group) lines.push(`\n# ${field.common.group}\n`);
    else if (field.common.group === undefined && group !== undefined) lines.push('\n');
    group = field.common.group;
    const help = wordsIn(field.common.help, languages);
    if (help !== undefined) lines.push(writeComment(help));
    if (field.common.when !== undefined) lines.push(writeComment(`Only where ${field.common.when}`));
    const key = keyOfField(field.name);
    lines.push(value === undefined ? commentedOut(field, key) : writeYaml({ [key]: value }));
  }

  const text = lines.join('');
  if (!type.body) return { ending: '.yaml', text, values, open };
  return { ending: '.md', values, open, text: `---\n${text}---\n${prose === '' ? '' : `\n${prose}\n`}` };
}

/** What every entry has of itself. */
function builtInValues(stated: { readonly [K in BuiltIn]?: Json }, keyOf: Start['keyOf']): JsonObject {
  return Object.fromEntries(
    Object.entries(stated).flatMap(([name, value]) => {
      const key = keyOf(name as BuiltIn);
      if (key === undefined) return [];
      return [[key, value] as const];
    }),
  );
}

/** The fields of a type as they follow each other in a form: those of one group together, where its first one stands. */
function inGroups({ fields }: Type): readonly Field[] {
  const allFields = [...fields.values()];
  const groups = [...new Set(allFields.map(({ common }) => common.group))];
  return groups.flatMap((group) => allFields.filter(({ common }) => common.group === group));
}

/** What a field of a new entry starts with; `undefined` where it can stay away. */
function startOf(field: Field, type: Type, model: Model, { title, isTaken }: Start): Json | undefined {
  const { common, kind, options, name } = field;
  const isTitle = name === type.definition.titled;
  if (title !== undefined && isTitle) return inLanguages(title, field, model);

  const inside = type.definition.titled?.startsWith(`${name}.`)
    ? type.definition.titled.slice(name.length + 1)
    : undefined;
  if (title !== undefined && inside !== undefined)
    return inLanguages(titledObject(field, inside, title, model), field, model);
  // Whether it applies shows only once others are filled in.
  if (common.when !== undefined) return undefined;
  if (common.default !== undefined) return common.default;

  const { titled } = type.definition;
  const slug = title !== undefined && titled !== undefined && kind.made?.(options, { [titled]: title }, model.context);
  if (typeof slug === 'string')
    return inLanguages(
      freeSlug(slug, (candidate) => isTaken(name, candidate)),
      field,
      model,
    );
  if (common.required === undefined && !isTitle) return undefined;
  return inLanguages(one(field, model), field, model);
}

/** An object with the title inside it, and what else it needs at least. */
function titledObject(field: Field, path: string, title: string, model: Model): Json {
  const [key = '', ...deeper] = path.split('.');
  const inner = field.fields.get(key);
  if (!inner) return one(field, model);
  const value = deeper.length > 0 ? titledObject(inner, deeper.join('.'), title, model) : title;
  const least = one(field, model);
  return { ...(isObject(least) ? least : {}), [key]: inLanguages(value, inner, model) };
}

/** One value, or what a list or an object needs at least. */
function one(field: Field, model: Model): Json {
  const { common } = field;
  const single = singleOf(field, model);
  if (!common.many) return single;
  return Array.from({ length: Math.max(1, common.many.min ?? 1) }, () => single);
}

function singleOf(field: Field, model: Model): Json {
  const { kind, options, fields } = field;
  const hint = placeholder([kind.name, kind.gist(options)].filter(Boolean).join(', '));
  if (kind.maps) return { [placeholder('a key')]: hint };
  if (!kind.nests) return hint;
  return Object.fromEntries(
    [...fields].flatMap(([name, inner]) => {
      if (inner.common.default !== undefined) return [[name, inner.common.default]];
      if (inner.common.required === undefined) return [];
      return [[name, inLanguages(one(inner, model), inner, model)]];
    }),
  );
}

/** A value in each language that is requested: the main one has the known value, the others wait. */
function inLanguages(value: Json, field: Field, model: Model): Json {
  if (!field.common.localized) return value;
  return Object.fromEntries(
    askedLanguages(model.definition).map(({ language }, index) => [language, index === 0 ? value : one(field, model)]),
  );
}

function holdsPlaceholder(value: Json | undefined): boolean {
  if (value === undefined || isEmpty(value)) return false;
  if (typeof value === 'string') return value.startsWith(placeholder.start);
  return (isObject(value) || Array.isArray(value)) && Object.values(value).some(holdsPlaceholder);
}

/** A field that need not be filled, as a comment that shows how it would be. */
function commentedOut({ common, kind, options }: Field, key: string): string {
  const example = common.example ?? (common.many ? [] : undefined);
  const hint = [kind.name, kind.gist(options)].filter(Boolean).join(', ');
  if (example === undefined || isEmpty(example))
    return `# ${writeInline(key)}:  # ${common.many ? 'many ' : ''}${hint}\n`;
  return writeYaml({ [key]: example })
    .trimEnd()
    .split('\n')
    .map((line) => `# ${line}\n`)
    .join('');
}
