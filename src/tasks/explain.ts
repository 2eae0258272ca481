import { z } from 'zod';
import { ownValue } from '../core/plain/json.ts';
import { didYouMean } from '../core/plain/nearest.ts';
import { Trouble } from '../workspace/trouble.ts';
import { allTopics, Topic } from './explainTopics.ts';
import { head, resultVersion } from './result.ts';

/** The result of `lumbrik explain`. */
export const ExplainResult = z.strictObject({
  ...head('explain'),
  topics: z.array(Topic),
  /** The word of ours for the word that was typed, if that is not one of ours. */
  guess: z.string().optional(),
});
export type ExplainResult = z.output<typeof ExplainResult>;

/** Words that people type, and the words of ours that mean the same. */
const otherWords: Readonly<Record<string, string>> = {
  nested: 'object',
  group: 'object',
  component: 'kit',
  mixin: 'kit',
  image: 'asset',
  picture: 'asset',
  media: 'asset',
  file: 'asset',
  tag: 'term',
  category: 'term',
  vocabulary: 'taxonomy',
  thesaurus: 'taxonomy',
  relation: 'reference',
  link: 'reference',
  enum: 'choice',
  select: 'choice',
  list: 'many',
  number: 'integer',
  float: 'decimal',
  string: 'text',
  url: 'webAddress',
  html: 'richText',
  timestamp: 'dateTime',
  form: 'type',
  rename: 'rename',
  author: 'byline',
  newentries: 'builtIn',
  defaults: 'default',
  preview: 'previews',
  locale: 'languages',
  translation: 'localized',
  validation: 'rules',
  formula: 'computed',
  snapshot: 'revision',
  rollback: 'undo',
  warning: 'finding',
  error: 'finding',
};

/**
 * Explains one word of the model language, or all of them: straight from the definitions, so never out of date.
 * @throws Trouble `not-found` where neither the word nor one that means the same is ours.
 */
export function explain(word: string | undefined): ExplainResult {
  const topics = allTopics();
  const found = word === undefined ? topics : namedBy(word, topics);
  if (found.length > 0) return { lumbrik: resultVersion, command: 'explain', topics: [...found] };

  const guess = ownValue(otherWords, word?.toLowerCase() ?? '');
  const guessed = guess === undefined ? [] : namedBy(guess, topics);
  if (guessed.length > 0) return { lumbrik: resultVersion, command: 'explain', topics: [...guessed], guess };

  const words = topics.flatMap(({ name, options }) => [name, ...options.map((option) => option.name)]);
  throw new Trouble('not-found', `there is nothing called \`${word}\` to explain`, {
    mend:
      didYouMean(word ?? '', words) ??
      'Name a kind, an option, a function, a finding or a step; lumbrik explain alone lists them.',
  });
}

/** The topics of that name, or of a shelf in the plural; otherwise those with such an option, kinds last. */
function namedBy(word: string, topics: readonly Topic[]): readonly Topic[] {
  const named = topics.filter(({ name }) => name.split(' (')[0] === word);
  const shelf = topics.filter(({ what: shelfName }) => word === `${shelfName}s` || word === shelfName);
  if (shelf.length > 1) return [...shelf, ...named.filter((topic) => !shelf.includes(topic))];
  if (named.length > 0) return named;

  const plural = topics.filter(({ name }) => word === `${name.split(' (')[0]}s`);
  if (plural.length > 0) return plural;

  const having = topics.filter(({ options }) => options.some(({ name }) => name === word));
  const common = having.filter(({ what: shelfName }) => shelfName !== 'kind');
  if (having.length > 0) return common.length > 0 ? common : having;

  return topics.filter(({ name }) => word.length > 2 && name.toLowerCase().startsWith(word.toLowerCase()));
}

/** Every word that can be explained. */
export const explainedWords = (): readonly string[] =>
  [
    ...new Set(
      allTopics().flatMap(({ name, options }) => [
        name.split(' (')[0] ?? name,
        ...options.map((option) => option.name),
      ]),
    ),
  ].sort();
