import type { Advice } from './define.ts';

/** More fields than these at once keep an entry from being begun; so do nearly all of many. */
const [most, share] = [8, 0.7];

/** A type that requires most of its fields in drafts. */
export const manyRequired: Advice = {
  name: 'many-required',
  why: 'A draft that cannot be saved half done is written somewhere else.',
  *find({ model }) {
    for (const { name, fields } of model.types.values()) {
      const always = [...fields.values()].filter(
        ({ common }) => common.required === true && common.default === undefined,
      );
      if (always.length <= most || always.length < share * fields.size) continue;
      yield {
        at: name,
        says: `${always.length} of its ${fields.size} fields are required from the start`,
        mend: 'Ask for some only once it is published: `required: published`.',
        command: `lumbrik show ${name}`,
      };
    }
  },
};
