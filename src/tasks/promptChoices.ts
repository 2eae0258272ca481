import { wordsIn } from '../core/definition/wording.ts';
import { compact } from '../core/plain/json.ts';
import type { Call } from './call.ts';
import { reading } from './openForCall.ts';

interface Offered {
  readonly value: string;
  readonly about?: string;
}

/** The parts of a model that can be chosen, with their descriptions. */
export async function offered(
  call: Call,
  parts: readonly ('type' | 'kit' | 'taxonomy')[],
): Promise<readonly Offered[]> {
  const { model } = await reading(call);
  const { types, taxonomies, shared = {} } = model.definition;
  const definitions = { type: types, kit: shared.kits ?? {}, taxonomy: taxonomies };
  return parts.flatMap((part) =>
    Object.entries(definitions[part]).map(([value, { about }]) =>
      compact({ value, about: wordsIn(about, model.readingOrder) }),
    ),
  );
}
