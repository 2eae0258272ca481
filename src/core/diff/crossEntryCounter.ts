import { compile } from '../check/compile.ts';
import { CrossEntryCheck } from '../check/crossEntry.ts';
import { FactsPacker } from '../check/packedFacts.ts';
import { type FactKeys, noFactKeys } from '../definition/builtIn.ts';
import type { Entry } from '../entry/entry.ts';
import type { Finding } from '../entry/findings.ts';
import type { Model } from '../model/link.ts';
import { compact } from '../plain/json.ts';
import { type Counter, countEntries, type SampledEntry, share } from './counter.ts';
import type { ComparedModels } from './differences/define.ts';

/**
 * Counts entries that come to break something which only shows when entries are seen together: all are checked against
 * both models, and a finding under the newer one alone is a hit: there, values have the shapes of the newer fields.
 * @param concerns which findings the difference is about.
 * @param among the types whose entries it could hit, where it hits none.
 */
export function crossEntryCounter(
  { between, after, carried = (entry) => entry }: ComparedModels,
  concerns: (finding: Finding) => boolean,
  describe: (hits: number, total: number, example: string) => string,
  among: (type: string) => boolean = () => true,
): Counter {
  const oldFindings = new EntryFindings(between);
  const newFindings = new EntryFindings(after);
  const entries: SampledEntry[] = [];

  return {
    see: (entry) => {
      oldFindings.see(entry);
      newFindings.see(carried(entry));
      entries.push({ ...entry, fields: {} });
    },
    impact: () => {
      const before = new Set(oldFindings.findings().map(nameOf));
      const hits = new Set(
        newFindings
          .findings()
          .filter((finding) => concerns(finding) && !before.has(nameOf(finding)))
          .map(({ entry }) => `${entry.type}/${entry.id}`),
      );
      const types = new Set([...hits].map((entry) => entry.slice(0, entry.indexOf('/'))));
      const counter = countEntries(
        undefined,
        ({ type, id }) => hits.has(`${type}/${id}`),
        (number, total, _worst, [first]) => describe(number, total, first?.entry ?? ''),
      );

      for (const entry of entries) if (types.size === 0 ? among(entry.type) : types.has(entry.type)) counter.see(entry);

      return counter.impact();
    },
  };
}

/** Counts targets to which too few references lead by fields that are new. @param by the addresses of these fields. */
export const pointingCounter = (models: ComparedModels, ...by: readonly string[]): Counter =>
  crossEntryCounter(
    models,
    (finding) => finding.finding === 'too-few-pointing' && by.includes(finding.by ?? ''),
    (hits, total, example) => `${share(hits, total)} nothing that points there, for example ${example}`,
  );

/** What makes two findings the same: one that was a warning and is an error is another. */
const nameOf = ({ finding, severity, entry, path }: Finding): string =>
  `${severity} ${finding} ${entry.type}/${entry.id} ${path.join('/')}`;

/** Of what every entry has, counting knows the status, under a key that no field has. */
const statusKey = ' status';
const countedFacts: FactKeys = { ...noFactKeys, status: statusKey };

/** Both passes of checking, over entries as counting sees them. */
class EntryFindings {
  readonly #checker;
  readonly #joiner;
  readonly #facts;
  readonly #findings: Finding[] = [];

  constructor(model: Model) {
    this.#checker = compile(model);
    this.#joiner = new CrossEntryCheck(model, { sayPlace: String });
    this.#facts = new FactsPacker(model);
  }

  see({ type, id, status, fields, expressionSteps }: SampledEntry): void {
    const values = { ...fields, [statusKey]: status };
    const entry: Entry = compact({ type, id, values, factKeys: countedFacts, expressionSteps });
    const { findings, facts } = this.#checker.check(entry);
    this.#findings.push(...findings);
    this.#facts.add(facts, entry);
  }

  findings(): readonly Finding[] {
    this.#joiner.add(this.#facts.done(), () => '');
    return [...this.#findings, ...this.#joiner.join().findings];
  }
}
