import { quotedId } from '../core/definition/address.ts';
import { keyOf } from '../core/entry/entry.ts';
import type { Field, Model } from '../core/model/link.ts';
import { fieldsWithin } from '../core/model/nestedFields.ts';
import { openStore } from '../stores/open.ts';
import { startingWith } from '../stores/several.ts';
import type { Item } from '../stores/store.ts';
import { findWorkspace, openWorkspace, type Workspace } from '../workspace/open.ts';
import { Trouble } from '../workspace/trouble.ts';
import type { Call } from './call.ts';
import { explainedWords } from './explain.ts';

/** What an argument of a command may name. */
export type Completed = 'type' | 'kit' | 'field' | 'taxonomy' | 'term' | 'entry' | 'word';

/** How many entries are offered: a shell waits for the answer. */
const mostOffered = 200;

/** How long they are looked for, in ms: until there is one, and for more of them. LUMBRIK_PATIENCE says another time for both. */
function patienceOf(): { readonly first: number; readonly more: number } {
  const said = Number(process.env.LUMBRIK_PATIENCE);
  return said > 0 ? { first: said, more: said } : { first: 1000, more: 300 };
}

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
  const [type = '', ...rest] = start.split('/');
  if (!wanted.has('entry') || !workspace.model.types.has(type)) return [];
  return keysAmong(startingWith(openStore(workspace), type, idStart(rest.join('/'))), type, start);
}

/** The addresses of a type that start so, as they are typed: as many as are offered, for as long as a person waits. */
async function keysAmong(items: AsyncIterable<Item>, type: string, start: string): Promise<readonly string[]> {
  const found: string[] = [];
  const patience = patienceOf();
  const began = performance.now();
  for await (const item of items) {
    if (performance.now() - began > (found.length > 0 ? patience.more : patience.first)) break;
    if (!('entry' in item) || item.entry.type !== type) continue;
    const key = keyOf({ type, id: quotedId(item.entry.id) });
    if (key.startsWith(start)) found.push(key);
    if (found.length >= mostOffered) break;
  }
  return found.sort();
}

/** How an identifier starts that is typed, in quotes or without. */
const idStart = (typed: string): string => (typed.startsWith('"') ? '' : typed);
