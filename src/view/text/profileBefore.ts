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
  const taken = new Set(types.map(({ type, was }) => was ?? type));
  const gone = before.types.filter(({ type }) => !taken.has(type));
  const told = types.map((type) => ({ type, text: typeText(type, older.get(type.was ?? type.type), look) }));
  const same = told.flatMap(({ type, text }) => (text === undefined ? [type.label] : []));
  const parts = [
    ...told.flatMap(({ text }) => text ?? []),
    ...gone.map((type) => typeText(undefined, type, look) ?? ''),
    ...(same.length === 0 ? [] : [`${wrap(`Used as before: ${list(same)}`, look.width, '  ')}\n`]),
  ];
  return `${look.paint.soft(`Now, and before: ${before.name}`)}\n\n${parts.join('\n')}${unreadText(unreadable, look)}`;
}

/** What differs of one type; nothing where nothing does. */
function typeText(now: TypeTold | undefined, then: TypeTold | undefined, look: Look): string | undefined {
  const { paint } = look;
  const { type, label } = now ?? then ?? { type: '', label: '' };
  const was = now?.was === undefined ? '' : `, called ${now.was} then`;
  const entries = `${count(now?.entries ?? 0, 'entry', 'entries')}, ${groupThousands(then?.entries ?? 0)} before${was}`;
  const heading = `${sign(now, then, look)}${paint.strong(label)}  ${paint.name(type)}  ${paint.soft(entries)}\n`;
  if (!now || !then) return heading;
  const older = new Map(then.fields.map((field) => [field.address, field]));
  const pairs = [
    ...now.fields.map((field) => [field, older.get(field.was ?? field.address)] as const),
    ...goneFields(now, then).map((field) => [undefined, field] as const),
  ];
  const rows = pairs.flatMap(([one, other]) => {
    const row = rowOf(one, other, look);
    return row ? [row] : [];
  });
  const left = pairs.length - rows.length;
  const same = left === 0 ? '' : `  ${paint.soft(`${count(left, 'field')} as before`)}\n`;
  const isSame = now.entries === then.entries && now.was === undefined;
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
  const taken = new Set(fields.map(({ address, was }) => was ?? address));
  return then.fields.filter(({ address }) => !taken.has(address));
}

/** `+` new, `-` gone. */
function sign(now: unknown, then: unknown, { paint }: Look): string {
  if (!then) return `${paint.good('+')} `;
  return now ? '' : `${paint.bad('-')} `;
}

/** What differs of one field; nothing where nothing does. */
function rowOf(now: FieldTold | undefined, then: FieldTold | undefined, look: Look): readonly string[] | undefined {
  const tell = (words: (field: FieldTold) => string): string => fromTo(then && words(then), now && words(now), look);
  const cells = [filledWords, distinctWords, rangeWords, frequentWords].map((words) => ({
    says: tell(words),
    differs: (now && words(now)) !== (then && words(then)),
  }));
  if (!cells.some(({ differs }) => differs) && now?.was === undefined) return undefined;
  const name = (field: FieldTold): string => field.address.slice(field.address.indexOf('.') + 1);
  const called = now ?? then;
  const was = now?.was !== undefined && then ? look.paint.soft(` (was ${name(then)})`) : '';
  return [
    sign(now, then, look).trim() || look.paint.warn('~'),
    called ? look.paint.name(name(called)) + was : '',
    ...cells.map(({ says }) => says),
  ];
}

const filledWords = ({ filled, of }: FieldTold): string => percent(filled, of);

/** So many frequent values are laid beside those of before. */
const fewest = 2;

const frequentWords = (field: FieldTold): string =>
  frequentValues(field)
    .filter(({ count: times }) => times > 1)
    .slice(0, fewest)
    .map(({ value, says, count: times }) => `${oneLine(inShort(value, says), 20)} ×${groupThousands(times)}`)
    .join(', ');

/** `82 % → 100 %`; one of them alone where the other is the same or not there. */
function fromTo(then: string | undefined, now: string | undefined, { paint }: Look): string {
  if (then === undefined || then === now) return now ?? '';
  if (now === undefined) return paint.soft(then);
  return `${then || 'none'} ${paint.soft(glyphs.arrow)} ${now || 'none'}`;
}
