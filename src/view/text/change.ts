import type { Change } from '../../tasks/result.ts';
import { glyphs, type Look, oneLine, padRight, wrap } from '../look.ts';

const entryWords = { valid: 'stay valid', migrate: 'need a migration', lose: 'lose something' } as const;
const readerWords = { unaffected: 'unaffected', notice: 'may notice', break: 'break' } as const;

export const sayEntries = (rating: Change['entries'], { paint }: Look): string =>
  ({ valid: paint.good, migrate: paint.warn, lose: paint.bad })[rating](entryWords[rating]);
export const sayReaders = (rating: Change['readers'], { paint }: Look): string =>
  ({ unaffected: paint.good, notice: paint.warn, break: paint.bad })[rating](readerWords[rating]);

/** One change: where and what, what it means for either party, and what it does to the entries that exist. */
export function changeText(change: Change, look: Look): string {
  const { paint, width } = look;
  const { address, says, impact, sure, reasons, arrives } = change;
  const lines = [
    `${sign(change, look)} ${paint.name(address)}  ${wrap(says, width - address.length - 4, '    ')}`,
    `    entries ${padRight(sayEntries(change.entries, look), 18)}readers ${sayReaders(change.readers, look)}`,
  ];

  if (arrives) lines.push(`    ${wrap(`arrives at ${arrives.join(', ')}`, width - 4, '    ')}`);
  if (sure !== undefined && reasons)
    lines.push(
      `    ${wrap(sure === 1 ? 'as you said' : `${Math.round(sure * 100)} % sure: ${reasons.join(', ')}`, width - 4, '    ')}`,
    );
  if (impact && impact.of > 0)
    lines.push(`    ${wrap(impact.hits > 0 ? paint.strong(impact.says) : impact.says, width - 4, '    ')}`);
  if (impact?.way) lines.push(`    ${wrap(paint.strong(impact.way.says), width - 4, '    ')}`);
  if (impact && impact.hits > 0 && change.change !== 'renamed' && change.change !== 'moved')
    lines.push(...exampleLines(impact, look));
  return lines.join('\n');
}

/** `+` new, `-` gone, `~` different: the first column can be scanned. */
function sign({ change, before, after }: Change, { paint }: Look): string {
  if (change === 'shared-changed' && before === undefined) return paint.good('+');
  if (change === 'shared-changed' && after === undefined) return paint.bad('-');
  if (change.endsWith('-added')) return paint.good('+');
  if (change.endsWith('-removed')) return paint.bad('-');
  return paint.warn('~');
}

function exampleLines(
  { examples, worst, hits }: NonNullable<Change['impact']>,
  { paint, width }: Look,
): readonly string[] {
  if (examples.every(({ value }) => value === undefined))
    return [
      `      ${paint.soft(`${glyphs.dot} ${examples.map(({ entry }) => entry).join(', ')}${hits > examples.length ? ' …' : ''}`)}`,
    ];
  const others = examples.filter(({ entry }) => entry !== worst?.entry).slice(0, worst ? 2 : 3);
  return [...(worst ? [worst] : []), ...others].map(({ entry, value }) => {
    const shown = value === undefined ? '' : `  ${oneLine(value, Math.max(20, width - entry.length - 10))}`;
    return `      ${paint.soft(glyphs.dot)} ${entry}${paint.soft(shown)}`;
  });
}
