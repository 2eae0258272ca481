import { wordsIn } from '../../core/definition/wording.ts';
import { linkField } from '../../core/model/link.ts';
import { fieldsWithin } from '../../core/model/nestedFields.ts';
import { isMadeOf, provenanceOf } from '../../core/model/provenance.ts';
import { ownValue } from '../../core/plain/json.ts';
import { humanize } from '../../core/plain/words.ts';
import type { Workspace } from '../../workspace/open.ts';
import { command, type SharedShown } from './result.ts';
import { fieldShown } from './type.ts';

/** Something that is kept once, and every field that is made of it. `undefined` where nothing shared has that name. */
export function showShared({ model }: Pick<Workspace, 'model'>, name: string): SharedShown | undefined {
  const { readingOrder } = model;
  const { shared = {} } = model.definition;
  const kit = ownValue(shared.kits ?? {}, name);
  const field = ownValue(shared.fields ?? {}, name);
  const kind = ownValue(shared.kinds ?? {}, name);
  const [part] = [kit && ('kit' as const), field && ('field' as const), kind && ('kind' as const)].filter(
    (part) => part !== undefined,
  );
  if (!part) return undefined;

  const fields = kit?.fields ?? (field ? { [name]: field } : {});
  const about = wordsIn(kit?.about ?? kind?.about, readingOrder);

  return {
    ...command,
    what: 'shared',
    part,
    name,
    label: wordsIn(kit?.label, readingOrder) ?? humanize(name),
    ...(about === undefined ? {} : { about }),
    ...(kind ? { on: kind.on } : {}),
    fields: Object.entries(fields).flatMap(([fieldName, definition]) => {
      const linked = linkField({ type: name }, fieldName, definition, readingOrder);
      if (!linked) return [];
      return [fieldShown(linked, model)];
    }),
    options: { ...kind?.options },
    reaches: [...model.types.values()].flatMap((type) =>
      fieldsWithin(type.fields)
        .filter((field) => isMadeOf(provenanceOf(model.definition, type.name, field.name), { what: part, name }))
        .map(({ address }) => address),
    ),
  };
}
