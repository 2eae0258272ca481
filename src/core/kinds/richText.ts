import { z } from 'zod';
import { isId, isSlug } from '../definition/address.ts';
import { isList, isObject, type Json, type JsonObject, mapValues } from '../plain/json.ts';
import { nearest } from '../plain/nearest.ts';
import { list } from '../plain/words.ts';
import { type TextLink, usualSchemes } from '../text/links.ts';
import { toPlain } from '../text/plain.ts';
import { allowance, type TextLimits } from '../text/restrict.ts';
import { type BlockName, entryOf, entryScheme, isTree, type MarkName, markNames, walkText } from '../text/tree.ts';
import { allowed, type Compatibility, lowerBound, upperBound } from './compatibility.ts';
import { conversionsToTree } from './conversionsToTree.ts';
import { defineKind } from './define.ts';
import type { Elsewhere, EntryLink, FoundFile, Report } from './kindParts.ts';
import {
  checkAlt,
  checkLink,
  fileOf,
  linkMeaning,
  linkOptions,
  ofOtherType,
  relocatedLink,
  renamedType,
  unknownTypes,
} from './textLinks.ts';

const blocks = ['heading', 'list', 'quote', 'code', 'table', 'divider'] as const satisfies readonly BlockName[];
const marks = ['emphasis', 'strong', 'delete', 'code', 'link', 'break', 'image'] as const satisfies readonly MarkName[];

/** A list of what may be in a text: none named is all of them. */
const allowedUnlessNamed: Compatibility = {
  direction: (before, after) => {
    if (before === undefined) return 'narrower';
    if (after === undefined) return 'wider';
    return allowed(String).direction(before, after);
  },
};

/** Structured text: a tree of blocks (see `TextNode`), never opaque markup. */
export const richText = defineKind({
  name: 'richText',
  about:
    'Structured text: a tree of blocks in the form of mdast, the syntax tree of Markdown. It can embed entries and assets.',
  guide: {
    en: 'Structured text',
    de: 'Gegliederter Text',
    fr: 'Un texte structuré',
    es: 'Texto estructurado',
    it: 'Testo strutturato',
    nl: 'Gestructureerde tekst',
  },
  options: {
    blocks: z
      .array(z.enum(blocks))
      .optional()
      .describe(`The allowed blocks beside paragraphs: ${list([...blocks])}. Default: all.`),
    marks: z
      .array(z.enum(marks))
      .optional()
      .describe(`The allowed parts of a line: ${list([...marks])}. Default: all.`),
    headings: z
      .strictObject({ min: z.int().min(1).max(6).optional(), max: z.int().min(1).max(6).optional() })
      .optional()
      .describe('The highest and the lowest level of headings, as { min: 2, max: 4 }.'),
    links: linkOptions.describe(
      `Allowed targets of links: the schemes of addresses (default ${list([...usualSchemes])}), and the types of linked entries, as entry:keeper/ada-rook.`,
    ),
    styles: z
      .array(z.string().refine(isSlug))
      .min(1)
      .optional()
      .describe('The named styles that a part may have in `data`.'),
    embeds: z
      .array(z.string())
      .min(1)
      .optional()
      .describe(
        'The types of embedded entries: as a block, { type: embed, entry: keeper/ada-rook }, or within a line, { type: embedInline, entry: … }.',
      ),
    media: z.array(z.string()).min(1).optional().describe('The media types of embedded assets: image/png, image/*.'),
    max: z.int().min(1).optional().describe('The most characters of text.'),
  },
  example: {
    options: {
      blocks: ['heading', 'list'],
      marks: ['emphasis', 'link'],
      headings: { min: 2, max: 3 },
      links: { schemes: ['https'], entries: ['keeper'] },
      styles: ['lead'],
      embeds: ['keeper'],
      media: ['image/png'],
      max: 4000,
    },
    value: {
      type: 'root',
      children: [
        { type: 'paragraph', children: [{ type: 'text', value: 'The lamp was lit.' }] },
        { type: 'embed', entry: 'keeper/ada-rook' },
      ],
    },
  },
  mistakes: function* ({ headings = {}, links = {}, embeds = [] }, context) {
    if (headings.min !== undefined && headings.max !== undefined && headings.min > headings.max)
      yield { option: 'headings', says: '`min` is more than `max`, so no heading could pass', mend: 'Swap them.' };
    yield* unknownTypes('embeds', embeds, context);
    yield* unknownTypes('links', links.entries, context);
  },
  check: (options, context) => {
    const types = {
      embed: new Set((options.embeds ?? []).flatMap(context.acceptedAs)),
      link: new Set((options.links?.entries ?? []).flatMap(context.acceptedAs)),
    };
    return (value, report) => {
      let isSound = true;
      walkText(
        value,
        ({ node, path }) =>
          checkNode(node, options, types, (message, data, more) => report(message, data, { ...more, inside: path })),
        ({ path, says: message, mend }) => {
          isSound = false;
          report('not-rich-text', { problem: message, remedy: mend }, { inside: path });
        },
      );
      if (!isSound || options.max === undefined) return;

      const { length } = toPlain(value);
      if (length > options.max) report('too-long:text', { size: length, bound: options.max }, { limit: options.max });
    };
  },
  changed: {
    blocks: allowedUnlessNamed,
    marks: allowedUnlessNamed,
    headings: {
      direction: (before, after) => {
        const [oldBounds, newBounds] = [before, after].map((value) => (isObject(value) ? value : {}));
        const least = lowerBound().direction(oldBounds?.min ?? 1, newBounds?.min ?? 1);
        const most = upperBound().direction(oldBounds?.max ?? 6, newBounds?.max ?? 6);
        const directions = [
          ...(oldBounds?.min === newBounds?.min ? [] : [least]),
          ...(oldBounds?.max === newBounds?.max ? [] : [most]),
        ];

        if (!directions.every((direction) => direction === directions[0])) return 'different';
        return directions[0] ?? 'presentation';
      },
    },
    links: linkMeaning,
    styles: allowed(String),
    embeds: allowed(String),
    media: allowed(String),
    max: upperBound({
      of: (value) => toPlain(value).length,
      beyond: 'longer',
      extreme: 'the longest',
      isLength: true,
      has: (size) => `has ${size}`,
      worst: 'largest',
    }),
  },
  from: {
    ...conversionsToTree,
    json: (value) => (isTree(value) ? { value } : { problem: 'it is no tree of structured text' }),
  },
  references: {
    of: (value) => {
      const links: { to: EntryLink; inside: readonly (string | number)[] }[] = [];
      walkText(
        value,
        ({ node, path }) => {
          const [type = '', id = ''] = (entryOf(node) ?? '').split('/');
          if (type !== '' && id !== '') links.push({ to: { type, id }, inside: path });
        },
        () => undefined,
      );

      return links;
    },
    relocated: relocatedIn,
    to: ({ embeds = [], links = {} }) => ({ types: [...new Set([...embeds, ...(links.entries ?? [])])] }),
  },
  files: {
    of: (value) => {
      const files: FoundFile[] = [];
      walkText(
        value,
        ({ node, path }) => {
          if (typeof node.asset === 'string') files.push({ file: node.asset, inside: [...path, 'asset'] });
          const link = linkOf(node);
          if (link) files.push(...fileOf(link, [...path, 'url']));
        },
        () => undefined,
      );

      return files;
    },
    limits: ({ media }) => ({ media }),
  },

  renamed: {
    options: (options, rename) => {
      if (rename.what !== 'type') return options;

      const { embeds, links } = options;
      return {
        ...options,
        ...(embeds ? { embeds: embeds.map((type) => (type === rename.from ? rename.to : type)) } : {}),
        ...(links ? { links: renamedType(links, rename) } : {}),
      };
    },
    value: (value, _options, rename) => (rename.what === 'type' ? relocatedIn(value, ofOtherType(rename)) : value),
  },

  stores: () => ({
    is: 'keys',
    keys: { type: { is: 'one of', values: ['root'] }, children: { is: 'list' } },
    isOpen: true,
  }),
  cel: 'dyn',
  glance: 0,
  textLimits: (options) => options,
  say: (value) => (isTree(value) ? toPlain(value) : undefined),
  gist: ({ blocks: some, embeds, max }) =>
    [
      some ? list(['paragraph', ...some]) : '',
      embeds ? `embeds ${list(embeds)}` : '',
      max === undefined ? '' : `≤ ${max} characters`,
    ]
      .filter(Boolean)
      .join(', '),
});

type NodeTypes = { readonly embed: ReadonlySet<string>; readonly link: ReadonlySet<string> };

function checkNode(node: JsonObject, limits: TextLimits, types: NodeTypes, report: Report): void {
  const allowance_ = allowance(node, limits);
  if (allowance_ && !allowance_.isAllowed)
    report(
      isMark(node) ? 'mark-not-allowed' : 'block-not-allowed',
      { name: allowance_.name },
      { limit: [...((isMark(node) ? limits.marks : limits.blocks) ?? [])] },
    );

  const { min = 1, max = 6 } = limits.headings ?? {};
  if (node.type === 'heading' && (Number(node.depth) < min || Number(node.depth) > max))
    report('heading-level', { level: Number(node.depth), min, max }, { limit: [min, max] });
  const link = linkOf(node);
  if (link) checkLink(link, { schemes: limits.links?.schemes, types: types.link }, report);
  if (node.type === 'embed' || node.type === 'embedInline') checkEmbed(node, limits, types, report);
  const style = isObject(node.data) ? node.data.style : undefined;
  if (typeof style === 'string' && !limits.styles?.includes(style))
    report(
      'style-not-allowed',
      { style, near: nearest(style, limits.styles ?? []) },
      { limit: [...(limits.styles ?? [])] },
    );
}

const isMark = ({ type }: JsonObject): boolean => Object.hasOwn(markNames, String(type));

/** A link or a picture as a node says it. */
function linkOf(node: JsonObject): TextLink | undefined {
  if (node.type !== 'link' && node.type !== 'image') return undefined;
  const isPicture = node.type === 'image';
  return { url: String(node.url), isPicture, alt: isPicture ? String(node.alt ?? '') : undefined };
}

function checkEmbed(node: JsonObject, limits: TextLimits, types: NodeTypes, report: Report): void {
  const { entry, asset } = node;
  if ((entry === undefined) === (asset === undefined))
    report('embed-not-allowed:which', { hasBoth: entry !== undefined });
  else if (typeof entry === 'string') {
    const [type = '', id = ''] = entry.split('/');
    if (!types.embed.has(type) || !isId(id))
      report('embed-not-allowed', { entry, types: [...types.embed] }, { limit: [...types.embed] });
  } else if (limits.media === undefined) report('embed-not-allowed:asset', {});
  else checkAlt(node.alt, String(asset), report, []);
}

/** A text whose links, embedded entries and the like lead to where these are now. */
function relocatedIn(value: Json, elsewhere: Elsewhere): Json {
  if (isList(value)) return value.map((value) => relocatedIn(value, elsewhere));
  if (!isObject(value)) return value;
  return mapValues(value, (inner, key): Json => {
    if (key === 'url' && typeof inner === 'string') return relocatedLink(inner, elsewhere);
    if (key === 'entry' && typeof inner === 'string')
      return relocatedLink(entryScheme + inner, elsewhere).slice(entryScheme.length);
    return relocatedIn(inner, elsewhere);
  });
}
