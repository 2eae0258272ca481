import { isError } from '../../core/entry/severities.ts';
import { grouped } from '../../core/plain/grouped.ts';
import type { CheckResult } from '../../tasks/check/check.ts';
import { xml } from '../xml.ts';
import { type ReportItem, toldBy } from './reportItems.ts';

/**
 * A check as JUnit XML: a suite for each type, a case for each entry that something was found in, and one case for all
 * the others. Errors are failures, warnings output.
 */
export function* junit(result: CheckResult): Iterable<string> {
  const items = [...toldBy(result)];
  const byEntry = grouped(items, ({ entry, file }) => entry ?? file);
  const failing = [...byEntry.values()].filter((list) => list.some(isError)).length;
  const otherEntries = result.entries - [...byEntry.values()].filter(([first]) => first?.entry !== undefined).length;
  const suites = grouped([...byEntry], ([name, [first]]) =>
    first?.entry === undefined ? 'files' : name.slice(0, name.indexOf('/')),
  );
  const tests = byEntry.size + (otherEntries > 0 ? 1 : 0);

  yield `<?xml version="1.0" encoding="UTF-8"?>\n<testsuites name="lumbrik check" tests="${tests}" failures="${failing}" errors="0">\n`;

  for (const [suite, cases] of suites) {
    const failures = cases.filter(([, list]) => list.some(isError)).length;
    yield `  <testsuite name="${xml(suite)}" tests="${cases.length}" failures="${failures}" errors="0">\n`;
    for (const [name, list] of cases) yield* testCase(suite, name, list);
    yield '  </testsuite>\n';
  }

  if (otherEntries > 0)
    yield `  <testsuite name="all others" tests="1" failures="0" errors="0">\n    <testcase classname="all others" name="${otherEntries} ${otherEntries === 1 ? 'entry' : 'entries'}"/>\n  </testsuite>\n`;
  yield '</testsuites>\n';
}

function* testCase(suite: string, name: string, items: readonly ReportItem[]): Iterable<string> {
  yield `    <testcase classname="${xml(suite)}" name="${xml(name)}" file="${xml(items[0]?.file ?? '')}" line="${items[0]?.line ?? 1}">\n`;
  const errors = items.filter(isError);
  const warnings = items.filter((item) => !isError(item));
  if (errors.length > 0)
    yield `      <failure type="${xml(errors[0]?.name ?? '')}" message="${xml(errors[0]?.message ?? '')}">${errors.map(lineOf).join('\n')}</failure>\n`;
  if (warnings.length > 0) yield `      <system-out>${warnings.map(lineOf).join('\n')}</system-out>\n`;
  yield '    </testcase>\n';
}

const lineOf = ({ file, line, column, severity, message, mend, name }: ReportItem): string =>
  xml(`${file}:${line}:${column}: ${severity}: ${message} ${mend} [${name}]`);
