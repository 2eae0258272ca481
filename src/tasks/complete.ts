import { quotedId } from '../core/definition/address.ts';
import { keyOf } from '../core/entry/entry.ts';
import type { Field, Model } from '../core/model/link.ts';
import { fieldsWithin } from '../core/model/nestedFields.ts';
import { entriesOf } from '../passes/walk.ts';
import { openStore } from '../stores/open.ts';
import { findWorkspace, openWorkspace, type Workspace } from '../workspace/open.ts';
import { Trouble } from '../workspace/trouble.ts';
import type { Call } from './call.ts';
import { explainedWords } from './explain.ts';

/** What an argument of a command may name. */
export type Completed = 'type' | 'kit' | 'field' | 'taxonomy' | 'term' | 'entry' | 'word';

/** How many entries are offered, and how many are looked at to find them: a shell waits for the answer. */
const mostOffered = 200;
const mostLookedAt = 5000;

/** Every address that starts with what was typed so far; none where there is no workspace, or one with mistakes. */
export async function complete(call: Call, typed: string, wanted: ReadonlySet<Completed>): Promise<readonly string[]> {
  if (wanted.has('word')) return explainedWords().filter((word) => word.startsWith(typed));
  try {
    const workspace = openWorkspace(findWorkspace(call.workspace));
    const names = namesWanted(workspace.model, wanted).filter((name) => name.startsWith(typed));
    const [only] = names;
    // A name that is sure already goes on with what stands in it.
    const start = only !== undefined && names.length === 1 ? only : typed;
    const inside = [...insideOf(workspace.model, start, wanted), ...(await entriesOfType(workspace, start, wanted))];
    return [...new Set([...names, ...inside])].filter(
      (one) => one.startsWith(typed) && !(one === typed && one.endsWith('/')),
    );
  } catch (error) {
    if (error instanceof Trouble) return [];
    throw error;
  }
}

/** The names at the top of a model, as addresses start with them. */
function namesWanted({ types, taxonomies, definition: { shared = {} } }: Model, wanted: ReadonlySet<Completed>) {
  const opensEntries = wanted.has('entry') && !wanted.has('type');
  return [
    ...(wanted.has('type') ? types.keys() : []),
    ...(opensEntries ? [...types.keys()].map((name) => `${name}/`) : []),
    ...(wanted.has('kit') ? Object.keys(shared.kits ?? {}) : []),
    ...(wanted.has('taxonomy') ? [...taxonomies.keys()].map((name) => (wanted.has('term') ? `${name}:` : name)) : []),
  ];
}

/** The fields of the type, or the terms of the taxonomy, that an address starts with. */
function insideOf({ types, taxonomies }: Model, start: string, wanted: ReadonlySet<Completed>): readonly string[] {
  const name = /^\w*/u.exec(start)?.[0] ?? '';
  const fields = wanted.has('field') ? fieldsWithin(types.get(name)?.fields ?? new Map()) : [];
  const terms = wanted.has('term') ? (taxonomies.get(name)?.terms.keys() ?? []) : [];
  return [
    ...fields.flatMap((field) => [`${name}.${field.name}`, ...choicesOf(name, field)]),
    ...[...terms].map((term) => `${name}:${quotedId(term)}`),
  ];
}

const choicesOf = (type: string, { name, kind, options }: Field): readonly string[] =>
  kind.members(options).map((member) => `${type}.${name}:${quotedId(member.name)}`);

async function entriesOfType(workspace: Workspace, start: string, wanted: ReadonlySet<Completed>) {
  const [type = ''] = start.split('/');
  if (!wanted.has('entry') || !workspace.model.types.has(type)) return [];
  const found: string[] = [];
  let looked = 0;
  for await (const { entry } of entriesOf(openStore(workspace))) {
    looked += 1;
    const key = keyOf({ type: entry.type, id: quotedId(entry.id) });
    if (entry.type === type && key.startsWith(start)) found.push(key);
    if (found.length >= mostOffered || looked >= mostLookedAt) break;
  }
  return found.sort();
}
