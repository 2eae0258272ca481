import { flag } from '../definition/flag.ts';
import type { Json, JsonObject } from '../plain/json.ts';
import { list } from '../plain/words.ts';
import { conversion } from '../text/conversion.ts';
import { type TextLink, usualSchemes } from '../text/links.ts';
import { entryScheme, isTree } from '../text/tree.ts';
import { presentation } from './compatibility.ts';
import { textConversions } from './conversions.ts';
import { defineKind, wrongShape } from './define.ts';
import type { Elsewhere, ModelContext } from './kindParts.ts';
import { checkLength, lengthGist, lengthMeanings, lengthMistakes, lengthOptions, lengthShape } from './length.ts';
import {
  checkLink,
  entryLinkOf,
  fileOf,
  linkMeaning,
  linkOptions,
  ofOtherType,
  relocatedLink,
  renamedType,
  unknownTypes,
} from './textLinks.ts';

/** Running text in Markdown (CommonMark 0.31). With `body`, it is what follows the front matter of a Markdown file. */
export const markdown = defineKind({
  name: 'markdown',
  about: 'Running text in Markdown; with `body: true` it is the prose of a Markdown file.',
  guide: {
    en: 'Running text in Markdown',
    de: 'Fließtext in Markdown',
    fr: 'Un texte suivi en Markdown',
    es: 'Texto seguido en Markdown',
    it: 'Testo corrente in Markdown',
    nl: 'Doorlopende tekst in Markdown',
  },
  options: {
    ...lengthOptions,
    links: linkOptions.describe(
      `Allowed targets of links: the schemes of addresses (default ${list([...usualSchemes])}), and the types of linked entries, as entry:keeper/ada-rook (default: any).`,
    ),
    body: flag.describe('Whether it is the text below the front matter of a Markdown file.'),
  },
  example: {
    options: { body: true, min: 20, max: 20000, pattern: '\\S', links: { schemes: ['https'], entries: ['keeper'] } },
    value: 'The lens was lit on the evening of a *storm*.',
  },
  mistakes: function* (options, context) {
    yield* lengthMistakes(options, context);
    yield* unknownTypes('links', options.links?.entries, context);
  },
  check: (options, context) => {
    const length = checkLength(options, context);
    const { schemes, entries } = options.links ?? {};
    const limits = { schemes, types: entries && new Set(entries.flatMap(context.acceptedAs)) };
    return (value, report) => {
      if (typeof value !== 'string') return wrongShape(report, value, 'markdown');
      length(value, report);
      for (const link of context.readLinks?.(value) ?? []) checkLink(link, limits, report);
    };
  },
  changed: { ...lengthMeanings, links: linkMeaning, body: presentation },
  from: { ...textConversions, richText: fromTree },
  references: {
    of: (value, _options, { readLinks }) =>
      linksIn(value, readLinks).flatMap((link) => {
        const entry = entryLinkOf(link);
        if (!entry) return [];
        return [{ to: entry, inside: [], isWithin: true }];
      }),
    to: ({ links }) => ({ types: links?.entries ?? [] }),
    relocated: (value, elsewhere) => (typeof value === 'string' ? relocatedLinks(value, elsewhere) : value),
  },
  files: {
    of: (value, { readLinks }) => linksIn(value, readLinks).flatMap((link) => fileOf(link, [])),
    limits: () => ({}),
  },
  renamed: {
    options: (options, rename) =>
      rename.what === 'type' && options.links ? { ...options, links: renamedType(options.links, rename) } : options,
    value: (value, _options, rename) =>
      rename.what === 'type' && typeof value === 'string' ? relocatedLinks(value, ofOtherType(rename)) : value,
  },

  isMarkdown: true,
  freeText: 'markdown',
  stores: lengthShape,
  cel: 'string',
  glance: 0,
  isBody: ({ body }) => body === true,
  gist: (options) => [options.body ? 'the body of the file' : '', lengthGist(options)].filter(Boolean).join(', '),
});

const linksIn = (value: Json, readLinks: ModelContext['readLinks']): readonly TextLink[] => {
  if (typeof value !== 'string') return [];
  return readLinks?.(value) ?? [];
};

/** A Markdown text whose links to entries lead to where these are now; the rest of it stays. */
const relocatedLinks = (text: string, elsewhere: Elsewhere): string =>
  text.replace(
    new RegExp(
      `((?:\\]\\(|\\]:|<|\\bhref\\s*=)["'\\s<]*)((?<=<)${entryScheme}[^>\\n]+|${entryScheme}[^)\\s>"']+)`,
      'gu',
    ),
    (_, before: string, url: string) => before + relocatedLink(url, elsewhere),
  );

function fromTree(value: Json) {
  if (!isTree(value)) return { problem: 'it is no tree of structured text' };
  const { treeToMarkdown, lostInMarkdown } = conversion();
  const lost = [...new Set(lostInMarkdown(value as JsonObject))];
  const markdown = { value: treeToMarkdown(value).trimEnd() };
  if (lost.length === 0) return markdown;
  return { ...markdown, partly: `not all of it can be kept: ${list(lost)}` };
}
