import type { Status } from '../definition/builtIn.ts';
import { wordsIn } from '../definition/wording.ts';
import { isEmpty } from '../entry/entry.ts';
import { isObject, type Json, own } from '../plain/json.ts';
import { slugify } from '../plain/slugify.ts';
import { writeComment, writeYaml } from '../source/write.ts';
import { askedLanguages } from './languages.ts';
import type { Field, Model, Type } from './link.ts';
import { placeholder } from './placeholder.ts';

/** A new entry as the text of a file, for an author to fill in. */
export interface Skeleton {
  /** `.md` where the type has a field that is the text of a Markdown file, else `.yaml`. */
  readonly ending: '.md' | '.yaml';
  readonly text: string;
  /** The fields that wait to be filled. */
  readonly open: readonly string[];
}

/** What is known of a new entry before anybody writes it. */
export interface Start {
  readonly title: string | undefined;
  readonly status: Status;
  /** When it is made (RFC 3339). */
  readonly created: string;
}

/**
 * Writes a new entry: defaults where the model has them, placeholders where a value is required, the other fields as
 * comments, with what the model says to authors beside each.
 */
export function skeletonOf(type: Type, model: Model, { title, status, created }: Start): Skeleton {
  const { languages } = model.definition;
  const open: string[] = [];
  const lines = [
    ...(type.definition.guide === undefined ? [] : [writeComment(wordsIn(type.definition.guide, languages))]),
    writeYaml({ status, created }),
  ];
  let group: string | undefined;
  let prose = '';

  for (const field of type.fields.values()) {
    const value = startOf(field, type, model, title);
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
    lines.push(value === undefined ? commentedOut(field) : writeYaml({ [field.name]: value }));
  }
  const text = lines.join('');
  if (!type.body) return { ending: '.yaml', text, open };
  return { ending: '.md', text: `---\n${text}---\n${prose === '' ? '' : `\n${prose}\n`}`, open };
}

/** What a field of a new entry starts with; `undefined` where it can stay away. */
function startOf(field: Field, type: Type, model: Model, title: string | undefined): Json | undefined {
  const { common, kind, options, name } = field;
  if (common.computed !== undefined) return undefined;
  if (common.default !== undefined) return common.default;
  const isTitle = name === type.definition.titled;
  if (title !== undefined && isTitle) return inLanguages(title, field, model);
  if (title !== undefined && kind.unique && own(options, 'from') === type.definition.titled) return slugify(title);
  if (common.required === undefined && !isTitle) return undefined;
  return inLanguages(one(field), field, model);
}

/** One value, or what a list or an object needs at least. */
function one(field: Field): Json {
  const { common, kind, options } = field;
  const single: Json = kind.nests
    ? Object.fromEntries(
        [...field.fields].flatMap(([name, inner]) => (inner.common.required === undefined ? [] : [[name, one(inner)]])),
      )
    : placeholder([kind.name, kind.gist(options)].filter(Boolean).join(', '));
  if (!common.many) return single;
  return Array.from({ length: Math.max(1, common.many.min ?? 1) }, () => single);
}

/** A value in each language that is asked for: the main one has what is known, the others wait. */
function inLanguages(value: Json, field: Field, { definition }: Model): Json {
  if (!field.common.localized) return value;
  return Object.fromEntries(
    askedLanguages(definition).map(({ language }, index) => [language, index === 0 ? value : one(field)]),
  );
}

function holdsPlaceholder(value: Json | undefined): boolean {
  if (value === undefined || isEmpty(value)) return false;
  if (typeof value === 'string') return value.startsWith(placeholder.start);
  return (isObject(value) || Array.isArray(value)) && Object.values(value).some(holdsPlaceholder);
}

/** A field that need not be filled, as a comment that shows how it would be. */
function commentedOut({ name, common, kind, options }: Field): string {
  const example = common.example ?? (common.many ? [] : undefined);
  const hint = [kind.name, kind.gist(options)].filter(Boolean).join(', ');
  return example === undefined || isEmpty(example)
    ? `# ${name}:  # ${common.many ? 'many ' : ''}${hint}\n`
    : writeYaml({ [name]: example })
        .trimEnd()
        .split('\n')
        .map((line) => `# ${line}\n`)
        .join('');
}
