import { z } from 'zod';
import { AddResult } from './tasks/add.ts';
import { AdviceResult } from './tasks/advice.ts';
import { CheckResult } from './tasks/check/check.ts';
import { FixResult } from './tasks/check/fix.ts';
import { SinceResult } from './tasks/check/since.ts';
import { DiffResult } from './tasks/diff.ts';
import { EntryNewResult } from './tasks/entryNew.ts';
import { EntryRevisionResult } from './tasks/entryRevision.ts';
import { ExplainResult } from './tasks/explain.ts';
import { ExportEntriesResult } from './tasks/exportEntries.ts';
import { ExportResult } from './tasks/exportModel.ts';
import { HistoryResult } from './tasks/history.ts';
import { LearnResult } from './tasks/learn/result.ts';
import { LearnIntoResult } from './tasks/learnInto.ts';
import { LearnSchemaResult } from './tasks/learnSchema.ts';
import { ListResult } from './tasks/list.ts';
import { MapResult } from './tasks/map.ts';
import { AnswerResult } from './tasks/migration/answer.ts';
import { DraftResult } from './tasks/migration/draft.ts';
import { MigrationListResult } from './tasks/migration/list.ts';
import { RehearseResult } from './tasks/migration/rehearse.ts';
import { RunResult } from './tasks/migration/run.ts';
import { MigrationShowResult } from './tasks/migration/show.ts';
import { MigrationSqlResult } from './tasks/migration/sql.ts';
import { UndoResult } from './tasks/migration/undo.ts';
import { NewResult } from './tasks/newWorkspace.ts';
import { ProfileResult } from './tasks/profile.ts';
import { ReportResult } from './tasks/report.ts';
import { ErrorResult } from './tasks/result.ts';
import { SchemasResult } from './tasks/schemas.ts';
import { SealResult } from './tasks/seal.ts';
import { ShowResult } from './tasks/show/result.ts';
import { TermsResult } from './tasks/terms/result.ts';
import { TextResult } from './tasks/text.ts';
import { TraceResult } from './tasks/trace.ts';
import { TryResult } from './tasks/try.ts';

const results = {
  add: AddResult,
  advice: AdviceResult,
  check: CheckResult,
  'check-fix': FixResult,
  'check-since': SinceResult,
  diff: DiffResult,
  'entry-new': EntryNewResult,
  'entry-revision': EntryRevisionResult,
  error: ErrorResult,
  explain: ExplainResult,
  export: ExportResult,
  'export-entries': ExportEntriesResult,
  try: TryResult,
  history: HistoryResult,
  learn: LearnResult,
  'learn-into': LearnIntoResult,
  'learn-schema': LearnSchemaResult,
  list: ListResult,
  map: MapResult,
  'migration-answer': AnswerResult,
  'migration-draft': DraftResult,
  'migration-list': MigrationListResult,
  'migration-rehearse': RehearseResult,
  'migration-run': RunResult,
  'migration-show': MigrationShowResult,
  'migration-sql': MigrationSqlResult,
  'migration-undo': UndoResult,
  new: NewResult,
  profile: ProfileResult,
  report: ReportResult,
  schemas: SchemasResult,
  seal: SealResult,
  show: ShowResult,
  terms: TermsResult,
  text: TextResult,
  trace: TraceResult,
};

/** The JSON Schemas (draft 2020-12) of what `--format json` prints, by command: the build writes them into the package. */
export const schemas: Readonly<Record<string, unknown>> = Object.fromEntries(
  Object.entries(results).map(([name, schema]) => [name, z.toJSONSchema(schema, { unrepresentable: 'any' })]),
);
