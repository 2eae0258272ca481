import { shellWord } from '../../core/plain/shellWord.ts';
import { count, groupThousands } from '../../core/plain/words.ts';
import type { TermsResult } from '../../tasks/terms/result.ts';
import { clip, glyphs, type Look, next, table, wrap } from '../look.ts';
import { taxonomyTree } from './taxonomyTree.ts';

type Shown<W extends TermsResult['what']> = Extract<TermsResult, { what: W }>;

/** Whatever `terms` was requested. */
export function termsText(result: TermsResult, look: Look): string {
  switch (result.what) {
    case 'taxonomies':
      return overviewText(result, look);
    case 'tree':
      return taxonomyTree(result, look);
    case 'entries':
      return entriesText(result, look);
    case 'alike':
      return alikeText(result, look);
    case 'added':
      return addedText(result, look);
    case 'made':
      return madeText(result, look);
  }
}

function overviewText({ taxonomies }: Shown<'taxonomies'>, look: Look): string {
  const { paint } = look;
  if (taxonomies.length === 0) return 'No taxonomies yet: write the first in model/taxonomies/.\n';

  const rows = taxonomies.map((taxonomy) => [
    paint.name(taxonomy.name),
    taxonomy.open ? 'open' : 'closed',
    groupThousands(taxonomy.terms),
    groupThousands(taxonomy.unused),
    taxonomy.open ? groupThousands(taxonomy.unlisted) : '',
    groupThousands(taxonomy.entries),
    taxonomy.label,
  ]);
  const right = { align: 'right' } as const;
  const columns = [
    { title: 'Taxonomy' },
    { title: '' },
    { title: 'Terms', ...right },
    { title: 'unused', ...right },
    { title: 'not written down', ...right },
    { title: 'Entries', ...right },
    { title: '', flex: true as const },
  ];
  const open = taxonomies.find((taxonomy) => taxonomy.open);

  return `${table(columns, rows, look)}\n${open ? next(`lumbrik terms ${open.name} --alike`, 'twins among its terms', look) : ''}`;
}

function entriesText({ term, label, entries }: Shown<'entries'>, look: Look): string {
  const { paint } = look;
  const heading = `${paint.strong(label)}  ${paint.name(term)}  ${paint.soft(count(entries.length, 'entry', 'entries'))}\n`;
  if (entries.length === 0) return `${heading}\n  No entry uses it, or a term below it.\n`;

  const termName = term.slice(term.indexOf(':') + 1);
  const rows = entries.map((entry) => [
    paint.name(entry.entry),
    entry.status === 'published' ? '' : entry.status,
    entry.terms.filter((used) => used !== termName).join(', '),
    entry.title ?? '',
  ]);

  return `${heading}\n${table([{ title: 'Entry' }, { title: '' }, { title: 'by' }, { title: '', flex: true }], rows, look)}\n`;
}

const pairsShown = 40;

function alikeText({ taxonomy, terms, pairs }: Shown<'alike'>, look: Look): string {
  const { paint } = look;
  if (pairs.length === 0)
    return `${paint.good(glyphs.fine)} No twins among the ${count(terms, 'term')} of ${paint.name(`${taxonomy}:`)}\n`;

  const rows = pairs
    .slice(0, pairsShown)
    .map(({ keep, merge, sure: certainty, why: reason }) => [
      `${Math.round(certainty * 100)} %`,
      paint.name(merge.term),
      groupThousands(merge.entries),
      `${glyphs.arrow} ${paint.name(keep.term)}`,
      groupThousands(keep.entries),
      reason,
    ]);
  const right = { align: 'right' } as const;
  const columns = [
    { title: 'Sure', ...right },
    { title: 'Term' },
    { title: 'Entries', ...right },
    { title: 'would become' },
    { title: 'Entries', ...right },
    { title: 'because', flex: true as const },
  ];
  const more =
    pairs.length > pairsShown
      ? `  ${paint.soft(`and ${groupThousands(pairs.length - pairsShown)} more (--format json lists all)`)}\n`
      : '';
  const [first] = pairs;

  return [
    `${paint.strong(count(pairs.length, 'pair'))} among the ${count(terms, 'term')} of ${paint.name(`${taxonomy}:`)} ${pairs.length === 1 ? 'looks' : 'look'} like one idea\n\n`,
    `${table(columns, rows, look)}\n${more}`,
    first
      ? next(
          `lumbrik migration draft --merge ${shellWord(`${first.step.drop}=${first.step.use}`)}`,
          'to carry the entries of the first along',
          look,
        )
      : '',
  ].join('');
}

function addedText({ taxonomy, file, added, known: existing }: Shown<'added'>, look: Look): string {
  const { paint, width } = look;
  const rows = existing
    .slice(0, 12)
    .map(({ term, is: newName, line }) => `  line ${line}: ${term === newName ? term : `${term} is ${newName}`}`);

  return [
    added.length > 0
      ? `${paint.good(glyphs.fine)} ${paint.strong(count(added.length, 'term'))} added to ${file}\n  ${wrap(clip(added.join(', '), width * 3), width - 2, '  ')}\n`
      : `Nothing to add: ${count(existing.length, 'term')} of the list, all there already\n`,
    existing.length > 0 && added.length > 0
      ? `\n  ${count(existing.length, 'term')} ${existing.length === 1 ? 'was' : 'were'} there already\n`
      : '',
    rows.length > 0
      ? `${rows.join('\n')}\n${existing.length > rows.length ? `  and ${existing.length - rows.length} more\n` : ''}`
      : '',
    added.length > 0 ? next(`lumbrik terms ${taxonomy}`, 'the whole tree', look) : '',
  ].join('');
}

/** A taxonomy that was made of a file, behind what of the file is not in it. */
function madeText({ taxonomy, file, terms, collections, lost }: Shown<'made'>, look: Look): string {
  const { paint, width } = look;
  const remaining = lost
    .map(
      ({ says: message, count: times, example }) =>
        `${wrap(`${message} ${glyphs.dot} ${groupThousands(times)}, such as ${example}`, width - 2, '  ')}\n`,
    )
    .map((line) => `  ${line}`)
    .join('');
  const groups = collections === 0 ? '' : ` and ${count(collections, 'collection')}`;

  return [
    remaining === '' ? '' : `${paint.warn(glyphs.warn)} ${paint.strong('What is not in it')}\n${remaining}\n`,
    `${paint.good(glyphs.fine)} ${paint.strong(`${taxonomy}:`)} is new in ${file}: ${count(terms, 'term')}${groups}\n`,
    next(`lumbrik terms ${taxonomy}`, 'its terms as a tree', look),
  ].join('');
}
