import { isError, severitiesOf } from '../../core/entry/severities.ts';
import { grouped } from '../../core/plain/grouped.ts';
import { capital, count, groupThousands } from '../../core/plain/words.ts';
import type { ReportResult } from '../../tasks/report.ts';
import { sayPointer } from '../look.ts';
import {
  type Child,
  ifGiven,
  joined,
  madeOfAny,
  type Node,
  quoted,
  rated,
  small,
  table,
  typed,
  words,
} from './parts.tsx';

type Check = ReportResult['check'];
type Finding = Check['findings'][number];

/** What a check of all entries finds. */
export const checkSection = ({ check }: ReportResult): Node => (
  <section id="check" aria-labelledby="check-title">
    <h2 id="check-title">Check of the entries</h2>
    <p class="lead">{verdict(check)}</p>
    {madeOfAny(asideOf(check), (lines) => (
      <ul class="aside">
        {lines.map((line) => (
          <li>{line}</li>
        ))}
      </ul>
    ))}
    {madeOfAny(check.summary, (summary) =>
      table({
        caption: 'Findings by their name',
        titles: ['Finding', 'How bad', 'How many', 'Meaning'],
        rows: summary.map(({ finding, severity, count: number, about }) => ({
          cells: [typed(finding), severitySaid(severity), groupThousands(number), about],
        })),
      }),
    )}
    {madeOfAny(check.findings, findingTable)}
  </section>
);

function verdict({ findings, entries }: Check): Child {
  const entryCount = count(entries, 'entry', 'entries');
  if (findings.length === 0) return joined(rated('good', 'All fine'), `: ${entryCount} against the model.`);

  const { errors, warnings } = severitiesOf(findings);
  return joined(
    errors > 0 ? rated('bad', count(errors, 'error')) : rated('good', 'No error'),
    warnings > 0 ? joined(' and ', rated('warn', count(warnings, 'warning'))) : undefined,
    ` in ${entryCount}.`,
  );
}

/** What was found and is not told as wrong. */
const asideOf = ({ declined, known: knownCount, ignored, standing: state }: Check): readonly string[] => [
  ...(state?.state === 'behind'
    ? [
        `The entries obey ${state.revision === undefined ? 'an older model' : `revision ${state.revision}`} still. This is what a migration to the model as it is now has to mend.`,
      ]
    : []),
  ...declined
    .filter((item) => item.count > 0)
    .map((item) => `${count(item.count, 'finding')} declined: ${item.finding} at ${item.at}, since ${item.because}`),
  ...(knownCount > 0 ? [`${count(knownCount, 'finding')} known (baseline.ndjson)`] : []),
  ...(ignored > 0 ? [`${count(ignored, 'finding')} ignored, as lumbrik.yaml says`] : []),
];

const severitySaid = (severity: Finding['severity']): Node => rated(severity === 'error' ? 'bad' : 'warn', severity);

/** So many findings are listed, the errors before the warnings. */
const mostListed = 200;

function findingTable(findings: readonly Finding[]): Child {
  const sorted = [...findings.filter(isError), ...findings.filter((finding) => !isError(finding))];

  return joined(
    table({
      caption: 'Findings, entry by entry',
      titles: ['Entry', 'What is wrong', 'What to do'],
      rows: sorted.slice(0, mostListed).map((finding) => ({ cells: findingCells(finding) })),
    }),
    madeOfAny(sorted.slice(mostListed), (remaining) => (
      <p class="aside">
        And {count(remaining.length, 'finding')} more: {typed('lumbrik check --limit 0')}
      </p>
    )),
  );
}

const findingCells = ({ entry, file, line, pointer, says: message, value, mend, severity }: Finding): Child[] => [
  joined(ifGiven(entry, typed), small(typed(`${file}:${line}`))),
  joined(
    severitySaid(severity),
    ' ',
    pointer === '' ? undefined : <b>{sayPointer(pointer)} </b>,
    words(message),
    ifGiven(value, (value) => small(quoted(value))),
  ),
  words(mend),
];

type Advice = ReportResult['advice'];

/** So many pieces of advice of each sort are reported. */
const mostOfEach = 20;

/** What may be better in the model. */
export const adviceSection = ({ advice: { advice, declined, types, fields, entries } }: ReportResult): Node => (
  <section id="advice" aria-labelledby="advice-title">
    <h2 id="advice-title">Advice on the model</h2>
    <p class="lead">
      {advice.length === 0 ? 'Nothing to advise' : count(advice.length, 'piece of advice', 'pieces of advice')}, from{' '}
      {count(types, 'type')}, {count(fields, 'field')} and {count(entries, 'entry', 'entries')}. None of it is a rule.
    </p>
    {[...grouped(advice, (item) => item.advice)].map(([name, those]) => adviceArticle(name, those))}
    {madeOfAny(declined, declinedList)}
  </section>
);

/** All that one sort of advice says. */
const adviceArticle = (name: string, those: readonly Advice['advice'][number][]): Node => (
  <article data-find="">
    <h3>{capital(name.replaceAll('-', ' '))}</h3>
    <p>{those[0]?.why}</p>
    <ul>
      {those.slice(0, mostOfEach).map(({ at: address, says: message, mend, command }) => (
        <li data-find="">
          {typed(address)} {words(message)}. {words(mend)} {ifGiven(command, typed)}
        </li>
      ))}
    </ul>
    {madeOfAny(those.slice(mostOfEach), (remaining) => (
      <p class="aside">
        And {groupThousands(remaining.length)} more: {typed('lumbrik advice')}
      </p>
    ))}
  </article>
);

const declinedList = (declined: Advice['declined']): Node =>
  joined(
    <h3>Declined</h3>,
    <ul>
      {declined.map(({ advice, at: address, because }) => (
        <li>
          {advice} at {typed(address)}, since {words(because)}
        </li>
      ))}
    </ul>,
  );
