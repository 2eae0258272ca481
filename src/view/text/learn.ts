import { isName, nameRule } from '../../core/definition/address.ts';
import { isDeviceName } from '../../core/definition/deviceNames.ts';
import { isReference } from '../../core/kinds/traits.ts';
import { shellWord } from '../../core/plain/shellWord.ts';
import { count, groupThousands, list, listSome, quote } from '../../core/plain/words.ts';
import { addressesOf, namesBeside, type Open } from '../../tasks/learn/answers.ts';
import type { LearnResult } from '../../tasks/learn/result.ts';
import type { LearnIntoResult } from '../../tasks/learnInto.ts';
import type { LearnSchemaResult } from '../../tasks/learnSchema.ts';
import { type Column, glyphs, type Look, next, padRight, table, wrap } from '../look.ts';

/** The learnt model, what speaks against it, and omitted parts. */
export function learnText(result: LearnResult, look: Look): string {
  const { types, taxonomies, kits, files, errors, warnings } = result;
  const { paint, width } = look;
  const entries = types.reduce((sum, type) => sum + type.entries, 0);
  const fields = types.reduce((sum, type) => sum + type.fields.length, 0);
  const heading = `${paint.good(glyphs.fine)} ${paint.strong(`Learnt from ${count(entries, 'entry', 'entries')}`)}: ${count(types.length, 'type')}, ${count(fields, 'field')}, ${kits.length > 0 ? `${count(kits.length, 'kit')}, ` : ''}${count(taxonomies.length, 'taxonomy', 'taxonomies')}, in ${count(files.length, 'file')}\n`;
  const oddities =
    errors + warnings === 0
      ? `\n${paint.good(glyphs.fine)} Every entry obeys it\n`
      : `\n${paint.warn(glyphs.warn)} ${paint.strong(count(errors, 'error'))}${warnings > 0 ? `, ${count(warnings, 'warning')}` : ''}: the odd ones out\n\n${oddText(result, look)}`;
  const remaining = leftLines(result);

  return [
    heading,
    unreadableText(result, look),
    typesText(result, look),
    kitsText(result, look),
    `\n  ${paint.soft(`what speaks for each guess stands above it in model/${kits.length > 0 ? '' : 'types/'}`)}\n`,
    languagesText(result, look) + identifiersText(result, look) + keysText(result, look),
    questionsText(result, look),
    oddities,
    remaining.length > 0 ? '\n' : '',
    ...remaining.map((line) => `${paint.warn(glyphs.warn)} ${wrap(line, width - 2, '  ')}\n`),
    errors + warnings === 0
      ? next('lumbrik show', 'to look at it; then lumbrik advice, for what may be better', look)
      : next('lumbrik check', 'for the odd ones out; then lumbrik advice, for what may be better', look),
  ].join('');
}

/** The types with their targets; of a few, their fields with what speaks for each. */
function typesText({ types }: LearnResult, look: Look): string {
  const { paint } = look;
  if (types.length <= fewTypes) return types.map((type) => `\n${typeText(type, look)}`).join('');

  const columns: readonly Column[] = [
    { title: 'Type' },
    { title: 'Entries', align: 'right' },
    { title: 'Fields', align: 'right' },
    { title: 'Titled by' },
    { title: 'Points at', flex: true },
  ];
  const rows = types.map(({ type, entries, titled = '', fields }) => [
    paint.name(type),
    groupThousands(entries),
    groupThousands(fields.length),
    titled,
    [
      ...new Set(
        fields.flatMap(({ says: definition }) => (isReference(definition) ? [definition.to].flat().map(String) : [])),
      ),
    ].join(', '),
  ]);
  const doubts = types.flatMap(({ type, fields }) =>
    fields.flatMap(({ field, says: definition, evidence, against }) =>
      against > 0 ? [[paint.name(`${type}.${field}`), saysText(definition), evidence]] : [],
    ),
  );
  const doubtful: readonly Column[] = [{ title: 'In doubt' }, { title: 'Learnt' }, { title: 'Evidence', flex: true }];

  return `\n${table(columns, rows, look)}\n${doubts.length === 0 ? '' : `\n${table(doubtful, doubts, look)}\n`}`;
}

/** The languages of the workspace, with what speaks for them. */
function languagesText({ languages, languagesBecause }: LearnResult, { paint, width }: Look): string {
  const line = `${languages.length === 1 ? 'language' : 'languages'}: ${listSome(languages, 8)}. ${languagesBecause}`;
  return `  ${paint.soft(wrap(line, width - 2, '  '))}\n`;
}

/** The keys that became identifiers: where one key did everywhere, without the places. */
function identifiersText({ identifiers }: LearnResult, { paint, width }: Look): string {
  const names = [...new Set(identifiers.map(({ key }) => key))];
  const [only] = names;
  if (only === undefined) return '';
  const places = identifiers.map(({ key, place }) => `\`${key}\` in ${place}`);
  const line = `the identifier of an entry is ${names.length === 1 ? `\`${only}\`` : listSome(places, 3)}`;
  return `  ${paint.soft(wrap(line, width - 2, '  '))}\n`;
}

/** What fields are called that the entries call otherwise. */
function keysText({ keys }: LearnResult, { paint, width }: Look): string {
  if (keys.length === 0) return '';
  const called = keys.map(({ key }) => quote(key, 30));
  const fields = keys.map(({ field }) => field);
  const line = `no field can be called ${listSome(called, 3, 'or')}: in the model ${keys.length === 1 ? 'it is' : 'they are'} ${listSome(fields, 3)}, as \`fields\` in lumbrik.yaml says; the entries keep their keys`;
  return `  ${paint.soft(wrap(line, width - 2, '  '))}\n`;
}

/** So many open questions are reported; all of them are in the files, and in the result. */
const mostOpen = 12;

/** Uncertain parts, and what is taken of it. */
function questionsText({ questions, workspace, files }: LearnResult, look: Look): string {
  if (questions.length === 0) return '';

  const { paint, width } = look;
  const columns: readonly Column[] = [
    { title: 'Open' },
    { title: 'Question', flex: true },
    { title: 'Taken' },
    { title: 'Or' },
  ];
  const rows = questions
    .slice(0, mostOpen)
    .map(({ address, alike, asks, answers: [chosen, ...rest] }) => [
      listSome([paint.name(address), ...namesBeside(alike)], 4),
      asks,
      chosen?.as ?? '',
      rest.map(({ as }) => as).join(', '),
    ]);
  const more = questions.length - rows.length;
  const [first] = questions;
  const below = (file: string): string => {
    if (workspace === '.') return file;
    return `${workspace}/${file}`;
  };
  const written = ['model/', ...files.filter((file) => !file.startsWith('model/'))].map(below);
  const hint = `${more > 0 ? `and ${count(more, 'more')}; ` : ''}each stands above its field, with what to write instead; or take ${listSome(written, 4)} away, and learn anew with --as ${first ? shellWord(addressesOf(first)) : ''}=${first?.answers[1]?.as}`;

  return `\n${table(columns, rows, look)}\n\n  ${paint.soft(wrap(hint, width - 2, '  '))}\n`;
}

/** What is reported above a question that is asked. */
export const openQuestionText = ({ address, alike }: Open, remaining: number, { paint }: Look): string =>
  `\n${paint.soft(count(remaining, 'question'))}\n${list([paint.name(address), ...namesBeside(alike)])}\n`;

/** What each answer to it means. */
export function openAnswerTexts({ answers }: Open): readonly string[] {
  const longest = Math.max(...answers.map(({ as }) => as.length));
  return answers.map(({ as, why: reason }) => `${padRight(as, longest)}  ${reason}`);
}

/** The groups of fields that are kept once. */
function kitsText({ kits }: LearnResult, look: Look): string {
  if (kits.length === 0) return '';
  const columns: readonly Column[] = [{ title: 'Kit' }, { title: 'In' }, { title: 'Fields', flex: true }];
  const rows = kits.map(({ kit, fields, types }) => [look.paint.name(kit), listSome(types), fields.join(', ')]);
  return `\n${table(columns, rows, look)}\n`;
}

/** Of so many types all fields are reported; of more, they are in the files that were written. */
const fewTypes = 3;

function typeText({ type, entries, titled, fields }: LearnResult['types'][number], look: Look): string {
  const { paint } = look;
  const columns: readonly Column[] = [{ title: 'Field' }, { title: 'Learnt' }, { title: 'Evidence', flex: true }];
  const rows = fields.map(({ field, says: definition, evidence, against }) => [
    paint.name(field),
    saysText(definition),
    against > 0 ? evidence : paint.soft(evidence),
  ]);
  const note = [count(entries, 'entry', 'entries'), titled === undefined ? '' : `titled by ${titled}`]
    .filter(Boolean)
    .join(', ');

  return `${paint.strong(type)}  ${paint.soft(note)}\n\n${table(columns, rows, look)}\n`;
}

/** `text !`, `many term, in each language`: in few words what a field is. */
function saysText({
  kind,
  required,
  when,
  many,
  localized,
  unique,
  to,
  taxonomy,
}: LearnResult['types'][number]['fields'][number]['says']): string {
  const target = isReference({ kind }) ? ` ${glyphs.arrow} ${[to].flat().map(String).join(' | ')}` : '';
  const terms = typeof taxonomy === 'string' ? ` of ${taxonomy}` : '';
  return [
    `${many === undefined ? '' : 'many '}${String(kind)}${target}${terms}`,
    ...(localized === true ? ['by language'] : []),
    ...(unique === true ? ['unique'] : []),
    ...(required === true ? [when === undefined ? 'required' : 'under a condition'] : []),
  ].join(', ');
}

function oddText({ summary }: LearnResult, look: Look): string {
  const columns: readonly Column[] = [
    { title: '', align: 'right' },
    { title: 'Finding' },
    { title: 'Meaning', flex: true },
    { title: 'For example' },
  ];
  const rows = summary.map(({ finding, count: times, about, example }) => [
    groupThousands(times),
    finding,
    look.paint.soft(about),
    look.paint.name(example),
  ]);

  return `${table(columns, rows, look)}\n`;
}

/** Why entries cannot make a type of a name. */
function whyUnfit(name: string): string {
  if (!isName(name)) return nameRule;
  if (isDeviceName(name)) return 'it is the name of a device on some systems, and no file can be called so there';
  return 'another one is called so but for large and small letters, and their files would be one on some systems';
}

/** What is in no field, no type and no entry, in sentences. */
const leftLines = ({ unfit, left: remaining, alikeTypes }: LearnResult): readonly string[] => [
  ...(alikeTypes.length === 0
    ? []
    : [
        `\`type\` is a field here: entries with ${listSome(alikeTypes, 4)} have the same keys. Where these are types, take what was written away, and learn anew with --type type.`,
      ]),
  ...unfit.map((name) => `No type can be called “${name}”, so its entries are in none: ${whyUnfit(name)}.`),
  ...remaining.map(
    ({ file, keys = [], because }) =>
      `${keys.length > 0 ? `${listSome(keys, 5)} of ` : ''}${file} ${keys.length > 1 ? 'were' : 'was'} left out: ${because}.`,
  ),
];

/** What could not be read, before anything that was learnt without it. */
function unreadableText({ unreadable, unreadableAt }: LearnResult, { paint, width }: Look): string {
  if (unreadable === 0) return '';
  const such = unreadable > unreadableAt.length ? ', such as ' : ': ';
  const where = unreadableAt.length === 0 ? '' : such + list(unreadableAt);
  const line = `${count(unreadable, 'file or line', 'files or lines')} could not be read as ${unreadable === 1 ? 'an entry' : 'entries'}, and nothing was learnt from ${unreadable === 1 ? 'it' : 'them'}${where}`;
  return `\n${paint.bad(glyphs.wrong)} ${wrap(line, width - 2, '  ')}\n`;
}

/** So many things are reported that a model cannot say; all of them are in the result. */
const mostUnsaid = 20;

/** The model of a schema, and what of the schema is not in it. */
export function learnSchemaText({ workspace, types, files, unsaid }: LearnSchemaResult, look: Look): string {
  const { paint } = look;
  const fields = types.reduce((sum, type) => sum + type.fields, 0);
  const rows = unsaid.slice(0, mostUnsaid).map(({ at: address, says: message }) => [paint.name(address), message]);
  const more = unsaid.length - rows.length;

  return [
    `${paint.good(glyphs.fine)} ${paint.strong(workspace === '.' ? 'A model' : workspace)} is new: ${count(types.length, 'type')}, ${count(fields, 'field')}, in ${count(files.length, 'file')}\n`,
    unsaid.length === 0
      ? ''
      : `\n${paint.warn(glyphs.warn)} ${paint.strong('What the schema says and the model does not')}\n\n${table([{ title: 'Where' }, { title: 'It', flex: true }], rows, look)}\n${more > 0 ? `  and ${count(more, 'more', 'more')}: --format json has all\n` : ''}`,
    next(
      `lumbrik show${workspace === '.' ? '' : ` --workspace ${shellWord(workspace)}`}`,
      'the types with their fields',
      look,
    ),
  ].join('');
}

/** What entries show beyond their model, with the outcome for its files. */
export function learnIntoText({ proposals, files, isWritten }: LearnIntoResult, look: Look): string {
  const { paint } = look;
  if (proposals.length === 0) return `${paint.good(glyphs.fine)} The model says all that the entries show\n`;

  const rows = proposals.map(({ address, says: message, evidence, open }) => [
    paint.name(address),
    message,
    open === undefined ? evidence : `${evidence}; ${open}`,
  ]);
  const patches = files.map(({ patch }) => `\n${patchText(patch, look)}`).join('');
  const end = isWritten
    ? `\n${paint.good(glyphs.fine)} ${paint.strong(count(files.length, 'file'))} changed\n${next('lumbrik diff', 'what that does to the entries', look)}`
    : next('lumbrik learn --into --write', 'writes it into the model', look);

  return `${table([{ title: 'New' }, { title: 'Learnt' }, { title: 'Evidence', flex: true }], rows, look)}\n${patches}${files.length === 0 ? '' : end}`;
}

/** A difference of a text, its lines in the colours of what comes and goes. */
const patchText = (patch: readonly string[], { paint }: Look): string =>
  patch
    .map((line) => {
      if (/^(?:---|\+\+\+|@@)/u.test(line)) return `${paint.soft(line)}\n`;
      if (line.startsWith('+')) return `${paint.good(line)}\n`;
      return `${line.startsWith('-') ? paint.bad(line) : line}\n`;
    })
    .join('');
