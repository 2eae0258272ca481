import { z } from 'zod';
import { sayBytes } from '../plain/bytes.ts';
import { isObject, type Json, ownValue } from '../plain/json.ts';
import { list, range } from '../plain/words.ts';
import { byValue, type Compatibility, condition, lowerBound, upperBound } from './compatibility.ts';
import { defineKind } from './define.ts';
import type { Shape } from './shape.ts';

const strictness = { none: 0, optional: 0, published: 1, required: 2 } as const;

const size = z
  .union([
    z.int().min(1),
    z
      .string()
      .regex(/^\d+(?:\.\d+)? ?[kMG]?B$/u, 'a size such as 500 kB or 2 MB')
      .transform(bytesOf),
  ])
  .optional();

/** Bytes of `2 MB`: a kilobyte is 1,000 bytes (IEC 80000-13). */
function bytesOf(text: string): number {
  const [, number = '0', prefix = ''] = /^(\d+(?:\.\d+)?) ?([kMG]?)B$/u.exec(text) ?? [];
  return Math.round(Number(number) * 1000 ** ['', 'k', 'M', 'G'].indexOf(prefix));
}

/** Fewer media types let less pass; none named is all of them. */
const media: Compatibility = {
  direction: (before, after) => {
    if (before === undefined) return 'narrower';
    if (after === undefined) return 'wider';
    return 'different';
  },
};

/** A file of the workspace below `assets/`: a picture, a sound, a document. */
export const asset = defineKind({
  name: 'asset',
  about: 'A file in assets/: a picture, a sound, a document. Its media type comes from its content.',
  guide: {
    en: 'A file of the workspace',
    de: 'Eine Datei des Arbeitsbereichs',
    fr: 'Un fichier de l’espace de travail',
    es: 'Un archivo del espacio de trabajo',
    it: 'Un file dello spazio di lavoro',
    nl: 'Een bestand van de werkruimte',
  },
  options: {
    media: z
      .array(z.string().regex(/^[a-z]+\/(?:\*|[a-z0-9.+-]+)$/u, 'a media type such as image/png or image/*'))
      .min(1)
      .optional()
      .describe('The allowed media types: image/png, image/*. Default: all.'),
    maxSize: size.describe('The largest that the file may be: 500 kB, 2 MB.'),
    minWidth: z.int().min(1).optional().describe('The fewest pixels across.'),
    minHeight: z.int().min(1).optional().describe('The fewest pixels down.'),
    maxWidth: z.int().min(1).optional().describe('The most pixels across.'),
    maxHeight: z.int().min(1).optional().describe('The most pixels down.'),
    alt: z
      .enum(['required', 'published', 'optional', 'none'])
      .optional()
      .describe('Alternative text for people who cannot see it: required, published, optional (default) or none.'),
  },
  example: {
    options: {
      media: ['image/*'],
      maxSize: '2 MB',
      minWidth: 640,
      minHeight: 1,
      maxWidth: 4000,
      maxHeight: 4000,
      alt: 'required',
    },
    value: { file: 'photos/skerry-point.png', alt: 'A white tower on a black rock' },
  },
  mistakes: function* ({ minWidth, maxWidth, minHeight, maxHeight }) {
    for (const [option, min, max] of [
      ['minWidth', minWidth, maxWidth],
      ['minHeight', minHeight, maxHeight],
    ] as const)
      if (min !== undefined && max !== undefined && min > max)
        yield {
          option,
          says: `\`${option}\` (${min}) is more than the most allowed (${max})`,
          mend: 'Swap them or change one.',
        };
  },
  check:
    ({ alt = 'optional' }, { languages }) =>
    (value, report) => {
      const file = fileOf(value);
      const isGroup = isObject(value);
      const extra = isGroup ? Object.keys(value).filter((key) => key !== 'file' && key !== 'alt') : [];
      if (file === undefined || extra.length > 0) {
        report('wrong-shape:asset', { extra: extra[0] }, extra[0] === undefined ? {} : { inside: [extra[0]] });
        return;
      }

      const text = isGroup ? ownValue(value, 'alt') : undefined;
      if (text !== undefined && !isAlt(text, languages)) report('wrong-shape:alt', { languages }, { inside: ['alt'] });
      else if (text !== undefined && alt === 'none') report('wrong-shape:alt-unwanted', {}, { inside: ['alt'] });
      else if (text === undefined && (alt === 'required' || alt === 'published'))
        report('alt-missing', {}, alt === 'published' ? { onlyPublished: true } : {});
    },
  changed: {
    media,
    maxSize: upperBound(),
    minWidth: lowerBound(),
    minHeight: lowerBound(),
    maxWidth: upperBound(),
    maxHeight: upperBound(),
    alt: {
      direction: (before, after) => {
        const rank = (value: Json | undefined): number => strictness[(value ?? 'optional') as keyof typeof strictness];
        if (after === 'none' || before === 'none')
          return condition.direction(before ?? 'optional', after ?? 'optional');
        return byValue(() => (rank(after) > rank(before) ? 'narrower' : 'wider')).direction(before, after);
      },
    },
  },
  from: {
    text: (value) => ({ value: String(value).replace(/^assets\//u, '') }),
    json: (value) => (fileOf(value) === undefined ? { problem: 'it names no file' } : { value }),
  },
  files: {
    of: (value) => {
      const file = fileOf(value);
      if (file === undefined) return [];
      return [{ file, inside: isObject(value) ? ['file'] : [] }];
    },
    limits: (options) => options,
  },

  graphql: {
    name: 'Asset',
    definition:
      '"A file, with what it shows in words."\ntype Asset {\n  file: String!\n  alt(language: Language): String\n}\n',
  },
  stores: ({ alt = 'optional' }) => {
    const file: Shape = { is: 'text', patterns: ['^(?!/)(?![^]*\\\\)(?!(?:[^]*/)?\\.{0,2}(?:/|$))[^]+$'] };
    const text: Shape = { is: 'either', shapes: [{ is: 'text' }, { is: 'keys', keys: {}, isOpen: true }] };
    const group: Shape = {
      is: 'keys',
      keys: alt === 'none' ? { file } : { file, alt: text },
      optional: alt === 'required' ? [] : ['alt'],
    };

    if (alt === 'required') return group;
    return { is: 'either', shapes: [file, group] };
  },
  cel: 'dyn',
  glance: 0,
  say: fileOf,
  gist: ({ media: types, maxSize, minWidth, maxWidth, minHeight, maxHeight, alt }) =>
    [
      types ? list(types, 'or') : '',
      maxSize === undefined ? '' : `≤ ${sayBytes(maxSize)}`,
      pixelGist(minWidth, maxWidth, 'across'),
      pixelGist(minHeight, maxHeight, 'down'),
      alt === 'required' || alt === 'published' ? 'with alternative text' : '',
    ]
      .filter(Boolean)
      .join(', '),
});

function pixelGist(min: number | undefined, max: number | undefined, direction: string): string {
  const bounds = range(min, max);
  if (bounds === '') return '';
  return `${bounds} pixels ${direction}`;
}

/** The file that a value names; `undefined` where it names none below `assets/`. */
function fileOf(value: Json): string | undefined {
  const file = isObject(value) ? ownValue(value, 'file') : value;
  if (typeof file !== 'string' || file === '' || file.startsWith('/') || file.includes('\\')) return undefined;
  if (file.split('/').some((part) => part === '..' || part === '.' || part === '')) return undefined;
  return file;
}

const isAlt = (text: Json, languages: readonly string[]): boolean =>
  (typeof text === 'string' && text !== '') ||
  (isObject(text) &&
    Object.entries(text).every(([language, value]) => languages.includes(language) && typeof value === 'string'));
