import { reachOf } from '../model/provenance.ts';
import type { Advice } from './define.ts';

/** Kits, shared fields and kinds that no type uses. */
export const unused: Advice = {
  name: 'unused',
  why: 'What nobody uses has to be read all the same.',
  *find({ model: { definition } }) {
    const { kits = {}, fields = {}, kinds = {} } = definition.shared ?? {};
    const shared = [
      ...Object.keys(kits).map((name) => ({ what: 'kit', name, says: 'no type has this kit' }) as const),
      ...Object.keys(fields).map((name) => ({ what: 'field', name, says: 'no type has this shared field' }) as const),
      ...Object.keys(kinds).map((name) => ({ what: 'kind', name, says: 'no field is of this kind' }) as const),
    ];

    for (const { what: category, name, says: message } of shared)
      if (reachOf(definition, { what: category, name }).length === 0)
        yield {
          at: name,
          says: message,
          mend: 'Remove it, or use it where it was meant for.',
          command: `lumbrik show ${name}`,
        };
  },
};
