import type { Json } from '../../core/plain/json.ts';
import { count } from '../../core/plain/words.ts';
import type { DiffResult } from '../../tasks/diff.ts';
import type { RehearseResult } from '../../tasks/migration/rehearse.ts';
import type { ReportResult } from '../../tasks/report.ts';
import type { Change } from '../../tasks/result.ts';
import { wordsOf } from '../difference.ts';
import { sayPointer } from '../look.ts';
import { entryWords, readerWords, signOf } from '../text/change.ts';
import {
  type Child,
  cut,
  ifGiven,
  joined,
  listed,
  madeOfAny,
  type Node,
  quoted,
  rated,
  sayJson,
  small,
  table,
  typed,
  words,
} from './parts.tsx';

/** What changed between two models, what that does to entries and readers, and what the migration makes of the entries. */
export const changeSection = (change: DiffResult, result: ReportResult): Node => (
  <section id="change" aria-labelledby="change-title">
    <h2 id="change-title">What changed</h2>
    <p class="lead">
      <b>{count(change.changes.length, 'change')}</b> from {change.from.name} to {change.to.name}: entries{' '}
      {forEntries(change.entries)}, readers {forReaders(change.readers)}.
      {ifGiven(change.version, (version) => ` The next version is ${version}.`)}
    </p>
    {change.counted ? undefined : <p class="aside">Not counted on the entries: they do not obey {change.from.name}.</p>}
    {madeOfAny(change.changes, changeTable)}
    {rehearsed(result, change)}
  </section>
);

const changeTable = (changes: readonly Change[]): Node =>
  table({
    caption: 'Each change, with what it asks of entries and of readers',
    titles: ['Change', 'Entries', 'Readers', 'On the entries'],
    rows: changes.map((change) => ({
      cells: [
        changeSaid(change),
        forEntries(change.entries),
        joined(forReaders(change.readers), ifGiven(change.readersWhy, small)),
        onEntries(change),
      ],
    })),
  });

const forEntries = (rating: Change['entries']): Node =>
  rated(({ valid: 'good', migrate: 'warn', lose: 'bad' } as const)[rating], entryWords[rating]);

const forReaders = (rating: Change['readers']): Node =>
  rated(({ unaffected: 'good', notice: 'warn', break: 'bad' } as const)[rating], readerWords[rating]);

const changeSaid = (change: Change): Child =>
  joined(
    <span class="mark" aria-hidden="true">
      {signOf(change)}
    </span>,
    ' ',
    typed(change.address),
    ' ',
    words(change.says),
    change.sure === undefined || change.sure === 1
      ? undefined
      : small(`${Math.round(change.sure * 100)} % sure: ${(change.reasons ?? []).join(', ')}`),
    ifGiven(change.arrives, (arrives) => small('arrives at ', listed(arrives.map(typed)))),
  );

/** What a change does to the entries that exist, with the worst value and some others. */
function onEntries({ change, impact }: Change): Child {
  if (!impact || impact.of === 0) return undefined;

  const { worst, examples, says: message, way, carried, hits } = impact;
  const otherExamples = examples.filter(({ entry }) => entry !== worst?.entry);
  const shown =
    hits === 0 || change === 'renamed' || change === 'moved'
      ? []
      : [...(worst ? [worst] : []), ...otherExamples].slice(0, 3);

  return joined(
    words(message),
    way ? small(way.says) : ifGiven(carried, (example) => small(`carried over, such as ${cut(example)}`)),
    madeOfAny(shown, (examples) => (
      <ul class="samples">
        {examples.map(({ entry, value }) => (
          <li>
            {typed(entry)} {ifGiven(value, quoted)}
          </li>
        ))}
      </ul>
    )),
  );
}

/* ── the migration ───────────────────────────────────────────────────────────────────────────────────────────── */

/** The outcome for the entries, as far as that is known. */
function rehearsed({ rehearsal, unrehearsed }: ReportResult, { entries }: DiffResult): Child {
  if (rehearsal) return rehearsalOf(rehearsal);
  if (unrehearsed !== undefined)
    return <p class="aside">Its migration could not be rehearsed for this page: {unrehearsed}.</p>;
  if (entries === 'valid') return undefined;
  return (
    <p class="aside">
      What becomes of the entries, value by value, stands here once the migration is drafted and before it is run:{' '}
      {typed('lumbrik migration draft')}
    </p>
  );
}

/** A migration that was rehearsed on the real entries: each step with what it makes of some of them. */
const rehearsalOf = ({ file, steps, entries, changed, made: born, lost, ...errors }: RehearseResult): Child =>
  joined(
    <h3>The migration, rehearsed</h3>,
    <p>
      {typed(file)} would write <b>{changed}</b> of {count(entries, 'entry', 'entries')}
      {born > 0 ? ` and make ${count(born, 'new one')}` : ''}.{' '}
      {lost.length === 0 ? 'Nothing is lost.' : `${count(lost.length, 'value')} would be lost or replaced.`} A check
      finds {count(errors.errorsBefore, 'error')} before, and {errors.errorsAfter} afterwards.
    </p>,
    table({
      caption: 'Each step, with values before and after',
      titles: ['Step', 'Entries', 'Before and after'],
      rows: steps.map((step) => ({ cells: stepCells(step) })),
    }),
    madeOfAny(lost, lostTable),
  );

type Step = RehearseResult['steps'][number];

const stepCells = ({ step, verb, address, entries, made: born, samples, open }: Step): Child[] => [
  joined(
    `${step}. ${verb} `,
    typed(address),
    ifGiven(open, (question) => <small class="bad">Open: {question}</small>),
  ),
  [...(entries > 0 ? [`${entries} change`] : []), ...(born.length > 0 ? [`${born.length} new`] : [])].join(', ') ||
    'none',
  madeOfAny(samples, (samples) => (
    <ul class="samples">
      {samples.map((sample) => (
        <li>{sampleSaid(sample)}</li>
      ))}
    </ul>
  )),
];

function sampleSaid({ entry, pointer, before, after, movedTo, becomes }: Step['samples'][number]): Child {
  if (becomes !== undefined) return joined(typed(entry), ' becomes ', typed(becomes));
  const content = movedTo === undefined ? laid(before, after) : `moves to ${sayPointer(movedTo)}`;
  return joined(typed(entry), ` ${sayPointer(pointer)}: `, content);
}

/** An old and a new value: texts laid over each other, where what goes is struck out and what comes is underlined. */
function laid(before: Json | undefined, after: Json | undefined): Node {
  if (typeof before !== 'string' || typeof after !== 'string')
    return joined(cut(sayJson(before)), ' → ', cut(sayJson(after)));
  return joined(
    ...wordsOf(before, after).map(({ value, added, removed }) => {
      if (added) return <ins>{cut(value)}</ins>;
      if (removed) return <del>{cut(value)}</del>;
      return withoutMiddle(value);
    }),
  );
}

/** What both texts have, where it is long without its middle: what differs is what matters. */
const withoutMiddle = (text: string): string => {
  if (text.length > 2 * aside + 20) return `${text.slice(0, aside).trimEnd()} … ${text.slice(-aside).trimStart()}`;
  return text;
};

/** So much of what both texts have is shown on either side of what differs. */
const aside = 60;

/** So many lost values are listed. */
const mostLost = 50;

const lostTable = (lost: RehearseResult['lost']): Node =>
  table({
    caption: `Values lost or replaced${lost.length > mostLost ? `, the first ${mostLost} of ${lost.length}` : ''}`,
    titles: ['Entry', 'Field', 'Value', 'Becomes', 'Why'],
    rows: lost.slice(0, mostLost).map(({ entry, pointer, value, becomes, why: reason }) => ({
      cells: [typed(entry), sayPointer(pointer), quoted(value), ifGiven(becomes, quoted) ?? 'lost', reason],
    })),
  });
