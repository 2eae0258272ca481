import { list } from '../plain/words.ts';
import type { Advice } from './define.ts';

/** Types with fewer fields explain themselves. */
const fewFields = 5;

/** Fields without help. */
export const unexplained: Advice = {
  name: 'unexplained',
  why: 'Authors see the form, not the intention of its architect.',
  *find({ model }) {
    for (const { name, fields, definition } of model.types.values()) {
      if (fields.size < fewFields) continue;

      if (definition.about === undefined)
        yield {
          at: name,
          says: `nothing says what the type is for, and it has ${fields.size} fields`,
          mend: 'Say it in a sentence: `about: …`.',
        };

      // A pattern nobody can guess is where authors stumble.
      const bare = [...fields.values()].filter(
        ({ common, options }) => common.help === undefined && common.example === undefined && 'pattern' in options,
      );

      if (bare.length > 0)
        yield {
          at: `${name}.${bare[0]?.name}`,
          says: `${list(bare.map((field) => field.name))} must match a pattern, without help or example`,
          mend: 'Show one that fits: `example: …`, or say it: `help: …`.',
        };
    }
  },
};
