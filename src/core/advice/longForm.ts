import type { Advice } from './define.ts';

/** A form with more fields than these is read in parts. */
const mostUngrouped = 12;

/** A type with many fields and no groups. */
export const longForm: Advice = {
  name: 'long-form',
  why: 'A long form without parts is filled from top to bottom, or not at all.',
  *find({ model }) {
    for (const { name, fields, definition } of model.types.values()) {
      const bare = [...fields.values()].filter(({ common }) => common.group === undefined).length;
      if (bare <= mostUngrouped) continue;

      const isGrouped = (definition.groups ?? []).length > 0;
      yield {
        at: name,
        says: `${bare} of its ${fields.size} fields stand in ${isGrouped ? 'none of its groups' : 'one long form'}`,
        mend: 'Name groups (`groups: [Story, Technical]`), and give each field one.',
        command: `lumbrik show ${name}`,
      };
    }
  },
};
