import type { CommandModule } from './answer.ts';

/** A command's words, known without loading it. */
export interface Command {
  /** As yargs reads it: the name and its arguments. */
  readonly usage: string;
  readonly about: string;
  readonly load: () => Promise<{ readonly default: CommandModule }>;
}

/** The commands in the order of the work. A new command is one file beside this one and one line here. */
export const commands: readonly Command[] = [
  { usage: 'new <folder>', about: 'Make a workspace', load: () => import('./new.ts') },
  {
    usage: 'learn [sources..]',
    about: 'Make a model from entries that exist, and a workspace around them',
    load: () => import('./learn.ts'),
  },
  { usage: 'show [address]', about: 'Show the workspace, or one part of it', load: () => import('./show.ts') },
  {
    usage: 'list [about]',
    about: 'List entries in rows and columns',
    load: () => import('./list.ts'),
  },
  { usage: 'check [what..]', about: 'Check the model and every entry', load: () => import('./check/index.ts') },
  {
    usage: 'rename <address> <name>',
    about: 'Rename a part of the model and every mention of it',
    load: () => import('./rename.ts'),
  },
  {
    usage: 'move <address> <to>',
    about: 'Move a field into an object or out of one',
    load: () => import('./move.ts'),
  },
  {
    usage: 'upgrade',
    about: 'Rewrite model files that use keys of an earlier version',
    load: () => import('./upgrade.ts'),
  },
  {
    usage: 'diff [from] [to]',
    about: 'Compare two models and count the effect of each change on entries',
    load: () => import('./diff.ts'),
  },
  { usage: 'seal', about: 'Record the model as a revision', load: () => import('./seal.ts') },
  { usage: 'history', about: 'List the revisions', load: () => import('./history.ts') },
  { usage: 'trace [entry]', about: 'Follow the references of an entry', load: () => import('./trace.ts') },
  {
    usage: 'terms [taxonomy]',
    about: 'Count the terms of taxonomies, find duplicates, add and import terms',
    load: () => import('./terms.ts'),
  },
  {
    usage: 'profile [address]',
    about: 'Show how fields are used: filled values, lengths, frequencies',
    load: () => import('./profile.ts'),
  },
  {
    usage: 'advice',
    about: 'Review the model and suggest improvements, with evidence',
    load: () => import('./advice.ts'),
  },
  {
    usage: 'map',
    about: 'Show types and the references between them, also as a picture',
    load: () => import('./map.ts'),
  },
  {
    usage: 'report [from] [to]',
    about: 'Write one HTML page about the model, its use and its changes',
    load: () => import('./report.ts'),
  },
  {
    usage: 'export [to] [types..]',
    about: 'Export the model, its taxonomies or the entries',
    load: () => import('./export.ts'),
  },
  { usage: 'schemas', about: 'Write JSON Schemas of all files, for editors', load: () => import('./schemas.ts') },
  { usage: 'text <source>', about: 'Convert structured text', load: () => import('./text.ts') },
  {
    usage: 'try <expression> [entries..]',
    about: 'Evaluate an expression for some entries',
    load: () => import('./try.ts'),
  },
  {
    usage: 'explain [word]',
    about: 'Explain a word of the model language, a finding or a term of ours',
    load: () => import('./explain.ts'),
  },
  {
    usage: 'completion [shell]',
    about: 'Print the completion script for your shell',
    load: () => import('./completion.ts'),
  },
];

const migrationCommands: readonly Command[] = [
  {
    usage: 'draft',
    about: 'Write the migration for the changed model',
    load: () => import('./migration/draft.ts'),
  },
  {
    usage: 'show [migration]',
    about: 'Show each step of a migration as a sentence',
    load: () => import('./migration/show.ts'),
  },
  {
    usage: 'answer [migration]',
    about: 'Answer the open questions of a migration',
    load: () => import('./migration/answer.ts'),
  },
  {
    usage: 'rehearse [migration]',
    about: 'Run a migration on the real entries without writing',
    load: () => import('./migration/rehearse.ts'),
  },
  { usage: 'run [migration]', about: 'Run a migration: all or nothing', load: () => import('./migration/run.ts') },
  {
    usage: 'undo [migration]',
    about: 'Take back the last run, byte for byte',
    load: () => import('./migration/undo.ts'),
  },
  {
    usage: 'sql [migration]',
    about: 'Write a migration as SQL, for a database with the entries',
    load: () => import('./migration/sql.ts'),
  },
  { usage: 'list', about: 'List migrations and their states', load: () => import('./migration/list.ts') },
  {
    usage: 'journals',
    about: 'List the journals of runs with sizes; empty old ones',
    load: () => import('./migration/journals.ts'),
  },
];

const addCommands: readonly Command[] = [
  { usage: 'type [name]', about: 'A type, in its own file', load: () => import('./add/type.ts') },
  { usage: 'field [to] [name]', about: 'A field of a type or a kit', load: () => import('./add/field.ts') },
  { usage: 'kit [name]', about: 'A kit: fields kept once, used in many types', load: () => import('./add/kit.ts') },
  { usage: 'taxonomy [name]', about: 'A taxonomy', load: () => import('./add/taxonomy.ts') },
  { usage: 'term [to] [name]', about: 'A term of a taxonomy', load: () => import('./add/term.ts') },
];

const entryCommands: readonly Command[] = [
  {
    usage: 'new [type] [id]',
    about: 'Write an entry with placeholders for an author',
    load: () => import('./entry/new.ts'),
  },
  {
    usage: 'revision [revision]',
    about: 'Show or record the revision that the entries obey',
    load: () => import('./entry/revision.ts'),
  },
];

/** Words with commands below them. */
export interface CommandGroup {
  readonly name: string;
  readonly about: string;
  readonly commands: readonly Command[];
  /** The command before which it is listed. */
  readonly before: string;
}

/** The commands that only group others: their name and description. */
export const groups: readonly CommandGroup[] = [
  { name: 'add', about: 'Add a type, a field, a kit, a taxonomy or a term', commands: addCommands, before: 'rename' },
  {
    name: 'entry',
    about: 'Write an entry; show or record the revision that entries obey',
    commands: entryCommands,
    before: 'rename',
  },
  {
    name: 'migration',
    about: 'Draft, answer, rehearse, run and undo migrations',
    commands: migrationCommands,
    before: 'seal',
  },
];
