import { z } from 'zod';
import { isObject } from '../plain/json.ts';
import { condition } from './compatibility.ts';
import { defineKind, wrongShape } from './define.ts';

/**
 * Several values that belong together and mean nothing alone, each its own field kind. Their content is read,
 * checked and compared field by field by anyone who reads, checks and compares fields.
 */
export const object = defineKind({
  name: 'object',
  about: 'Several values that belong together, each with its own name and kind.',
  options: {
    fields: z
      .record(z.string(), z.json())
      .describe('Its fields, as in a type, each with its kind and options. `kits: [address]` adds the fields of kits.'),
  },
  example: {
    options: { fields: { opens: { kind: 'time', required: true }, closes: { kind: 'time' } } },
    value: { opens: '10:00', closes: '17:30' },
  },
  mistakes: function* ({ fields }) {
    if (Object.keys(fields).length === 0)
      yield {
        option: 'fields',
        says: 'it is made of nothing',
        mend: 'Name at least one field: { opens: { kind: time } }.',
      };
  },
  check: () => (value, report) => {
    if (!isObject(value)) wrongShape(report, value, 'keys');
  },
  // Asked only where the fields themselves do not say more: see `meaningOf`.
  changed: { fields: condition },
  from: { json: (value) => (isObject(value) ? { value } : { problem: 'it is no group of keys' }) },
  // The fields themselves are known to the field.
  stores: () => ({ is: 'keys', keys: {}, isOpen: true }),
  cel: 'dyn',
  glance: 0,
  nests: true,
  gist: ({ fields }) => `{ ${Object.keys(fields).join(', ')} }`,
});
