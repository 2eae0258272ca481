import path from 'node:path';
import { parseAddress } from '../core/definition/address.ts';
import { openStore } from '../stores/open.ts';
import { Trouble } from '../workspace/trouble.ts';
import type { Call } from './call.ts';
import { reading } from './openForCall.ts';

/** Where an entry is kept: its file, as the system names it, and the line in it that it starts at. @throws {Trouble} */
export async function entryPlace(call: Call, text: string): Promise<{ readonly file: string; readonly line: number }> {
  const workspace = await reading(call);
  const store = openStore(workspace);
  const address = parseAddress(text);
  const stored = address?.what === 'entry' ? await store.get({ type: address.type, id: address.id }) : undefined;
  if (!stored) throw new Trouble('not-found', `there is no entry \`${text}\` any more`, { mend: 'List them anew.' });

  const place = await store.locate(stored.place, []);
  return { file: path.join(workspace.root, stored.place.file), line: place?.start.line ?? 1 };
}
