import { count, groupThousands } from '../../core/plain/words.ts';
import type { ProfileResult } from '../../tasks/profile.ts';
import { alignedRows, type Column, clip, type Look, next, oneLine, table } from '../look.ts';
import { distinctWords, frequentValues, inShort, percent, rangeWords } from '../usageWords.ts';
import widthOf from '../width.ts';
import { profileBeforeText } from './profileBefore.ts';
import { unreadText } from './unread.ts';

type TypeTold = ProfileResult['types'][number];
type FieldTold = TypeTold['fields'][number];

/** How fields are used: of each type a table, of one field all that was counted. */
export function profileText(result: ProfileResult, look: Look): string {
  const { types, about, unreadable, before } = result;
  if (before) return profileBeforeText(result, before, look);

  const [first] = types;
  const missed = unreadText(unreadable, look);
  if (!first) return 'No types yet: write the first in model/types/.\n';

  const [field] = first.fields;
  if (field && field.address === about) return fieldText(first, field, look) + missed;

  // One field tells more where its values are texts of very different lengths.
  const offered = types.flatMap(({ fields }) => fields).find(({ sizes }) => sizes?.of === 'characters');

  return [
    types.map((type) => typeText(type, look)).join('\n'),
    missed,
    offered && missed === ''
      ? next(`lumbrik profile ${offered.address}`, 'for one field with all its values', look)
      : '',
  ].join('');
}

const barWidth = 8;

/** A share as a small bar: to half a letter, and never empty where there is anything. */
function bar(share: number, width = barWidth): string {
  const halves = share > 0 ? Math.max(1, Math.round(share * width * 2)) : 0;
  return `${'━'.repeat(Math.floor(halves / 2))}${halves % 2 === 1 ? '╸' : ''}`.padEnd(width, '·');
}

const right = { align: 'right' } as const;

function typeText({ type, label, entries, statuses, fields }: TypeTold, look: Look): string {
  const { paint } = look;
  const by =
    statuses.length > 1
      ? statuses.map((status) => `${groupThousands(status.entries)} ${status.status}`).join(', ')
      : '';
  const heading = `${paint.strong(label)}  ${paint.name(type)}  ${paint.soft([count(entries, 'entry', 'entries'), by].filter(Boolean).join(': '))}\n`;
  if (entries === 0) return `${heading}  ${paint.soft('nothing to count')}\n`;

  const columns: readonly Column[] = [
    { title: 'Field' },
    { title: 'Filled' },
    { title: '', ...right },
    { title: 'Distinct', ...right },
    { title: 'From … to' },
    { title: 'Most frequent', flex: true },
  ];
  const rows = fields.map((field) => [
    paint.name(field.address.slice(type.length + 1)),
    bar(field.of === 0 ? 0 : field.filled / field.of),
    field.filled === 0 ? paint.warn(percent(0, field.of)) : percent(field.filled, field.of),
    distinctWords(field),
    rangeWords(field),
    frequentText(field),
  ]);

  return `${heading}\n${table(columns, rows, look)}\n${languagesText({ type, fields }, look)}`;
}

/** In which languages fields that differ by that have values: a matrix. */
function languagesText({ type, fields }: Pick<TypeTold, 'type' | 'fields'>, look: Look): string {
  const localized = fields.filter(({ languages }) => languages && languages.length > 1);
  const names = localized[0]?.languages?.map(({ language }) => language) ?? [];
  if (names.length === 0) return '';

  const rows = localized.map(({ address, languages = [], of: total }) => [
    look.paint.name(address.slice(type.length + 1)),
    ...languages.flatMap(({ filled }) => [
      bar(total === 0 ? 0 : filled / total, 4),
      filled === 0 ? look.paint.warn(percent(0, total)) : percent(filled, total),
    ]),
  ]);
  const columns = [{ title: 'By language' }, ...names.flatMap((title) => [{ title }, { title: '', ...right }])];

  return `\n${table(columns, rows, look)}\n`;
}

/** So much of the most frequent values is reported in a table. */
const frequentWidth = 28;

/** The most frequent values where any stands more than once, as many as have room. */
function frequentText(field: FieldTold): string {
  const texts = frequentValues(field).map(
    ({ value, says: message, count: times }) => `${oneLine(inShort(value, message), 24)} ×${groupThousands(times)}`,
  );
  const shown = texts.filter((_, index) => widthOf(texts.slice(0, index + 1).join(', ')) <= frequentWidth);
  return shown.join(', ');
}

/* ── one field ───────────────────────────────────────────────────────────────────────────────────────────────── */

function fieldText({ label: typeLabel }: TypeTold, field: FieldTold, look: Look): string {
  const { paint } = look;
  const parts = [
    `${paint.strong(field.label)}  ${paint.name(field.address)}  ${paint.soft(`${field.kind}, ${typeLabel}`)}\n`,
    filledText(field),
    sizesText(field, look),
    block('Most frequent', valuesText(field, look), look),
    field.shapes.length > 1 || (field.shapes[0]?.count ?? 0) > 1
      ? block(
          'Shapes',
          bars(
            field.shapes.map(({ shape, count: times }) => [shape, times]),
            field.values,
            look,
          ),
          look,
        )
      : '',
    overText(field, look),
  ];

  return parts.filter(Boolean).join('\n');
}

const block = (title: string, body: string, { paint }: Look): string => {
  if (body === '') return '';
  return `${paint.soft(title)}\n${body}`;
};

function filledText(field: FieldTold): string {
  const line = (title: string, filled: number, total: number): readonly string[] => [
    title,
    bar(total === 0 ? 0 : filled / total, 20),
    percent(filled, total),
    `${groupThousands(filled)} of ${groupThousands(total)}`,
  ];

  const rows = [
    line('Filled', field.filled, field.of),
    ...(field.statuses.length > 1
      ? field.statuses.map((status) => line(`  ${status.status}`, status.filled, status.of))
      : []),
    ...(field.languages ?? []).map(({ language, filled }) => line(`  ${language}`, filled, field.of)),
  ];

  return `${alignedRows(rows, [false, false, true, true])}\n`;
}

function sizesText(field: FieldTold, { paint }: Look): string {
  const { sizes, items, distinct } = field;
  const rows: string[][] = [];
  if (distinct)
    rows.push([
      'Distinct',
      `${distinctWords(field)}${distinct.error === undefined ? '' : paint.soft(`  give or take ${(distinct.error * 100).toFixed(1)} %`)}`,
    ]);

  if (sizes) {
    const inUnits = ({ size, says: message }: typeof sizes.median): string => {
      if (sizes.of !== 'characters') return message;
      return count(size, 'character');
    };
    rows.push(['Smallest', `${inUnits(sizes.smallest)}  ${paint.name(sizes.smallest.entry)}`]);
    rows.push(['In the middle', `${sizes.isRounded ? 'about ' : ''}${inUnits(sizes.median)}`]);
    rows.push(['Largest', `${inUnits(sizes.largest)}  ${paint.name(sizes.largest.entry)}`]);
  }

  if (items) rows.push(['Items', `${items.smallest} to ${items.largest}, in the middle ${items.median}`]);

  if (rows.length === 0) return '';
  return `${alignedRows(rows, [])}\n`;
}

function valuesText(field: FieldTold, look: Look): string {
  const under = field.under
    ? `  ${look.paint.soft(`each may stand up to ${groupThousands(field.under)} times more`)}\n`
    : '';
  const isTelling = !field.sizes || field.frequent.some(({ count: times }) => times > 1);
  const frequent = isTelling ? field.frequent : [];

  if (frequent.length === 0) return '';
  return (
    bars(
      frequent.map(({ says: message, count: times }) => [oneLine(message, 40), times]),
      field.values,
      look,
    ) + under
  );
}

function overText({ over, values, sizes, address }: FieldTold, look: Look): string {
  const { paint } = look;
  if (over.length === 0 || !sizes) return '';

  const rows = over.map(({ limit, count: times }) => [
    `${groupThousands(limit)} characters`,
    times === 0 ? '' : groupThousands(times),
    times === 0 ? paint.good('all fit') : `longer, ${percent(times, values)}`,
  ]);
  const body = `${alignedRows(rows, [true, true, false])}\n`;
  return `${block('If the limit were', body, look)}${next(`lumbrik profile ${address} --at 60,80,100`, 'for limits of your own', look)}`;
}

/** Values with their counts as bars. */
function bars(
  rows: readonly (readonly [text: string, times: number])[],
  total: number,
  { width, paint }: Look,
): string {
  const room = Math.max(...rows.map(([text]) => clip(text, 40).length));
  const widest = Math.max(10, Math.min(30, width - room - 30));
  const largest = Math.max(1, ...rows.map(([, times]) => times));

  return `${alignedRows(
    rows.map(([text, times]) => [
      clip(text, 40),
      groupThousands(times),
      percent(times, total),
      paint.soft(
        bar(times / largest, widest)
          .replaceAll('·', ' ')
          .trimEnd(),
      ),
    ]),
    [false, true, true],
  )}\n`;
}
