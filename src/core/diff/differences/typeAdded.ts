import { asJson } from '../../definition/model.ts';
import type { TypeDoc } from '../../definition/type.ts';
import { defineDifference } from './define.ts';

/** There is a new type. */
export interface TypeAdded {
  readonly name: 'type-added';
  readonly type: string;
  readonly definition: TypeDoc;
}

export const typeAdded = defineDifference<TypeAdded>({
  name: 'type-added',
  address: ({ type }) => type,
  say: () => 'new type',
  rate: () => ({ entries: 'valid', readers: 'notice' }),
  draft: {
    step: ([{ type, definition }]) => ({
      data: { add: type, type: asJson(definition) },
      why: 'New type; no entry changes.',
    }),
  },
});
