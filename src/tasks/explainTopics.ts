import { z } from 'zod';
import { advice } from '../core/advice/index.ts';
import { commonOptions } from '../core/definition/field.ts';
import { findings } from '../core/definition/findingNames.ts';
import { languageOptions } from '../core/definition/language.ts';
import { kindOptions, kitOptions } from '../core/definition/shared.ts';
import { taxonomyOptions, termOptions } from '../core/definition/taxonomy.ts';
import { typeOptions, useOptions } from '../core/definition/type.ts';
import { adviceOptions, findingOptions, limitOptions, storeOptions } from '../core/definition/workspace.ts';
import { kinds } from '../core/kinds/index.ts';
import { steps } from '../core/migration/steps/index.ts';
import { examples } from '../core/model/examples.ts';
import { glossary } from '../core/model/glossary.ts';
import { takes } from '../core/model/mistakes.ts';
import { JsonValue } from '../core/plain/jsonValue.ts';
import { capital } from '../core/plain/words.ts';
import { celFunctions } from '../core/rules/functions.ts';
import { styleNamed, styleNames, styleReads } from '../core/writing/index.ts';

const Option = z.strictObject({ name: z.string(), takes: z.string(), about: z.string(), needed: z.boolean() });

/** A word of the model language with its options, as `explain` gives it. */
export const Topic = z.strictObject({
  /** `workspace`, `kit`, `own kind`, `kind`, `type`, `field`, `taxonomy`, `term`, `advice`, `finding` or `step`. */
  what: z.string(),
  name: z.string(),
  about: z.string(),
  options: z.array(Option),
  /** Of a kind: its options as they are in a model, and a value that obeys them. */
  example: z.strictObject({ options: z.record(z.string(), JsonValue), value: JsonValue }).optional(),
  /** Of a function that expressions can call: how it is called, an example, and what that gives. */
  gives: z.strictObject({ call: z.string(), expression: z.string(), gives: JsonValue }).optional(),
  /** Of another part of a model: one that says all that it can. */
  whole: JsonValue.optional(),
});

export type Topic = z.output<typeof Topic>;

/** Everything that can be explained. */
export const allTopics = (): readonly Topic[] => [
  ...workspaceTopics(),
  ...typeTopics(),
  ...kindTopics(),
  ...taxonomyTopics(),
  ...advice.map(({ name, why }) => ({ what: 'advice', name, about: why, options: [] })),
];

/** What lumbrik.yaml can say. */
function workspaceTopics(): readonly Topic[] {
  return [
    {
      what: 'workspace',
      name: 'language (of a workspace)',
      about:
        'A language that content is written in: in `languages` of lumbrik.yaml, its code alone or { language: fr, … }.',
      options: optionsOf(languageOptions),
      whole: examples.language,
    },
    {
      what: 'workspace',
      name: 'limits (of a workspace)',
      about:
        'Upper bounds for files and expressions, so that none stops the tool: `limits` in lumbrik.yaml raises them.',
      options: optionsOf(limitOptions),
      whole: { limits: { expressionSteps: 1000000, fileNodes: 2000000 } },
    },
    contentTopic(),
    {
      what: 'workspace',
      name: 'findings (of a workspace)',
      about:
        'Settings of the check: `findings` in lumbrik.yaml changes severities, declines findings with a reason, and limits the warnings of a build.',
      options: optionsOf(findingOptions),
      whole: {
        findings: {
          severity: { 'unused-asset': 'ignore' },
          declined: [{ finding: 'too-long', entry: 'tour/grand', because: 'Its name is that long.' }],
          maxWarnings: 20,
        },
      },
    },
    {
      what: 'workspace',
      name: 'advice (of a workspace)',
      about: 'Settings of the review: `advice` in lumbrik.yaml declines pieces of advice with a reason.',
      options: optionsOf(adviceOptions),
      whole: {
        advice: { declined: [{ advice: 'long-form', at: 'lighthouse', because: 'Its authors know it by heart.' }] },
      },
    },
  ];
}

const contentTopic = (): Topic => ({
  what: 'workspace',
  name: 'content (of a workspace)',
  about:
    'The stores of entries: `content` in lumbrik.yaml lists folders, files of lines, JSON files and tables, all inside the folder content. Each has one of `folder`, `lines`, `json` and `csv`. The default is one folder: content.',
  options: optionsOf(storeOptions),
  whole: {
    content: [
      { folder: 'content' },
      { lines: 'content/sightings.ndjson.gz', type: 'sighting' },
      { csv: 'content/tides.csv', type: 'tide', keys: { id: 'no' } },
    ],
  },
});

function typeTopics(): readonly Topic[] {
  return [
    {
      what: 'type',
      name: 'type',
      about: 'A kind of content, with its fields: one file in model/types/.',
      options: optionsOf({ ...useOptions, ...typeOptions }),
      whole: examples.type,
    },
    {
      what: 'kit',
      name: 'kit',
      about: 'Fields that are defined once and used in many types: one file in model/kits/.',
      options: optionsOf(kitOptions),
      whole: examples.kit,
    },
    {
      what: 'own kind',
      name: 'kind (of your own)',
      about: 'A kind based on another kind, with some options fixed: one file in model/kinds/.',
      options: optionsOf(kindOptions),
      whole: examples.ownKind,
    },
    {
      what: 'field',
      name: 'field',
      about: 'One fact about an entry. A field of any kind has these options:',
      options: optionsOf(commonOptions),
      whole: examples.field,
    },
  ];
}

function kindTopics(): readonly Topic[] {
  return [
    ...[...kinds.values()].map((kind) => ({
      what: 'kind',
      name: kind.name,
      about: kind.about,
      options: optionsOf(kind.shape),
      example: { options: { ...kind.example.options }, value: kind.example.value },
    })),
  ];
}

function taxonomyTopics(): readonly Topic[] {
  return [
    {
      what: 'taxonomy',
      name: 'taxonomy',
      about: 'A list or tree of terms: one file in model/taxonomies/.',
      options: optionsOf(taxonomyOptions),
      whole: examples.taxonomy,
    },
    {
      what: 'term',
      name: 'term (of a taxonomy)',
      about:
        'One word of a taxonomy, with the terms below it in `terms`. `{ also: skerries }` lists a term a second time.',
      options: optionsOf(termOptions),
      whole: examples.term,
    },
    ...[...steps.values()].map(({ verb, about, shape }) => ({
      what: 'step',
      name: verb,
      about,
      options: optionsOf(shape),
    })),
    {
      what: 'styles',
      name: 'written (in a step)',
      about: 'Ways of writing values in texts, by name. If a text has two readings, the first way in this list wins.',
      options: styleNames.map((name) => ({
        name,
        takes: kindsWritten(name),
        about: `${capital(styleNamed(name)?.about ?? '')}.`,
        needed: false,
      })),
    },
    ...celFunctions.map(({ name, call, about, example: [expression, gives] }) => ({
      what: 'function',
      name,
      about,
      options: [],
      gives: { call, expression, gives: gives as z.output<typeof JsonValue> },
    })),
    ...Object.entries(glossary).map(([name, about]) => ({ what: 'word', name, about, options: [] })),
    ...Object.entries(findings).map(([name, about]) => ({ what: 'finding', name, about, options: [] })),
  ];
}

/** The kinds of which texts can be written in a style. */
const kindsWritten = (style: string): string => [...kinds.keys()].filter((kind) => styleReads(style, kind)).join(', ');

const optionsOf = (shape: z.ZodRawShape): Topic['options'] =>
  Object.entries(shape).map(([name, schema]) => ({
    name,
    takes: takes(schema),
    about: z.globalRegistry.get(schema as z.ZodType)?.description ?? '',
    needed: !z.safeParse(z.object({ key: schema }), {}).success,
  }));
