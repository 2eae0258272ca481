import { isUnique, uniqueAmong } from '../core/check/uniqueness.ts';
import { entryAddressOf } from '../core/entry/entry.ts';
import type { Type } from '../core/model/link.ts';
import { factsPass } from '../passes/facts.ts';
import { walk } from '../passes/walk.ts';
import { openStore } from '../stores/open.ts';
import type { Workspace } from '../workspace/open.ts';

/** The texts that an entry of a type may not have, since another has them: each behind the name of its field. */
export async function takenValues(workspace: Workspace, type: Type): Promise<ReadonlySet<string>> {
  const { model } = workspace;
  const scopes = new Map(
    [...type.fields.values()]
      .filter(isUnique)
      .map(({ name }) => [name, model.context.acceptedAs(uniqueAmong(model, type.name, name))] as const),
  );
  const usedValues = new Set<string>();
  if (scopes.size === 0) return usedValues;

  const pass = await factsPass(model, ({ entry, unique }) => {
    const { type: entryType } = entryAddressOf(entry);
    for (const { field, value } of unique) {
      const [name = ''] = field.split('/');
      if (scopes.get(name)?.includes(entryType)) usedValues.add(`${name} ${String(value)}`);
    }
  });
  await walk(openStore(workspace), [pass]);

  return usedValues;
}
