import type { ReportingDescriptor, Result, Run } from 'sarif';
import { compact } from '../../core/plain/json.ts';
import { hashText } from '../../core/revision/canonical.ts';
import type { CheckResult } from '../../tasks/check/check.ts';
import { meaningOf, mistakeName, type Told, toldBy } from './reportItems.ts';

/**
 * A check as SARIF 2.1.0 (OASIS), with places, fixes and fingerprints that stay the same while a finding does, wherever
 * it moves in its file. Paths are relative to the root of the git repository, or to the workspace where there is none.
 */
export function* sarif(result: CheckResult): Iterable<string> {
  const names = [
    ...new Set([...(result.mistakes.length > 0 ? [mistakeName] : []), ...result.summary.map(({ finding }) => finding)]),
  ].sort();
  const rules = names.map(
    (id): ReportingDescriptor => ({ id, name: nameOf(id), shortDescription: { text: meaningOf(id) } }),
  );
  const run: Omit<Run, 'results'> = {
    tool: { driver: { name: 'Lumbrik', rules } },
    columnKind: 'utf16CodeUnits',
  };
  const start = JSON.stringify({
    $schema: 'https://json.schemastore.org/sarif-2.1.0.json',
    version: '2.1.0',
    runs: [run],
  });
  yield start.slice(0, -'}]}'.length);
  yield ',"results":[';
  let separator = '\n';
  const seen = new Map<string, number>();
  for (const told of toldBy(result)) {
    yield `${separator}${JSON.stringify(resultOf(told, result.below, names, seen))}`;
    separator = ',\n';
  }
  yield '\n]}]}\n';
}

function resultOf(told: Told, below: string, names: readonly string[], seen: Map<string, number>): Result {
  const { name, severity, message, mend, entry, pointer } = told;
  const artifactLocation = { uri: uriOf(below + told.file) };
  const key = [name, entry ?? told.file, pointer ?? told.says].join('\n');
  // Several of a kind in one place are told apart by their order.
  const number = seen.get(key) ?? 0;
  seen.set(key, number + 1);
  const fix = fixOf(told, artifactLocation);
  return compact({
    ruleId: name,
    ruleIndex: names.indexOf(name),
    level: severity,
    message: { text: `${entry === undefined ? '' : `${entry}: `}${message} ${mend}` },
    locations: [
      compact({
        physicalLocation: { artifactLocation, region: regionOf(told) },
        logicalLocations: entry === undefined ? undefined : [{ fullyQualifiedName: `${entry}${pointer ?? ''}` }],
      }),
    ],
    partialFingerprints: { 'lumbrik/v1': hashText(`${key}\n${number}`).slice(0, 32) },
    fixes: fix ? [fix] : undefined,
  });
}

const regionOf = ({ line, column, end }: Told) => ({
  startLine: line,
  startColumn: column,
  ...(end ? { endLine: end.line, endColumn: end.column } : {}),
});

/** What a machine can put there: a value on one line, which YAML reads as JSON does. */
function fixOf({ fix, mend, ...told }: Told, artifactLocation: { readonly uri: string }) {
  if (!fix || !told.end || told.line !== told.end.line || told.column === told.end.column) return undefined;
  return {
    description: { text: mend },
    artifactChanges: [
      {
        artifactLocation,
        replacements: [
          { deletedRegion: regionOf({ ...told, mend }), insertedContent: { text: JSON.stringify(fix.set) } },
        ],
      },
    ],
  };
}

/** `DanglingReference` */
const nameOf = (id: string): string => id.replace(/(?:^|-)(\w)/gu, (_, letter: string) => letter.toUpperCase());

const uriOf = (file: string): string => file.split('/').map(encodeURIComponent).join('/');
