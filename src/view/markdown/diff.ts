import { count } from '../../core/plain/words.ts';
import type { DiffResult } from '../../tasks/diff.ts';
import type { Change } from '../../tasks/result.ts';
import { entryWords, readerWords } from '../text/change.ts';
import { code, escaped } from './markdown.ts';

/** Two models compared, as Markdown (with tables) that fits into the comment of a review. */
export function diffMarkdown(result: DiffResult): string {
  const { from, to, changes, counted, version } = result;
  const sides = `${from.name} → ${to.name}`;
  if (changes.length === 0) return `**No change** (${escaped(sides)})\n`;

  const rows = changes.map(
    (change) =>
      `| ${[whatOf(change), entryWords[change.entries], withWhy(readerWords[change.readers], change.readersWhy), reachOf(change)].join(' | ')} |`,
  );

  return [
    `**${count(changes.length, 'change')}** (${escaped(sides)}): entries ${entryWords[result.entries]}, readers ${readerWords[result.readers]}${version === undefined ? '' : `; the next version is ${version}`}.\n\n`,
    '| change | entries | readers | on the entries |\n| --- | --- | --- | --- |\n',
    `${rows.join('\n')}\n`,
    counted ? '' : `\nNot counted on the entries: they do not obey ${escaped(from.name)}.\n`,
  ].join('');
}

function whatOf({ address, says: message, sure: certainty, reasons, arrives }: Change): string {
  const guessed =
    certainty === undefined || certainty === 1
      ? ''
      : `<br>${Math.round(certainty * 100)} % sure: ${escaped((reasons ?? []).join(', '))}`;
  const reach = arrives ? `<br>arrives at ${arrives.map(code).join(', ')}` : '';
  return `${code(address)} ${escaped(message)}${guessed}${reach}`;
}

const withWhy = (word: string, reason: string | undefined): string => {
  if (reason === undefined) return word;
  return `${word}: ${reason}`;
};

function reachOf({ impact }: Change): string {
  if (!impact || impact.of === 0) return '';
  const examples = impact.hits > 0 ? impact.examples.map(({ entry }) => code(entry)).join(', ') : '';
  return [escaped(impact.says), impact.way ? escaped(impact.way.says) : '', examples].filter(Boolean).join('<br>');
}
