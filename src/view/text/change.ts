import type { Change } from '../../tasks/result.ts';
import { wordsOf } from '../difference.ts';
import { glyphs, type Look, oneLine, padRight, wrap } from '../look.ts';

export const entryWords = { valid: 'stay valid', migrate: 'need a migration', lose: 'lose something' } as const;
export const readerWords = { unaffected: 'unaffected', notice: 'may notice', break: 'break' } as const;

export const sayEntries = (rating: Change['entries'], { paint }: Look): string =>
  ({ valid: paint.good, migrate: paint.warn, lose: paint.bad })[rating](entryWords[rating]);
export const sayReaders = (rating: Change['readers'], { paint }: Look): string =>
  ({ unaffected: paint.good, notice: paint.warn, break: paint.bad })[rating](readerWords[rating]);

/** One change: where and what, what it means for either party, and its effect on existing entries. */
export function changeText(change: Change, look: Look, areWordsShown = false): string {
  const { paint, width } = look;
  const { address, says: message, impact, sure: certainty, reasons, arrives } = change;
  const lines = [
    `${signText(change, look)} ${paint.name(address)}  ${wrap(message, width - address.length - 4, '    ')}`,
    `    entries ${padRight(sayEntries(change.entries, look), 18)}readers ${sayReaders(change.readers, look)}${change.readersWhy === undefined ? '' : paint.soft(`: ${change.readersWhy}`)}`,
  ];
  if (areWordsShown) lines.push(...wordLines(change, look));

  if (arrives) lines.push(`    ${wrap(`arrives at ${arrives.join(', ')}`, width - 4, '    ')}`);

  if (certainty !== undefined && reasons)
    lines.push(
      `    ${wrap(certainty === 1 ? 'as you said' : `${Math.round(certainty * 100)} % sure: ${reasons.join(', ')}`, width - 4, '    ')}`,
    );

  if (impact && impact.of > 0)
    lines.push(`    ${wrap(impact.hits > 0 ? paint.strong(impact.says) : impact.says, width - 4, '    ')}`);
  if (impact?.carried !== undefined && impact.way === undefined)
    lines.push(`    ${wrap(`carried over, such as ${impact.carried}`, width - 4, '    ')}`);
  if (impact?.way) lines.push(`    ${wrap(paint.strong(impact.way.says), width - 4, '    ')}`);
  if (impact && impact.hits > 0 && change.change !== 'renamed' && change.change !== 'moved')
    lines.push(...exampleLines(impact, look));

  return lines.join('\n');
}

/** A text that changed, before and after: in each language that it is stated in. */
function wordLines({ option, before, after }: Change, { paint, width }: Look): readonly string[] {
  if (option === undefined) return [];

  const [oldTexts, newTexts] = [textsOf(before), textsOf(after)];
  const keys = [...new Set([...oldTexts.keys(), ...newTexts.keys()])];

  return keys.flatMap((key) => {
    const [old, young] = [oldTexts.get(key) ?? '', newTexts.get(key) ?? ''];
    if (old === young) return [];

    const parts = wordsOf(old, young);
    const head = key === '' ? '' : `${key} `;
    const indent = ' '.repeat(6 + head.length);

    const side = (without: 'added' | 'removed', mark: string, brush: (text: string) => string): readonly string[] => {
      const changes = parts
        .filter((part) => !part[without])
        .map(({ added, removed, value }) => (added || removed ? brush(value) : value))
        .join('');
      if (changes === '') return [];
      return [`    ${brush(mark)} ${head}${wrap(changes, width - indent.length, indent)}`];
    };

    return [...side('added', '-', (text) => paint.bad(text)), ...side('removed', '+', (text) => paint.good(text))];
  });
}

/** The texts of an option, by language; one alone under no key. */
function textsOf(value: Change['before']): ReadonlyMap<string, string> {
  if (typeof value === 'string') return new Map([['', value]]);

  const isWording = typeof value === 'object' && value !== null && !Array.isArray(value);
  return new Map(
    Object.entries(isWording ? value : {}).flatMap(([key, value]) =>
      typeof value === 'string' ? [[key, value] as const] : [],
    ),
  );
}

/** `+` new, `-` gone, `~` different: the first column can be scanned. */
export function signOf({ change, before, after }: Change): '+' | '-' | '~' {
  if (change === 'shared-changed' && before === undefined) return '+';
  if (change === 'shared-changed' && after === undefined) return '-';
  if (change.endsWith('-added')) return '+';
  if (change.endsWith('-removed')) return '-';
  return '~';
}

function signText(change: Change, { paint }: Look): string {
  const sign = signOf(change);
  return { '+': paint.good, '-': paint.bad, '~': paint.warn }[sign](sign);
}

function exampleLines(
  { examples, worst, hits }: NonNullable<Change['impact']>,
  { paint, width }: Look,
): readonly string[] {
  if (examples.every(({ value }) => value === undefined))
    return [
      `      ${paint.soft(`${glyphs.dot} ${examples.map(({ entry }) => entry).join(', ')}${hits > examples.length ? ' …' : ''}`)}`,
    ];

  const otherExamples = examples.filter(({ entry }) => entry !== worst?.entry).slice(0, worst ? 2 : 3);
  return [...(worst ? [worst] : []), ...otherExamples].map(({ entry, value }) => {
    const shown = value === undefined ? '' : `  ${oneLine(value, Math.max(20, width - entry.length - 10))}`;
    return `      ${paint.soft(glyphs.dot)} ${entry}${paint.soft(shown)}`;
  });
}
