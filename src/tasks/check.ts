import { z } from 'zod';
import { findings as catalogue, type FindingName } from '../core/entry/findings.ts';
import { checkPass, unreadFinding } from '../passes/check.ts';
import { LocatedFinding } from '../passes/locatedFinding.ts';
import { walk } from '../passes/walk.ts';
import { openStore, unreadFiles } from '../stores/open.ts';
import { readAssets } from '../workspace/assets.ts';
import { belowRepository } from '../workspace/repository.ts';
import type { Call } from './call.ts';
import { contentStateOf } from './contentState.ts';
import { readingMistakes } from './enter.ts';
import { ContentState, head, Mistake, resultVersion } from './result.ts';

export const CheckResult = z.strictObject({
  ...head('check'),
  /** Whether there is no mistake and no finding of severity error. */
  ok: z.boolean(),
  /** The path of the workspace below the root of its git repository, with a slash at its end; empty where it is the root, or in none. */
  below: z.string(),
  types: z.int(),
  taxonomies: z.int(),
  /** Mistakes in the model. Where there is any, no entry was looked at. */
  mistakes: z.array(Mistake),
  entries: z.int(),
  standing: ContentState.optional(),
  findings: z.array(LocatedFinding),
  summary: z.array(
    z.strictObject({ finding: z.string(), severity: z.enum(['error', 'warning']), count: z.int(), about: z.string() }),
  ),
});
export type CheckResult = z.output<typeof CheckResult>;

/** Checks the model, then every entry against it. */
export async function check(call: Call): Promise<CheckResult> {
  const workspace = await readingMistakes(call);
  const { model, mistakes } = workspace;
  const start = {
    lumbrik: resultVersion,
    command: 'check',
    below: belowRepository(workspace.root),
    types: model.types.size,
    taxonomies: model.taxonomies.size,
  } as const;
  if (mistakes.length > 0)
    return { ...start, ok: false, mistakes: [...mistakes], entries: 0, findings: [], summary: [] };
  const assets = await readAssets(workspace.root);
  const store = openStore(workspace);
  const pass = await checkPass(store, model, { assets, placeOf: workspace.placeOf });
  const [checked] = await walk(store, [pass], call);
  const findings = [...unreadFiles(workspace).map(unreadFinding), ...checked.findings];

  return {
    ...start,
    ok: findings.every(({ severity }) => severity !== 'error'),
    mistakes: [],
    entries: checked.looked,
    standing: await contentStateOf(workspace),
    findings,
    summary: summarize(findings),
  };
}

/** How many findings of each name there are: errors first, then the most frequent. */
function summarize(findings: readonly LocatedFinding[]): CheckResult['summary'] {
  const counts = new Map<string, CheckResult['summary'][number]>();
  for (const { finding, severity } of findings) {
    const key = `${severity} ${finding}`;
    const before = counts.get(key)?.count ?? 0;
    counts.set(key, { finding, severity, count: before + 1, about: catalogue[finding as FindingName] });
  }
  return [...counts.values()].sort(
    (a, b) => a.severity.localeCompare(b.severity) || b.count - a.count || a.finding.localeCompare(b.finding),
  );
}
