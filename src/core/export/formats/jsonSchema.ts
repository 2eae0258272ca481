import type { JsonObject } from '../../plain/json.ts';
import { entrySchema } from '../entrySchema.ts';
import type { ExportFormat } from './define.ts';

export const jsonSchema: ExportFormat = {
  name: 'json-schema',
  about: 'JSON Schema (draft 2020-12): the entries of all types in one document',
  file: 'content.schema.json',
  text: ({ workspace, model, types, factKeys, call }) => {
    const bundle: JsonObject = {
      $schema: 'https://json-schema.org/draft/2020-12/schema',
      title: workspace,
      $comment: `Written by ${call}`,
      anyOf: types.map(({ name }) => ({ $ref: `#/$defs/${name}` })),
      // A schema with an $id to itself is one document inside of another: its references stay its own.
      $defs: Object.fromEntries(
        types.map((type) => {
          const { $schema: _, ...schema } = entrySchema(type, model, { factKeys });
          return [type.name, { $id: `type:${type.name}`, ...schema }];
        }),
      ),
    };
    return `${JSON.stringify(bundle, undefined, 2)}\n`;
  },
};
