import { quotedId } from '../core/definition/address.ts';
import { keyOf } from '../core/entry/entry.ts';
import { kinds } from '../core/kinds/index.ts';
import type { Field, Model } from '../core/model/link.ts';
import { fieldsWithin } from '../core/model/nestedFields.ts';
import { beginnings } from '../core/plain/beginnings.ts';
import { addressesPass } from '../passes/addresses.ts';
import { walk } from '../passes/walk.ts';
import { openStore } from '../stores/open.ts';
import { findWorkspace, openWorkspace, type Workspace } from '../workspace/open.ts';
import { Trouble } from '../workspace/trouble.ts';
import type { Call } from './call.ts';
import { explainedWords } from './explain.ts';
import { memorySpaceOf } from './memorySpace.ts';
import { readMigrations } from './migrationFiles.ts';

/** What an argument of a command may name. */
export type Completed =
  | 'type'
  | 'kit'
  | 'field'
  | 'taxonomy'
  | 'term'
  | 'entry'
  | 'word'
  | 'kind'
  | 'shared field'
  | 'language'
  | 'revision'
  | 'migration';

/** How many entries are offered by their whole addresses: nobody reads on to the end of more. */
const mostOffered = 200;

/** How long entries are looked for, in ms: a shell waits for the answer. LUMBRIK_PATIENCE says another time. */
function patience(): number {
  const setting = Number(process.env.LUMBRIK_PATIENCE);
  if (setting > 0) return setting;
  return 1500;
}

/**
 * What may follow the beginning of an address, without that beginning: the terms of a taxonomy by their bare names. Where
 * the beginning is typed as well, it is offered with it.
 */
export async function completeBehind(
  call: Call,
  beginning: string,
  typed: string,
  expected: ReadonlySet<Completed>,
): Promise<readonly string[]> {
  if (typed.startsWith(beginning)) return complete(call, typed, expected);
  const matches = await complete(call, `${beginning}${typed}`, expected);
  return matches.map((text) => text.slice(beginning.length));
}

/** Every address that starts with what was typed so far; none where there is no workspace, or one with mistakes. */
export async function complete(
  call: Call,
  typed: string,
  expected: ReadonlySet<Completed>,
): Promise<readonly string[]> {
  if (expected.has('word')) return explainedWords().filter((word) => word.startsWith(typed));
  try {
    const workspace = openWorkspace(findWorkspace(call.workspace));
    const names = [...namesWanted(workspace.model, expected), ...namesBeside(workspace, expected)].filter((name) =>
      name.startsWith(typed),
    );
    const [only] = names;
    // A name that is sure already goes on with its content.
    const start = only !== undefined && names.length === 1 ? only : typed;
    const inside = [
      ...insideOf(workspace.model, start, expected),
      ...(await entriesOfType(workspace, start, expected)),
    ];

    return [...new Set([...names, ...inside])].filter(
      (text) => text.startsWith(typed) && !(text === typed && text.endsWith('/')),
    );
  } catch (error) {
    if (error instanceof Trouble) return [];
    throw error;
  }
}

/** The names at the top of a model, as addresses start with them. */
function namesWanted({ types, taxonomies, definition: { shared = {} } }: Model, expected: ReadonlySet<Completed>) {
  const opensEntries = expected.has('entry') && !expected.has('type');
  return [
    ...(expected.has('type') ? types.keys() : []),
    ...(opensEntries ? [...types.keys()].map((name) => `${name}/`) : []),
    ...(expected.has('kit') ? Object.keys(shared.kits ?? {}) : []),
    ...(expected.has('shared field') ? Object.keys(shared.fields ?? {}) : []),
    ...(expected.has('taxonomy')
      ? [...taxonomies.keys()].map((name) => (expected.has('term') ? `${name}:` : name))
      : []),
  ];
}

/** Names that are no addresses. */
const namesBeside = ({ root, languages, records }: Workspace, expected: ReadonlySet<Completed>): readonly string[] => [
  ...(expected.has('kind') ? kinds.keys() : []),
  ...(expected.has('language') ? languages : []),
  ...(expected.has('revision') ? records.revisions.map(({ revision }) => String(revision)) : []),
  ...(expected.has('migration') ? readMigrations(root).map(({ migration }) => String(migration.number)) : []),
];

/** The fields of the type, or the terms of the taxonomy, that an address starts with. */
function insideOf({ types, taxonomies }: Model, start: string, expected: ReadonlySet<Completed>): readonly string[] {
  const name = /^\w*/u.exec(start)?.[0] ?? '';
  const fields = expected.has('field') ? fieldsWithin(types.get(name)?.fields ?? new Map()) : [];
  const terms = expected.has('term') ? (taxonomies.get(name)?.terms.keys() ?? []) : [];
  return [
    ...fields.flatMap((field) => [`${name}.${field.name}`, ...choicesOf(name, field)]),
    ...[...terms].map((term) => `${name}:${quotedId(term)}`),
  ];
}

const choicesOf = (type: string, { name, kind, options }: Field): readonly string[] =>
  kind.members(options).map((member) => `${type}.${name}:${quotedId(member.name)}`);

async function entriesOfType(workspace: Workspace, start: string, expected: ReadonlySet<Completed>) {
  const [type = ''] = start.split('/');
  if (!expected.has('entry') || !workspace.model.types.has(type)) return [];

  const keys = (await identifiersOf(workspace, type)).map((id) => keyOf({ type, id: quotedId(id) }));
  return beginnings(
    keys.filter((key) => key.startsWith(start)),
    mostOffered,
  );
}

/**
 * The identifiers of all entries of a type; none where reading them takes longer than a person waits: a part of them would
 * look like all. The next call goes further: it remembers the parts that this call read.
 */
async function identifiersOf(workspace: Workspace, type: string): Promise<readonly string[]> {
  const store = openStore(workspace);
  const memory = store.home && memorySpaceOf('addresses', workspace.root, store.home, []);
  const until = AbortSignal.timeout(patience());

  try {
    const [ids] = await walk(store, [addressesPass(type, memory)], { until });
    return ids;
  } catch (error) {
    if (until.aborted) return [];
    throw error;
  }
}
