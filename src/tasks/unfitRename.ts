import { unfitName } from '../core/definition/address.ts';
import { keyOfField } from '../core/definition/fieldName.ts';
import type { Rename } from '../core/definition/rename.ts';
import { type Move, unfitFor } from '../core/model/move.ts';
import { formOf } from '../core/model/nestedFields.ts';
import { provenanceOf } from '../core/model/provenance.ts';
import { namesBeside } from '../core/model/renameValues.ts';
import { ownValue } from '../core/plain/json.ts';
import { didYouMean } from '../core/plain/nearest.ts';
import { shellWord } from '../core/plain/shellWord.ts';
import { thereAre } from '../core/plain/words.ts';
import type { Workspace } from '../workspace/open.ts';
import { refuse, Trouble } from '../workspace/trouble.ts';

/** The last name in the address of the renamed part. */
export function lastOf({ what: category, from }: Rename): string {
  if (category === 'taxonomy') return `${from}:`;
  if (category !== 'field') return from;
  return keyOfField(from);
}

/** @throws {Trouble} where the model has no such part, or that cannot be its name. */
export function refuseUnfitRename(rename: Rename, { model }: Workspace): void {
  const { definition } = model;
  const unfit = unfitName(rename.what, rename.to);
  if (unfit) throw new Trouble('malformed-name', `\`${rename.to}\` cannot be its name`, { mend: `${unfit.rule}.` });

  const names = namesBeside(definition, rename);
  const from = rename.what === 'field' ? keyOfField(rename.from) : rename.from;
  if (rename.what === 'term' && model.taxonomies.get(rename.taxonomy)?.isOpen)
    throw refuse(
      'open-taxonomy',
      `the terms of \`${rename.taxonomy}\` are content: authors add them while they write`,
      {
        mend: `Carry the entries over: lumbrik migration draft --merge ${shellWord(`${rename.taxonomy}:${quoted(rename.from)}=${rename.to}`)}`,
      },
    );
  if (!names.includes(from)) {
    const kit = Object.keys(definition.shared?.kits ?? {}).includes(from);
    throw new Trouble(
      'not-found',
      kit ? `\`${from}\` is a kit: no entry knows its name` : `there is no ${rename.what} \`${from}\``,
      {
        mend: kit
          ? 'Call it otherwise in the files of the model.'
          : (didYouMean(from, names) ?? thereAre(names) ?? 'Look at the model: lumbrik show'),
      },
    );
  }
  if (names.includes(rename.to))
    throw refuse('name-taken', `there is a ${rename.what} \`${rename.to}\` already`, {
      mend: 'Choose another name; nothing was written.',
    });
}

const quoted = (id: string): string => {
  if (!/\s/u.test(id)) return id;
  return `"${id}"`;
};

/** @throws {Trouble} where the model has no such field, or it cannot be there. */
export function refuseUnfitMove({ type, from, to }: Move, { model }: Workspace): void {
  const { definition } = model;
  const fields = ownValue(definition.types, type)?.fields;
  if (!fields || !formOf(fields, from)) {
    const names = fields ? Object.keys(fields) : Object.keys(definition.types);
    const name = fields ? from : type;
    throw new Trouble('not-found', `there is no ${fields ? `field \`${type}.${from}\`` : `type \`${type}\``}`, {
      mend: didYouMean(name, names) ?? thereAre(names) ?? 'Look at the model: lumbrik show',
    });
  }
  if (formOf(fields, to))
    throw refuse('name-taken', `there is a field \`${type}.${to}\` already`, {
      mend: 'Choose another place; nothing was written.',
    });

  const [provenance] = provenanceOf(definition, type, from);
  if (provenance)
    throw refuse('arrives', `\`${type}.${from}\` arrives from the ${provenance.what} ${provenance.name}`, {
      mend: `Move it in the file of that ${provenance.what}, then state it: lumbrik migration draft --moved ${type}.${from}=${type}.${to}`,
    });

  const unfit = unfitFor(fields, { from, to });
  if (unfit !== undefined || to.startsWith(`${from}.`))
    throw refuse(
      'cannot-move',
      unfit === undefined ? 'a field cannot stand inside itself' : `\`${type}.${unfit}\` is not one object alone`,
      {
        mend: 'Move it into one object, or out of one.',
      },
    );
}
