import { groupThousands } from '../../core/plain/words.ts';
import type { CountedTerm, TermsResult } from '../../tasks/terms/result.ts';
import { type Column, glyphs, type Look, padRight, table, wrap } from '../look.ts';

type Tree = Omit<Extract<TermsResult, { what: 'tree' }>, 'command' | 'what'>;

/** A taxonomy as a tree with counts: how many entries use each term, and how many with the terms below it. */
export function taxonomyTree({ name, label, about, open, fields, terms, asked: requested }: Tree, look: Look): string {
  const { paint, width } = look;
  const lines = treeLines(terms, '', look, true);
  const isNested = terms.some((term) => term.terms.length > 0);
  const columns: readonly Column[] = [
    { title: 'Term' },
    { title: 'Entries', align: 'right' },
    ...(isNested ? [{ title: 'with below', align: 'right' } as const] : []),
    { title: '' },
  ];
  const rows = lines.map(({ text, term }) => [
    text,
    groupThousands(term.entries),
    ...(isNested ? [term.terms.length > 0 ? groupThousands(term.withBelow) : ''] : []),
    term.notes.length > 0 ? paint.soft(term.notes.join(', ')) : '',
  ]);

  return [
    `${paint.strong(label)}  ${paint.name(`${name}:`)}  ${paint.soft([open ? 'open' : 'closed', fields.length > 0 ? `used by ${fields.join(', ')}` : 'used by no field'].join(', '))}\n`,
    about === undefined ? '' : `  ${wrap(about, width - 2, '  ')}\n`,
    terms.length > 0 ? `\n${table(columns, rows, look)}\n` : '\n  No terms yet.\n',
    requested ? askedText(requested, look) : '',
  ].join('');
}

/** What is stated about the one term that was requested. */
function askedText({ about, labels, synonyms, address, places }: NonNullable<Tree['asked']>, look: Look): string {
  const { paint, width } = look;
  const facts: readonly (readonly [string, string])[] = [
    ['About', about ?? ''],
    [
      'Labels',
      Object.entries(labels)
        .map(([language, label]) => `${language}: ${label}`)
        .join(' · '),
    ],
    ['Synonyms', synonyms.join(', ')],
    ['Address', address ?? ''],
    ['Places', places.join(', ')],
  ];
  const rows = facts
    .filter(([, value]) => value !== '')
    .map(([fact, value]) => `  ${paint.soft(padRight(fact, 8))}  ${wrap(value, width - 12, ' '.repeat(12))}\n`);

  if (rows.length > 0) return `\n${rows.join('')}`;
  return '';
}

function treeLines(
  terms: readonly CountedTerm[],
  before: string,
  look: Look,
  isTop: boolean,
): readonly { readonly text: string; readonly term: CountedTerm }[] {
  const { paint } = look;
  return terms.flatMap((term, index) => {
    const isLast = index === terms.length - 1;
    const branch = isLast ? glyphs.last : glyphs.branch;
    const stem = isTop ? '' : branch;
    const below = isTop ? '' : `${before}${isLast ? '   ' : glyphs.pipe}`;
    const called = term.label === term.term ? paint.name(term.term) : `${term.label}  ${paint.name(term.term)}`;
    return [{ text: `${paint.soft(before + stem)}${called}`, term }, ...treeLines(term.terms, below, look, false)];
  });
}
