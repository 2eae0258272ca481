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
    about: 'Make a workspace around entries that exist, with the model that they obey',
    load: () => import('./learn.ts'),
  },
  { usage: 'show [address]', about: 'Look at the workspace, or at one thing in it', load: () => import('./show.ts') },
  {
    usage: 'list [about]',
    about: 'List entries in rows and columns',
    load: () => import('./list.ts'),
  },
  { usage: 'check [what..]', about: 'Check the model, then every entry', load: () => import('./check.ts') },
  {
    usage: 'rename <address> <name>',
    about: 'Rename a part of the model, with all that mentions it',
    load: () => import('./rename.ts'),
  },
  {
    usage: 'move <address> <to>',
    about: 'Move a field into an object, or out of one',
    load: () => import('./move.ts'),
  },
  {
    usage: 'diff [from] [to]',
    about: 'Compare two models, and count what each change does to entries',
    load: () => import('./diff.ts'),
  },
  { usage: 'seal', about: 'Record the model as a revision', load: () => import('./seal.ts') },
  { usage: 'history', about: 'List the revisions', load: () => import('./history.ts') },
  { usage: 'trace [entry]', about: 'Walk the references of an entry', load: () => import('./trace.ts') },
  {
    usage: 'terms [taxonomy]',
    about: 'Count the terms of taxonomies, find twins, add many, read thesauri',
    load: () => import('./terms.ts'),
  },
  {
    usage: 'profile [address]',
    about: 'How fields are really used: what is filled, how long, how often',
    load: () => import('./profile.ts'),
  },
  {
    usage: 'advice',
    about: 'Review the model: what may be better, with what speaks for it',
    load: () => import('./advice.ts'),
  },
  { usage: 'map', about: 'Show what points at what, as a picture too', load: () => import('./map.ts') },
  {
    usage: 'report [from] [to]',
    about: 'Write it all on one page, for people without a command line',
    load: () => import('./report.ts'),
  },
  {
    usage: 'export [to] [types..]',
    about: 'Tell the model, its taxonomies and the entries to other programs',
    load: () => import('./export.ts'),
  },
  { usage: 'schemas', about: 'Write JSON Schemas of all files, for editors', load: () => import('./schemas.ts') },
  { usage: 'text <source>', about: 'Convert structured text', load: () => import('./text.ts') },
  {
    usage: 'try <expression> [entries..]',
    about: 'Compute an expression, for some entries side by side',
    load: () => import('./try.ts'),
  },
  {
    usage: 'explain [word]',
    about: 'Explain a kind, an option, a function, a finding or a step',
    load: () => import('./explain.ts'),
  },
  {
    usage: 'completion [shell]',
    about: 'Print the script by which your shell completes commands, addresses and words',
    load: () => import('./completion.ts'),
  },
];

const migrationCommands: readonly Command[] = [
  {
    usage: 'draft',
    about: 'Write the migration that the changed model asks for',
    load: () => import('./migration/draft.ts'),
  },
  { usage: 'show [migration]', about: 'Read a migration aloud', load: () => import('./migration/show.ts') },
  {
    usage: 'answer [migration]',
    about: 'Answer what a migration leaves open',
    load: () => import('./migration/answer.ts'),
  },
  {
    usage: 'rehearse [migration]',
    about: 'Run it on the real entries without writing',
    load: () => import('./migration/rehearse.ts'),
  },
  { usage: 'run [migration]', about: 'Run it: all or nothing', load: () => import('./migration/run.ts') },
  {
    usage: 'undo [migration]',
    about: 'Take the last run back, byte for byte',
    load: () => import('./migration/undo.ts'),
  },
  {
    usage: 'sql [migration]',
    about: 'Tell it as SQL, for a database that holds the entries',
    load: () => import('./migration/sql.ts'),
  },
  { usage: 'list', about: 'List the migrations, and where each stands', load: () => import('./migration/list.ts') },
  {
    usage: 'journals',
    about: 'List the journals of runs with their sizes, and empty old ones',
    load: () => import('./migration/journals.ts'),
  },
];

const addCommands: readonly Command[] = [
  { usage: 'type [name]', about: 'A type, in a file of its own', load: () => import('./add/type.ts') },
  { usage: 'field [to] [name]', about: 'A field of a type or a kit', load: () => import('./add/field.ts') },
  { usage: 'kit [name]', about: 'A kit: fields kept once, used in many types', load: () => import('./add/kit.ts') },
  { usage: 'taxonomy [name]', about: 'A taxonomy', load: () => import('./add/taxonomy.ts') },
  { usage: 'term [to] [name]', about: 'A term of a taxonomy', load: () => import('./add/term.ts') },
];

const entryCommands: readonly Command[] = [
  { usage: 'new [type] [id]', about: 'Write an entry for an author to fill in', load: () => import('./entry/new.ts') },
  {
    usage: 'revision [revision]',
    about: 'Tell or record which revision the entries obey',
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

export const groups: readonly CommandGroup[] = [
  { name: 'add', about: 'Add a type, a field, a kit, a taxonomy or a term', commands: addCommands, before: 'rename' },
  {
    name: 'entry',
    about: 'Write entries, and say which revision they obey',
    commands: entryCommands,
    before: 'rename',
  },
  {
    name: 'migration',
    about: 'Draft, answer, rehearse, run and take back migrations',
    commands: migrationCommands,
    before: 'seal',
  },
];
