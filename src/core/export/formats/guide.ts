import { wordsIn } from '../../definition/wording.ts';
import { valueIn } from '../../model/languages.ts';
import type { Field, Model, Type } from '../../model/link.ts';
import { capital, list, range } from '../../plain/words.ts';
import { flat } from '../../taxonomy/linkTaxonomy.ts';
import { line, paragraphs, quoted, sayValue } from '../markdownSource.ts';
import type { ExportFormat } from './define.ts';

export const guide: ExportFormat = {
  name: 'guide',
  about: 'Markdown: an editorial guide for authors: help, examples, limits in words',
  file: 'editorial-guide.md',
  text: ({ workspace, model, types, call }) =>
    [
      `# Writing for ${line(workspace)}\n\nFor those who write entries. Written by \`${call}\`.\n`,
      ...types.map((type) => typeText(type, model)),
    ].join(''),
};

function typeText(type: Type, model: Model): string {
  const { label, definition, fields } = type;
  const { readingOrder } = model;
  const about = wordsIn(definition.about, readingOrder);
  const guidance = wordsIn(definition.guide, readingOrder);
  const asked = [...fields.values()].filter(({ common }) => common.computed === undefined);
  const groups = definition.groups ?? [];
  const parts = [
    { name: '', own: asked.filter(({ common }) => common.group === undefined || !groups.includes(common.group)) },
    ...groups.map((name) => ({ name, own: asked.filter(({ common }) => common.group === name) })),
  ].filter(({ own }) => own.length > 0);
  const rules = (definition.rules ?? []).map(({ say }) => `- ${line(wordsIn(say, readingOrder))}\n`);
  return [
    `\n## ${line(definition.single ? label.one : label.many)}\n`,
    about === undefined ? '' : `\n${paragraphs(about)}\n`,
    guidance === undefined ? '' : `\n${quoted(guidance)}\n`,
    ...parts.map(
      ({ name, own }) =>
        `${name === '' ? '' : `\n### ${line(name)}\n`}\n${own.map((field) => fieldText(field, model, 0)).join('')}`,
    ),
    rules.length === 0 ? '' : `\nBefore you publish:\n\n${rules.join('')}`,
  ].join('');
}

/** A field as an item of a list, with those inside it below. */
function fieldText(field: Field, model: Model, depth: number): string {
  const { common, label, kind, fields } = field;
  const help = wordsIn(common.help, model.readingOrder);
  const gap = '  '.repeat(depth);
  const says = [
    needText(field),
    help === undefined ? '' : sentence(line(help)),
    sentence(takesText(field, model)),
    exampleText(field, model),
  ];
  const inside = kind.nests ? [...fields.values()].map((one) => fieldText(one, model, depth + 1)).join('') : '';
  return `${gap}- **${line(label)}**${line(' ')}${says.filter(Boolean).join(' ')}\n${inside}`;
}

function needText({ common }: Field): string {
  if (common.when !== undefined) return '(where it applies)';
  if (common.required === true) return '(always)';
  return common.required === 'published' ? '(before it is published)' : '';
}

/** What may stand in a field, in words. */
function takesText(field: Field, { readingOrder, taxonomies, types, context, definition }: Model): string {
  const { kind, options, common } = field;
  const members = kind.members(options, readingOrder).map(({ label }) => line(label));
  const taxonomy = taxonomies.get(kind.taxonomy(options) ?? '');
  const targets = kind.pointsAt(options).types.flatMap(context.acceptedAs);
  const limits = inWords(kind.gist(options));
  const single = (): string => {
    if (taxonomy) {
      const terms = taxonomy.roots.flatMap(flat).filter(({ isRetired }) => !isRetired);
      const some = terms.slice(0, mostTerms).map(({ label }) => line(label));
      const more = terms.length > some.length ? ', …' : '';
      const own = taxonomy.isOpen ? '; or a new one' : '';
      return `A term of ${line(taxonomy.label)}${some.length === 0 ? '' : `: ${some.join(', ')}${more}`}${own}`;
    }
    if (members.length > 0) return `One of: ${members.join(', ')}`;
    if (kind.name === 'reference')
      return capital(
        list(
          targets.map((name) => `a ${line(types.get(name)?.label.one ?? name)}`),
          'or',
        ),
      );
    if (kind.nests) return 'These together';
    if (kind.maps) return said(kind.about);
    return limits === '' ? said(kind.about) : `${said(kind.about)}: ${limits}`;
  };
  const { min, max } = common.many ?? {};
  const amount = common.many ? ` (${inWords(range(min, max)) || 'as many as you like'})` : '';
  const languages = common.localized ? ` In ${list(definition.languages)}` : '';
  return `${single()}${amount}${languages === '' ? '' : `.${languages}`}${kind.nests ? ':' : ''}`;
}

const mostTerms = 20;

function exampleText({ common }: Field, { readingOrder }: Model): string {
  if (common.example === undefined) return '';
  const read = common.localized ? valueIn(common.example, readingOrder)?.value : undefined;
  return `For example: ${line(sayValue(read ?? common.example))}`;
}

/** Limits with words for signs. */
const inWords = (gist: string): string =>
  line(gist.replace(/≤ /gu, 'up to ').replace(/≥ /gu, 'at least ').replace(/ · /gu, ', ')).replace(/–/gu, ' to ');

/** What a kind is, in its first words. */
const said = (about: string): string => line((/^[^.:,;]+/u.exec(about)?.[0] ?? about).trim());

const sentence = (text: string): string => (/[.!?…:]$/u.test(text) ? text : `${text}.`);
