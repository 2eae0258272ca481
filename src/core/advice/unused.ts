import type { Advice } from './define.ts';

export const unusedKit: Advice = {
  name: 'unused-kit',
  why: 'What nobody uses has to be read all the same.',
  *find({ model: { definition } }) {
    const { kits = {}, types = {}, fields = {}, kinds = {} } = definition.shared ?? {};
    const text = JSON.stringify([definition.types, fields, kits, kinds]);
    for (const name of Object.keys(kits))
      if (
        !Object.values(types).some(({ kits: used = [] }) => used.includes(name)) &&
        !text.includes(`"kits":["${name}"`)
      )
        yield {
          at: name,
          says: 'no type has this kit',
          mend: 'Remove it, or give it to the types that it was meant for.',
          command: `lumbrik show ${name}`,
        };
  },
};
