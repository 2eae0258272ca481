import { count, groupThousands, list } from '../../core/plain/words.ts';
import type { ProfileResult } from '../../tasks/profile.ts';
import { type Column, glyphs, type Look, oneLine, table, wrap } from '../look.ts';
import { distinctWords, frequentValues, inShort, percent, rangeWords } from '../usageWords.ts';
import { unreadText } from './unread.ts';

type TypeTold = ProfileResult['types'][number];
type FieldTold = TypeTold['fields'][number];

/** How fields are used beside how they were: what differs, and nothing else. */
export function profileBeforeText(
  { types, unreadable }: ProfileResult,
  before: NonNullable<ProfileResult['before']>,
  look: Look,
): string {
  const older = new Map(before.types.map((type) => [type.type, type]));
  const matched = new Set(types.map(({ type, was: formerName }) => formerName ?? type));
  const removed = before.types.filter(({ type }) => !matched.has(type));
  const texts = types.map((type) => ({ type, text: typeText(type, older.get(type.was ?? type.type), look) }));
  const same = texts.flatMap(({ type, text }) => (text === undefined ? [type.label] : []));
  const parts = [
    ...texts.flatMap(({ text }) => text ?? []),
    ...removed.map((type) => typeText(undefined, type, look) ?? ''),
    ...(same.length === 0 ? [] : [`${wrap(`Used as before: ${list(same)}`, look.width, '  ')}\n`]),
  ];

  return `${look.paint.soft(`Now, and before: ${before.name}`)}\n\n${parts.join('\n')}${unreadText(unreadable, look)}`;
}

/** What differs of one type; nothing where nothing does. */
function typeText(current: TypeTold | undefined, then: TypeTold | undefined, look: Look): string | undefined {
  const { paint } = look;
  const { type, label } = current ?? then ?? { type: '', label: '' };
  const formerName = current?.was === undefined ? '' : `, called ${current.was} then`;
  const entries = `${count(current?.entries ?? 0, 'entry', 'entries')}, ${groupThousands(then?.entries ?? 0)} before${formerName}`;
  const heading = `${sign(current, then, look)}${paint.strong(label)}  ${paint.name(type)}  ${paint.soft(entries)}\n`;
  if (!current || !then) return heading;

  const older = new Map(then.fields.map((field) => [field.address, field]));
  const pairs = [
    ...current.fields.map((field) => [field, older.get(field.was ?? field.address)] as const),
    ...goneFields(current, then).map((field) => [undefined, field] as const),
  ];
  const rows = pairs.flatMap(([first, other]) => {
    const row = rowOf(first, other, look);
    if (!row) return [];
    return [row];
  });
  const remaining = pairs.length - rows.length;
  const same = remaining === 0 ? '' : `  ${paint.soft(`${count(remaining, 'field')} as before`)}\n`;
  const isSame = current.entries === then.entries && current.was === undefined;
  if (rows.length === 0) return isSame ? undefined : heading + same;

  const columns: readonly Column[] = [
    { title: '' },
    { title: 'Field' },
    { title: 'Filled' },
    { title: 'Distinct' },
    { title: 'From … to' },
    { title: 'Most frequent', flex: true },
  ];

  return `${heading}\n${table(columns, rows, look)}\n${same}`;
}

function goneFields({ fields }: TypeTold, then: TypeTold): readonly FieldTold[] {
  const matched = new Set(fields.map(({ address, was: formerName }) => formerName ?? address));
  return then.fields.filter(({ address }) => !matched.has(address));
}

/** `+` new, `-` gone. */
function sign(current: unknown, then: unknown, { paint }: Look): string {
  if (!then) return `${paint.good('+')} `;
  if (current) return '';
  return `${paint.bad('-')} `;
}

/** What differs of one field; nothing where nothing does. */
function rowOf(current: FieldTold | undefined, then: FieldTold | undefined, look: Look): readonly string[] | undefined {
  const tell = (words: (field: FieldTold) => string): string =>
    fromTo(then && words(then), current && words(current), look);
  const cells = [filledWords, distinctWords, rangeWords, frequentWords].map((words) => ({
    says: tell(words),
    differs: (current && words(current)) !== (then && words(then)),
  }));
  if (!cells.some(({ differs }) => differs) && current?.was === undefined) return undefined;

  const name = (field: FieldTold): string => field.address.slice(field.address.indexOf('.') + 1);
  const called = current ?? then;
  const formerName = current?.was !== undefined && then ? look.paint.soft(` (was ${name(then)})`) : '';

  return [
    sign(current, then, look).trim() || look.paint.warn('~'),
    called ? look.paint.name(name(called)) + formerName : '',
    ...cells.map(({ says: message }) => message),
  ];
}

const filledWords = ({ filled, of: total }: FieldTold): string => percent(filled, total);

/** So many frequent values are laid beside those of before. */
const fewest = 2;

const frequentWords = (field: FieldTold): string =>
  frequentValues(field)
    .filter(({ count: times }) => times > 1)
    .slice(0, fewest)
    .map(
      ({ value, says: message, count: times }) => `${oneLine(inShort(value, message), 20)} ×${groupThousands(times)}`,
    )
    .join(', ');

/** `82 % → 100 %`; one of them alone where the other is the same or not there. */
function fromTo(then: string | undefined, current: string | undefined, { paint }: Look): string {
  if (then === undefined || then === current) return current ?? '';
  if (current === undefined) return paint.soft(then);
  return `${then || 'none'} ${paint.soft(glyphs.arrow)} ${current || 'none'}`;
}
