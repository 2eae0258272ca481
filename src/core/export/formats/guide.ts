import { type Wording, wordsIn } from '../../definition/wording.ts';
import type { AssetLimits } from '../../kinds/kindParts.ts';
import { valueIn } from '../../model/languages.ts';
import type { Field, Model, Type } from '../../model/link.ts';
import { sayBytes } from '../../plain/bytes.ts';
import { type JsonObject, ownValue } from '../../plain/json.ts';
import { flat } from '../../taxonomy/linkTaxonomy.ts';
import { guideWordsIn } from '../guideWords/index.ts';
import type { GuideWords } from '../guideWords/words.ts';
import { code, line, paragraphs, quoted, sayValue } from '../markdownSource.ts';
import type { ExportFormat } from './define.ts';

export const guide: ExportFormat = {
  name: 'guide',
  about: 'Markdown: an editorial guide for authors: help, examples, limits in words',
  file: 'editorial-guide.md',
  text: ({ workspace, model, types, call }) => {
    const words = guideWordsIn(model.readingOrder);
    const guiding = { model, words };
    return [
      `# ${line(words.title(workspace))}\n\n${words.intro(code(call))}\n`,
      ...types.map((type) => typeText(type, guiding)),
    ].join('');
  },
};

/** What a guide is made of: the model, and words of its language. */
interface Guiding {
  readonly model: Model;
  readonly words: GuideWords;
}

function typeText(type: Type, guiding: Guiding): string {
  const { label, definition, fields } = type;
  const { model, words } = guiding;
  const { readingOrder } = model;
  const about = wordsIn(definition.about, readingOrder);
  const guidance = wordsIn(definition.guide, readingOrder);
  const askedFields = [...fields.values()].filter(({ common }) => common.computed === undefined);
  const groups = definition.groups ?? [];
  const parts = [
    {
      name: '',
      ownFields: askedFields.filter(({ common }) => common.group === undefined || !groups.includes(common.group)),
    },
    ...groups.map((name) => ({ name, ownFields: askedFields.filter(({ common }) => common.group === name) })),
  ].filter(({ ownFields }) => ownFields.length > 0);
  const rules = (definition.rules ?? []).map(({ say: wording }) => `- ${line(wordsIn(wording, readingOrder))}\n`);

  return [
    `\n## ${line(definition.single ? label.one : label.many)}\n`,
    about === undefined ? '' : `\n${paragraphs(about)}\n`,
    guidance === undefined ? '' : `\n${quoted(guidance)}\n`,
    ...parts.map(
      ({ name, ownFields }) =>
        `${name === '' ? '' : `\n### ${line(name)}\n`}\n${ownFields.map((field) => fieldText(field, guiding, 0)).join('')}`,
    ),
    rules.length === 0 ? '' : `\n${words.beforePublishing}\n\n${rules.join('')}`,
  ].join('');
}

/** A field as an item of a list, with those inside it below. */
function fieldText(field: Field, guiding: Guiding, depth: number): string {
  const { common, label, kind, fields } = field;
  const help = wordsIn(common.help, guiding.model.readingOrder);
  const sentences = [
    needText(field, guiding.words),
    help === undefined ? '' : sentence(line(help)),
    takesText(field, guiding),
    exampleText(field, guiding),
  ];
  const inside = kind.nests ? [...fields.values()].map((field) => fieldText(field, guiding, depth + 1)).join('') : '';

  return `${'  '.repeat(depth)}- **${line(label)}** ${sentences.filter(Boolean).join(' ')}\n${inside}`;
}

function needText({ common }: Field, words: GuideWords): string {
  if (common.when !== undefined) return words.whereItApplies;
  if (common.required === true) return words.always;
  if (common.required !== 'published') return '';
  return words.oncePublished;
}

/** What may be in a field, in words. */
function takesText(field: Field, guiding: Guiding): string {
  const { kind, common } = field;
  const { words, model } = guiding;
  const amount = common.many ? ` (${amountText(common.many, words) || words.anyNumber})` : '';
  const single = `${singleText(field, guiding)}${amount}`;
  const names = model.definition.languages.map((code) => nameOfLanguage(code, words));
  const text = [
    sentence(single),
    common.localized ? sentence(words.inLanguages(listed(names, 'conjunction', words))) : '',
    ...patternText(field, model),
  ]
    .filter(Boolean)
    .join(' ');

  // Its inner fields follow.
  if (!kind.nests) return text;
  return text.replace(/\.$/u, words.colon.trimEnd());
}

/** What one value is. */
function singleText({ kind, options }: Field, { model, words }: Guiding): string {
  const { readingOrder, taxonomies, types, context } = model;
  const members = kind.members(options, readingOrder).map(({ label }) => line(label));
  const taxonomy = taxonomies.get(kind.taxonomy(options) ?? '');
  if (taxonomy) {
    const terms = taxonomy.roots.flatMap(flat).filter(({ isRetired }) => !isRetired);
    const some = terms.slice(0, mostTerms).map(({ label }) => line(label));
    const more = terms.length > some.length ? ', …' : '';
    const named = some.length === 0 ? '' : `${words.colon}${some.join(', ')}${more}`;
    return `${words.termOf(line(taxonomy.label))}${named}${taxonomy.isOpen ? words.orNew : ''}`;
  }
  if (members.length > 0) return `${words.oneOf} ${members.join(', ')}`;
  if (kind.isReference) {
    const targets = kind.pointsAt(options).types.flatMap(context.acceptedAs);
    const named = targets.map((name) => line(types.get(name)?.label.one ?? name));
    return words.refersTo(listed(named, 'disjunction', words));
  }
  if (kind.nests) return words.together;

  const kindWords = kind.guide[words.spoken] ?? firstWords(kind.about);
  const { unit } = options as { readonly unit?: string };
  const counted =
    kind.stores(options, context).is === 'number' && unit !== undefined ? `${kindWords} (${unit})` : kindWords;
  const limits = limitsOf(kind, options, { model, words }).filter(Boolean).join(', ');

  return line(limits === '' ? counted : `${counted}${words.colon}${limits}`);
}

/** The limits of a single value. */
function limitsOf(kind: Field['kind'], options: Field['options'], { model, words }: Guiding): readonly string[] {
  return [...assetLimits(kind.assetLimits(options), words), ...valueLimits(kind, options, { model, words })];
}

/** The same of a value that is a number or a text. */
function valueLimits(kind: Field['kind'], options: Field['options'], { model, words }: Guiding): readonly string[] {
  const shape = kind.stores(options, model.context);
  // Only what the architect asks for: a kind has bounds to itself that no author comes near.
  const bounds = { min: numberIn(options, 'min'), max: numberIn(options, 'max') };
  switch (shape.is) {
    case 'number':
    case 'integer':
      return [
        listed(shape.values?.map((value) => numberText(value, words)) ?? [], 'disjunction', words),
        boundsText(bounds, words),
        shape.places === undefined || shape.is === 'integer'
          ? ''
          : words.decimalPlaces(words.upTo(numberText(shape.places, words)), shape.places === 1),
      ];
    case 'text': {
      const amount = boundsText(bounds, words);
      const { earliest, latest } = shape;
      const isLong = shape.says === 'length of time';
      return [
        earliest === undefined ? '' : (isLong ? words.from : words.notBefore)(earliest),
        latest === undefined ? '' : (isLong ? words.upTo : words.notAfter)(latest),
        amount === '' ? '' : words.characters(amount, (bounds.max ?? bounds.min) === 1),
      ];
    }
    default:
      return [];
  }
}

function numberIn(options: Field['options'], name: 'min' | 'max'): number | undefined {
  const value = ownValue(options as JsonObject, name);
  if (typeof value === 'number') return value;
  return undefined;
}

function assetLimits(options: AssetLimits, words: GuideWords): readonly string[] {
  const { media = [], maxSize, alt } = options;
  const [wide, high] = [
    boundsText({ min: options.minWidth, max: options.maxWidth }, words),
    boundsText({ min: options.minHeight, max: options.maxHeight }, words),
  ];

  return [
    listed(media, 'disjunction', words),
    maxSize === undefined ? '' : words.upTo(sayBytes(maxSize)),
    wide === '' ? '' : words.across(wide),
    high === '' ? '' : words.down(high),
    alt === 'required' || alt === 'published' ? words.withAlternative : '',
  ];
}

interface Bounds {
  readonly min?: number | undefined;
  readonly max?: number | undefined;
}

function boundsText({ min, max }: Bounds, words: GuideWords): string {
  const [least, most] = [min, max].map((bound) => (bound === undefined ? undefined : numberText(bound, words)));
  if (least !== undefined && most !== undefined) return least === most ? least : words.between(least, most);
  if (least !== undefined) return words.from(least);
  if (most === undefined) return '';
  return words.upTo(most);
}

/** How many items a list has; nothing where that is free. */
const amountText = (many: Bounds, words: GuideWords): string => boundsText({ min: many.min, max: many.max }, words);

const numberText = (number: number, { language }: GuideWords): string =>
  new Intl.NumberFormat(language, { maximumFractionDigits: 15 }).format(number);

const listed = (items: readonly string[], type: 'conjunction' | 'disjunction', { language }: GuideWords): string =>
  new Intl.ListFormat(language, { type }).format(items);

const nameOfLanguage = (code: string, { language }: GuideWords): string =>
  new Intl.DisplayNames([language], { type: 'language' }).of(code) ?? code;

/** What a pattern asks for, in the words of anyone who wrote it. */
function patternText({ options }: Field, { readingOrder }: Model): readonly string[] {
  const { pattern } = options as { readonly pattern?: { readonly say?: Wording } };
  const wording = pattern?.say === undefined ? undefined : wordsIn(pattern.say, readingOrder);
  if (wording === undefined) return [];
  return [sentence(line(wording))];
}

const mostTerms = 20;

function exampleText({ common }: Field, { model, words }: Guiding): string {
  if (common.example === undefined) return '';
  const read = common.localized ? valueIn(common.example, model.readingOrder)?.value : undefined;
  return `${words.forExample} ${line(sayValue(read ?? common.example))}`;
}

/** What a kind of somebody's own is, in its first words. */
const firstWords = (about: string): string => (/^[^.:,;]+/u.exec(about)?.[0] ?? about).trim();

const sentence = (text: string): string => {
  if (/[.!?…:]$/u.test(text)) return text;
  return `${text}.`;
};
