import { type Address, addressForms, parseAddress } from '../core/definition/address.ts';
import { openStore } from '../stores/open.ts';
import type { EntryStore } from '../stores/store.ts';
import type { Workspace } from '../workspace/open.ts';
import { Trouble } from '../workspace/trouble.ts';
import type { Call } from './call.ts';
import { readIn, reading } from './openForCall.ts';
import { showEntry } from './show/entry.ts';
import { overview } from './show/overview.ts';
import type { ShowResult } from './show/result.ts';
import { showShared } from './show/shared.ts';
import { showTaxonomy } from './show/taxonomy.ts';
import { showField, showType, typeNamed } from './show/type.ts';

/** Shows the workspace at a glance, or the one thing in it that an address names. */
export async function show(call: Call, text: string | undefined, language?: string): Promise<ShowResult> {
  const workspace = await reading(call);
  const store = openStore(workspace);
  const read = readIn(workspace, language);
  if (text === undefined) return overview(workspace, read, store, call);

  const address = parseAddress(text);
  if (!address) throw new Trouble('malformed-address', `“${text}” is no address`, { mend: addressForms });
  if (address.what === 'entry') return showEntry(workspace, store, address, language);
  return showAddress({ ...workspace, model: read }, store, address);
}

async function showAddress(
  workspace: Workspace,
  store: EntryStore,
  address: Exclude<Address, { what: 'entry' }>,
): Promise<ShowResult> {
  const { model } = workspace;
  switch (address.what) {
    case 'type':
      // A bare name may also mean a taxonomy: names are shared between the two, so there is no doubt.
      if (model.taxonomies.has(address.type)) return showTaxonomy(workspace, store, address.type);
      return showShared(workspace, address.type) ?? showType(workspace, store, typeNamed(workspace, address.type));
    case 'field':
    case 'inner':
    case 'choice':
      return showField(workspace, store, address);
    case 'taxonomy':
      return showTaxonomy(workspace, store, address.taxonomy);
    case 'term':
      return showTaxonomy(workspace, store, address.taxonomy, address.term);
  }
}
