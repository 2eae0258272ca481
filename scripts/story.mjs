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
    / {4}open: What do the .* get\?.*\n/u,
    "    cel: \"entry.id in ['skerry-point', 'far-aldra', 'grey-ledge'] ? 'boat' : 'path'\"\n",
  ],
  [/ {4}open: How are the values mended that no longer fit\?.*\n/u, "    cel: entry.summary.substring(0, 199) + '…'\n"],
];

/** The second change of mind: minutes are a length of time, a departure has several guides, a season is one of a list. */
export const secondThoughts = [
  {
    file: 'model/types/tour.yaml',
    edits: [
      [
        'minutes:    { kind: integer, required: true, min: 15, max: 600,',
        'duration:   { kind: duration, units: [hours, minutes], required: true, min: PT15M, max: PT10H,',
      ],
      ['season:     { kind: text, max: 40 }', 'season:     { kind: term, taxonomy: season }'],
    ],
  },
  {
    file: 'model/types/departure.yaml',
    edits: [
      [
        'guide:  { kind: reference, to: keeper, required: published,',
        'guides: { kind: reference, to: keeper, required: published, many: { max: 3 },',
      ],
    ],
  },
];

/** The taxonomy that the second change of mind brings. */
export const seasons = {
  file: 'model/taxonomies/season.yaml',
  text: `taxonomy: season
about: When a tour is walked; the synonyms are what used to be written.
terms:
  - all-year
  - { term: summer, synonyms: [April to September, May to October, May to August, June to August, June and July] }
  - { term: winter, synonyms: [November to February] }
`,
};

/** The third: what visitors need is kept once, a life is structured text. Misspelt topics are merged on the way. */
export const thirdThoughts = [
  {
    file: 'model/types/lighthouse.yaml',
    edits: [
      ['kits: [sharing]', 'kits: [sharing, visiting]'],
      [/ {2}steps: {5}\{.*\n/u, ''],
      [/ {2}visitable: \{.*\n/u, ''],
      [/ {2}access: {4}\{.*\n/u, ''],
      ['groups: [Story, Technical, Visit]', 'groups: [Story, Technical]'],
    ],
  },
  {
    file: 'model/types/keeper.yaml',
    edits: [
      [
        'life:   { kind: longText, required: published, max: 600 }',
        'life:   { kind: richText, required: published, max: 600 }',
      ],
    ],
  },
];

/** The kit that the third change of mind pulls out. */
export const visiting = {
  file: 'model/kits/visiting.yaml',
  text: `kit: visiting
about: What visitors need to know before they come.
groups: [Visit]
fields:
  steps:     { kind: integer, min: 1, max: 500, group: Visit }
  visitable: { kind: boolean, default: true, group: Visit }
  access:    { kind: choice, choices: [path, boat, bridge], required: published, group: Visit }
`,
};

/** The fourth: whoever leads tours today is a guide, no keeper. One type becomes two. */
export const fourthThoughts = [
  { file: 'model/types/keeper.yaml', edits: [[/ {2}guides: \{.*\n/u, '']] },
  {
    file: 'model/types/departure.yaml',
    edits: [['guides: { kind: reference, to: keeper,', 'guides: { kind: reference, to: guide,']],
  },
  {
    file: 'model/types/lighthouse.yaml',
    edits: [['kind: reference, to: keeper,', 'kind: reference, to: [keeper, guide],']],
  },
  {
    file: 'model/types/page.yaml',
    edits: [
      ['entries: [lighthouse, keeper, tour]', 'entries: [lighthouse, keeper, guide, tour]'],
      ['embeds: [lighthouse, keeper, tour]', 'embeds: [lighthouse, keeper, guide, tour]'],
      ['by:      { kind: reference, to: keeper,', 'by:      { kind: reference, to: [keeper, guide],'],
    ],
  },
];

/** The type that the fourth change of mind brings. */
export const guide = {
  file: 'model/types/guide.yaml',
  text: `type: guide
label: { one: Guide, many: Guides }
about: Someone who leads tours today.
titled: name
fields:
  name:   { kind: text, required: true, max: 80 }
  slug:   { kind: slug, from: name }
  born:   { kind: date, min: 1700-01-01 }
  served: { kind: text, max: 40 }
  life:   { kind: richText, required: published, max: 600 }
`,
};

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
