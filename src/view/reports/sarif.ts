import type { ReportingDescriptor, Result, Run } from 'sarif';
import { compact } from '../../core/plain/json.ts';
import { hashText } from '../../core/revision/canonical.ts';
import type { CheckResult } from '../../tasks/check/check.ts';
import { meaningOf, mistakeName, type ReportItem, toldBy } from './reportItems.ts';

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
  const counts = new Map<string, number>();
  for (const item of toldBy(result)) {
    yield `${separator}${JSON.stringify(resultOf(item, result.below, names, counts))}`;
    separator = ',\n';
  }

  yield '\n]}]}\n';
}

function resultOf(item: ReportItem, below: string, names: readonly string[], counts: Map<string, number>): Result {
  const { name, severity, message, mend, entry, pointer } = item;
  const artifactLocation = { uri: uriOf(below + item.file) };
  const key = [name, entry ?? item.file, pointer ?? item.says].join('\n');
  // Several of a kind in one place are distinguished by their order.
  const number = counts.get(key) ?? 0;
  counts.set(key, number + 1);
  const fix = fixOf(item, artifactLocation);

  return compact({
    ruleId: name,
    ruleIndex: names.indexOf(name),
    level: severity,
    message: { text: `${entry === undefined ? '' : `${entry}: `}${message} ${mend}` },
    locations: [
      compact({
        physicalLocation: { artifactLocation, region: regionOf(item) },
        logicalLocations: entry === undefined ? undefined : [{ fullyQualifiedName: `${entry}${pointer ?? ''}` }],
      }),
    ],
    partialFingerprints: { 'lumbrik/v1': hashText(`${key}\n${number}`).slice(0, 32) },
    fixes: fix ? [fix] : undefined,
  });
}

const regionOf = ({ line, column, end }: ReportItem) => ({
  startLine: line,
  startColumn: column,
  ...(end ? { endLine: end.line, endColumn: end.column } : {}),
});

/** What a machine can put there: a value on one line, which YAML reads as JSON does. */
function fixOf({ fix, mend, ...rest }: ReportItem, artifactLocation: { readonly uri: string }) {
  if (!fix || !rest.end || rest.line !== rest.end.line || rest.column === rest.end.column) return undefined;
  return {
    description: { text: mend },
    artifactChanges: [
      {
        artifactLocation,
        replacements: [
          { deletedRegion: regionOf({ ...rest, mend }), insertedContent: { text: JSON.stringify(fix.set) } },
        ],
      },
    ],
  };
}

/** `DanglingReference` */
const nameOf = (id: string): string => id.replace(/(?:^|-)(\w)/gu, (_, letter: string) => letter.toUpperCase());

const uriOf = (file: string): string => file.split('/').map(encodeURIComponent).join('/');
