import { type Address, addressForms, nameOfField, parseAddress, unfitName } from '../core/definition/address.ts';
import type { Rename } from '../core/definition/rename.ts';
import type { StatedRenames } from '../core/diff/statedRenames.ts';
import type { Move } from '../core/model/move.ts';
import { Trouble } from '../workspace/trouble.ts';

/** What the caller says about renames and moves: `lighthouse.height=focalHeight`, and addresses that are neither. */
export interface Renames {
  readonly renamed?: readonly string[];
  readonly moved?: readonly string[];
  readonly notRenamed?: readonly string[];
}

/** Reads statements about renames. @throws {Trouble} where a text is none. */
export function readRenameOptions({ renamed = [], moved = [], notRenamed = [] }: Renames): StatedRenames {
  for (const text of notRenamed)
    if (!parseAddress(text.split('=')[0] ?? text)) throw badAddress(`--not-renamed ${text}`);
  return {
    renames: renamed.map((text) => readRename(text)),
    moves: moved.map((text) => readMove(text)),
    apart: new Set(notRenamed),
  };
}

/** The new name alone, where its whole address was written. */
function lastName(category: Address['what'], from: string, to: string): string {
  if (category !== 'term' && category !== 'choice') return to.split(/[./:]/u).at(-1) ?? to;
  const before = from.slice(0, from.indexOf(':') + 1);
  const name = to.startsWith(before) ? to.slice(before.length) : to;
  return name.slice(name.lastIndexOf('/') + 1);
}

/** Reads a field's old address and its new one, `tour.street=tour.at.street`. @param option the typed text. @throws {Trouble} */
export function readMove(text: string, option = `--moved ${text}`): Move {
  const [from, to] = text.split('=').map((part) => parseAddress(part));
  const isField = (address: Address | undefined): address is Extract<Address, { what: 'field' | 'inner' }> =>
    address?.what === 'field' || address?.what === 'inner';
  if (isField(from) && isField(to) && from.type !== to.type)
    throw new Trouble('malformed-move', `a field is moved within its type: ${to.type} is another`, {
      mend: `Where a reference leads from one to the other, move its definition by hand, under the same name: lumbrik migration draft sees that its values go along. By hand in a migration: \`move\` with \`along\` (lumbrik explain move).`,
    });
  if (!isField(from) || !isField(to))
    throw new Trouble('malformed-move', `${option} names no field and its new place in the same type`, {
      mend: `Write ${option.startsWith('--') ? '--moved tour.street=tour.at.street' : 'lumbrik move tour.street tour.at.street'}`,
    });
  return { type: from.type, from: nameOfField(from), to: nameOfField(to) };
}

/** Reads an old address and a new name, `lighthouse.height=focalHeight`. @param option the typed text. @throws {Trouble} */
export function readRename(text: string, option = `--renamed ${text}`): Rename {
  const [from = '', to = '', ...more] = text.split('=');
  const address = parseAddress(from);
  if (!address || address.what === 'entry' || to === '' || more.length > 0) throw badAddress(option);

  const name = lastName(address.what, from, to);
  const unfit = unfitName(address.what === 'inner' ? 'field' : address.what, name);
  if (unfit)
    throw new Trouble('malformed-rename', `\`${to}\` cannot be a name: ${unfit.rule}`, {
      mend: wayToSay(option),
    });

  switch (address.what) {
    case 'type':
      return { what: 'type', from: address.type, to: name };
    case 'field':
      return { what: 'field', type: address.type, from: address.field, to: name };
    case 'inner':
      return { what: 'field', type: address.type, from: nameOfField(address), to: name };
    case 'choice':
      return { what: 'choice', type: address.type, field: nameOfField(address), from: address.choice, to: name };
    case 'taxonomy':
      return { what: 'taxonomy', from: address.taxonomy, to: name };
    case 'term':
      return { what: 'term', taxonomy: address.taxonomy, from: address.term, to: name };
  }
}

const wayToSay = (option: string): string => {
  if (option.startsWith('--renamed')) return 'Write --renamed lighthouse.height=focalHeight.';
  return 'Write lumbrik rename lighthouse.height focalHeight.';
};

const badAddress = (option: string): Trouble =>
  new Trouble('malformed-rename', `${option} names nothing that can be renamed`, {
    mend: `${option.startsWith('--not-renamed') ? '' : `${wayToSay(option)} `}${addressForms}`,
  });
