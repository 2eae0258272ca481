// The change of mind that the demo, the screenshots and the README all tell: what an architect types into which file.
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

/** The edits of the model: a field gets a better name, a limit is tightened, a required field is new. */
export const changeOfMind = [
  {
    file: 'model/types/lighthouse.yaml',
    edits: [
      ['  height:    { kind: decimal', '  focalHeight: { kind: decimal'],
      ['max: 300', 'max: 200'],
      [
        /( {2}visitable: .*\n)/u,
        '$1  access:    { kind: choice, choices: [path, boat, bridge], required: published, group: Visit }\n',
      ],
    ],
  },
];

/** The answers to the open questions of the migration that is drafted from it. */
export const answers = [
  ['    open: Is this a rename?\n', ''],
  [
    / {4}open: What do the .* get\?\n/u,
    "    cel: \"entry.id in ['skerry-point', 'far-aldra', 'grey-ledge'] ? 'boat' : 'path'\"\n",
  ],
  ['    open: How are the values mended that no longer fit?\n', "    cel: entry.summary.substring(0, 199) + '…'\n"],
];

/** The newest migration of a workspace. */
export const newestMigration = (folder) => `migrations/${readdirSync(join(folder, 'migrations')).sort().at(-1)}`;

/** Makes edits in a file, each of which must apply, and tells the lines that went and came. */
export function edit(folder, file, edits) {
  const before = readFileSync(join(folder, file), 'utf8');
  const after = edits.reduce((text, [from, to]) => {
    const edited = text.replace(from, to);
    if (edited === text) throw new Error(`nothing to replace in ${file}: ${from}`);
    return edited;
  }, before);
  writeFileSync(join(folder, file), after);
  const [old, now] = [before.split('\n'), after.split('\n')];
  return { gone: old.filter((line) => !now.includes(line)), come: now.filter((line) => !old.includes(line)) };
}
