import { keyOfField } from '../../core/definition/fieldName.ts';
import { isObject } from '../../core/plain/json.ts';
import { count, groupThousands, humanize, pluralize } from '../../core/plain/words.ts';
import type { ShowResult } from '../../tasks/show/result.ts';
import { clip, glyphs, type Look, next, oneLine, padRight, sayPointer, table, wrap } from '../look.ts';
import { contentStateText } from './contentState.ts';
import { taxonomyTree } from './taxonomyTree.ts';

/** Whatever `show` was requested. */
export function showText(result: ShowResult, look: Look): string {
  switch (result.what) {
    case 'workspace':
      return workspaceText(result, look);
    case 'type':
      return typeText(result, look);
    case 'field':
      return fieldText(result, look);
    case 'shared':
      return sharedText(result, look);
    case 'taxonomy':
      return taxonomyTree(result, look);
    case 'entry':
      return entryText(result, look);
  }
}

type Shown<W extends ShowResult['what']> = Extract<ShowResult, { what: W }>;

/* ── the workspace ───────────────────────────────────────────────────────────────────────────────────────────── */

function workspaceText(result: Shown<'workspace'>, look: Look): string {
  const { paint } = look;
  const { workspace, languages, revision, types, taxonomies } = result;
  const links = (pointing: (typeof types)[number]['pointsAt']): string =>
    pointing.map(({ type, count: number }) => `${type} ${paint.soft(groupThousands(number))}`).join(', ');
  const recorded = revision
    ? `revision ${revision.revision}, version ${revision.version}  ${paint.soft(clip(revision.message, look.width - 40))}`
    : 'not recorded yet';
  const hasLabels = types.some(({ name, label }) => label !== pluralize(humanize(name)));
  const typeRows = types.map((type) => [
    paint.name(type.name),
    ...(hasLabels ? [type.label] : []),
    groupThousands(type.entries),
    String(type.fields),
    links(type.pointsAt),
    links(type.pointedAtBy),
  ]);
  const taxonomyRows = taxonomies.map((taxonomy) => [
    paint.name(`${taxonomy.name}:`),
    groupThousands(taxonomy.terms),
    groupThousands(taxonomy.uses),
    paint.soft(taxonomy.about ?? ''),
  ]);

  return [
    `${paint.strong(workspace)}  ${paint.soft(languages.join(', '))}\n${recorded}\n`,
    types.length > 0
      ? `\n${table([{ title: 'Type' }, ...(hasLabels ? [{ title: 'Label' }] : []), { title: 'Entries', align: 'right' }, { title: 'Fields', align: 'right' }, { title: 'Points at' }, { title: 'Pointed at by', flex: true }], typeRows, look)}\n`
      : '\n  No types yet: write the first in model/types/.\n',
    taxonomies.length > 0
      ? `\n${table([{ title: 'Taxonomy' }, { title: 'Terms', align: 'right' }, { title: 'Uses', align: 'right' }, { title: '', flex: true }], taxonomyRows, look)}\n`
      : '',
    kitsText(result.kits, look),
    changedText(result, look),
    healthText(result, look),
    contentStateText(result.standing, look),
  ].join('');
}

function kitsText(kits: Shown<'workspace'>['kits'], look: Look): string {
  if (kits.length === 0) return '';

  const rows = kits.map(({ name, fields, usedBy }) => [
    look.paint.name(name),
    String(fields),
    usedBy.length > 0 ? usedBy.join(', ') : look.paint.soft('nobody'),
  ]);

  return `\n${table([{ title: 'Kit' }, { title: 'Fields', align: 'right' }, { title: 'Used by', flex: true }], rows, look)}\n`;
}

const changesShown = 6;

function changedText({ changed, revision, standing: state }: Shown<'workspace'>, look: Look): string {
  if (changed.length === 0 || !revision) return '';

  const { paint, width } = look;
  const rows = changed
    .slice(0, changesShown)
    .map(({ address, says: message }) => `  ${paint.name(address)}  ${clip(message, width - address.length - 4)}`);
  const more = changed.length > changesShown ? [`  ${paint.soft(`and ${changed.length - changesShown} more`)}`] : [];
  const onward =
    state.state === 'here'
      ? next('lumbrik seal -m "…"', 'to record them; the entries obey them already', look)
      : next('lumbrik diff', 'to see their effect on entries', look);

  return `\n${paint.strong(count(changed.length, 'change'))} since revision ${revision.revision}\n${[...rows, ...more].join('\n')}\n${onward}`;
}

function healthText({ errors, warnings, standing: state }: Shown<'workspace'>, look: Look): string {
  const { paint } = look;
  // Against a model that the entries have not reached yet, their errors are no news.
  if (state.state === 'behind') return '';
  if (errors > 0)
    return `\n${paint.bad(glyphs.wrong)} ${count(errors, 'error')} in the entries\n${next('lumbrik check', 'where, and how to mend them', look)}`;
  if (warnings > 0)
    return `\n${paint.warn(glyphs.warn)} ${count(warnings, 'warning')} in the entries\n${next('lumbrik check', 'tells which they are', look)}`;
  return '';
}

/* ── types and fields ────────────────────────────────────────────────────────────────────────────────────────── */

type FieldShown = Shown<'field'>['field'];

const requiredWord = (field: FieldShown): string => {
  if (field.computed) return 'computed';
  return { always: 'required', published: 'once published' }[field.required as 'always'] ?? '';
};
const kindWord = ({ kind, many }: FieldShown): string => {
  if (!many) return kind;
  return `many ${kind}`;
};

function typeText(result: Shown<'type'>, look: Look): string {
  const { paint, width } = look;
  const { label, name, about, guide, groups, fields, entries, titled, inverses, single, rules } = result;
  const heading = `${paint.strong(label.many)}  ${paint.name(name)}  ${paint.soft(`${single ? 'exactly one, ' : ''}${count(entries, 'entry', 'entries')}, ${count(fields.length, 'field')}${groups.length > 0 ? `, groups ${groups.join(', ')}` : ''}`)}\n`;

  return [
    heading,
    about === undefined ? '' : `  ${wrap(about, width - 2, '  ')}\n`,
    guide === undefined ? '' : `  ${wrap(`For authors: ${guide}`, width - 2, '  ')}\n`,
    usesText(result, look),
    fields.length > 0
      ? `\n${fieldTable(fields, titled, look)}\n`
      : `\n  No fields yet: write them in model/types/${name}.yaml.\n`,
    rulesText(rules, look),
    inverses.length > 0
      ? `\n${paint.soft('  Pointed at by')}\n${inverses.map(({ field, name: inverse }) => `  ${paint.name(field)}${inverse === undefined ? '' : `  seen from here as ${paint.strong(inverse)}`}`).join('\n')}\n`
      : '',
  ].join('');
}

/** What a type takes from elsewhere, what goes for its entries, and where they can be seen. */
function usesText(
  { extends: base, extendedBy, kits, byline, builtIn, versions, previews }: Shown<'type'>,
  { paint, width }: Look,
): string {
  const { status } = builtIn ?? {};
  const facts: readonly (readonly [string, string])[] = [
    ['Extends', base ?? ''],
    ['Extended by', extendedBy.join(', ')],
    ['Kits', kits.join(', ')],
    ['New entries', isObject(status) ? `${String(status.default)} by default` : ''],
    ['Byline', wordOf(byline, 'shows', 'does not show')],
    ['Earlier versions', wordOf(versions, 'are kept', 'are not kept')],
    ...previews.map((preview) => [`Preview ${preview.name}`, previewText(preview)] as const),
  ];
  const filled = facts.filter(([, value]) => value !== '');
  if (filled.length === 0) return '';

  const room = Math.max(...filled.map(([name]) => name.length));

  return `\n${filled.map(([name, value]) => `  ${paint.soft(padRight(name, room))}  ${wrap(value, width - room - 4, ' '.repeat(room + 4))}\n`).join('')}`;
}

/** Which of two words a setting asks for; none where it is not made. */
function wordOf(setting: boolean | undefined, on: string, off: string): string {
  if (setting === undefined) return '';
  if (setting) return on;
  return off;
}

/** The address of a preview, and whether authors have to look at it. */
function previewText({ address = 'in the editor', offered, required }: Shown<'type'>['previews'][number]): string {
  if (required) return `${address} (required before saving)`;
  if (offered === false) return `${address} (off)`;
  return address;
}

/** `kit sharing`, `type place, kind price` */
const fromText = ({ from }: FieldShown): string =>
  from.map(({ what: category, name }) => `${category === 'field' ? 'shared' : category} ${name}`).join(', ');

/** The label of a field where it says more than its name does. */
const labelWord = ({ name, label }: FieldShown): string => {
  if (label === humanize(keyOfField(name))) return '';
  return label;
};

function fieldTable(fields: readonly FieldShown[], titled: string | undefined, look: Look): string {
  const { paint } = look;
  const hasGroups = fields.some(({ group }) => group !== undefined);
  const hasOrigins = fields.some(({ from }) => from.length > 0);
  const hasLabels = fields.some((field) => labelWord(field) !== '');
  const rows = fields.map((field) => [
    paint.name(keyOfField(field.name)) + (field.name === titled ? paint.soft(' titles') : ''),
    ...(hasLabels ? [labelWord(field)] : []),
    kindWord(field),
    requiredWord(field),
    ...(hasGroups ? [field.group ?? ''] : []),
    ...(hasOrigins ? [paint.soft(fromText(field))] : []),
    [field.gist, field.unique ? 'unique' : ''].filter(Boolean).join(', '),
  ]);
  const columns = [
    { title: 'Field' },
    ...(hasLabels ? [{ title: 'Label' }] : []),
    { title: 'Kind' },
    { title: 'Required' },
    ...(hasGroups ? [{ title: 'Group' }] : []),
    ...(hasOrigins ? [{ title: 'From' }] : []),
    { title: 'Limits', flex: true as const },
  ];

  return table(columns, rows, look);
}

function sharedText({ part, name, label, about, on, fields, options, reaches }: Shown<'shared'>, look: Look): string {
  const { paint, width } = look;
  const partLabel = { kit: 'kit', field: 'shared field', kind: `kind, built on ${on}` }[part];
  const fixed = Object.entries(options).map(([key, value]) => `${key} ${oneLine(value, 40)}`);

  return [
    `${paint.strong(label)}  ${paint.name(name)}  ${paint.soft(partLabel)}\n`,
    about === undefined ? '' : `  ${wrap(about, width - 2, '  ')}\n`,
    fixed.length > 0 ? `\n  ${paint.soft('Fixes')}  ${wrap(fixed.join(', '), width - 9, ' '.repeat(9))}\n` : '',
    fields.length > 0 ? `\n${fieldTable(fields, undefined, look)}\n` : '',
    reaches.length > 0
      ? `\n  ${paint.soft(`Goes to ${count(reaches.length, 'field')}`)}\n  ${wrap(reaches.join(', '), width - 2, '  ')}\n`
      : '\n  Used by nobody yet.\n',
  ].join('');
}

function rulesText(rules: Shown<'type'>['rules'], { paint, width }: Look): string {
  if (rules.length === 0) return '';
  const lines = rules.map(
    ({ expect, say: wording, at: address }) =>
      `  ${wrap(wording, width - 2, '  ')}${address === undefined ? '' : `  ${paint.name(address)}`}\n    ${paint.soft(wrap(expect, width - 4, '    '))}`,
  );

  return `\n${paint.soft('  Rules')}\n${lines.join('\n')}\n`;
}

function fieldText({ type, field, inside, choices, entries, filled }: Shown<'field'>, look: Look): string {
  const { paint, width } = look;
  const hasLabels = choices.some(({ choice, label }) => label !== humanize(choice));
  const facts: readonly (readonly [string, string])[] = [
    ['Kind', kindWord(field)],
    ['From', fromText(field)],
    ['Required', requiredWord(field) || 'no'],
    ['Group', field.group ?? ''],
    ['Limits', [field.gist, field.unique ? 'unique' : ''].filter(Boolean).join(', ')],
    ['Choices', hasLabels ? choices.map(({ choice, label }) => `${label} (${choice})`).join(', ') : ''],
    ['Default', field.default === undefined ? '' : oneLine(field.default, width - 14)],
    ['Help', field.help ?? ''],
    ['Example', field.example === undefined ? '' : oneLine(field.example, width - 14)],
    ['Filled', `${groupThousands(filled)} of ${count(entries, 'entry', 'entries')}`],
  ];
  const rows = facts
    .filter(([, value]) => value !== '')
    .map(([name, value]) => `  ${paint.soft(padRight(name, 10))}${wrap(value, width - 12, ' '.repeat(12))}`);

  return `${paint.strong(field.label)}  ${paint.name(`${type}.${field.name}`)}\n${rows.join('\n')}\n${inside.length > 0 ? `\n${fieldTable(inside, undefined, look)}\n` : ''}`;
}

/* ── entries ─────────────────────────────────────────────────────────────────────────────────────────────────── */

function entryText(
  { address, title, file, status, public: window, values, empty, pointedAtBy, previews }: Shown<'entry'>,
  look: Look,
): string {
  const { paint, width } = look;
  const nameOf = ({ field, label }: (typeof values)[number]): string => label ?? field;
  const room = Math.max(8, ...values.map((value) => nameOf(value).length));
  const times = [window?.from && `from ${window.from}`, window?.until && `until ${window.until}`]
    .filter(Boolean)
    .join(', ');
  const statusWord = { published: paint.good, draft: paint.warn, archived: paint.soft }[status](status);
  const rows = values.map(
    ({ field, label, value, says: message, language }) =>
      `  ${paint.name(padRight(label ?? field, room))}  ${oneLine(message ?? value, width - room - (language === undefined ? 4 : 9))}${language === undefined ? '' : paint.soft(`  (${language})`)}`,
  );

  return [
    `${paint.strong(title ?? address)}  ${paint.name(address)}  ${statusWord}${times === '' ? '' : paint.soft(`  public ${times}`)}\n  ${paint.soft(file)}\n`,
    `\n${rows.join('\n')}\n`,
    empty.length > 0 ? `\n  ${paint.soft(wrap(`Without a value: ${empty.join(', ')}`, width - 2, '  '))}\n` : '',
    previews.length > 0
      ? `\n${previews.map(({ name, address: link }) => `  ${paint.soft(`Preview ${name}`)}  ${link}`).join('\n')}\n`
      : '',
    pointedAtBy.length > 0
      ? `\n  ${paint.soft('Pointed at by')}\n${pointedAtBy.map(({ entry, pointer }) => `  ${paint.name(entry)}  ${paint.soft(sayPointer(pointer))}`).join('\n')}\n`
      : '',
  ].join('');
}
