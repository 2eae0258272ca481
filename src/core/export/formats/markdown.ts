import { wordsIn } from '../../definition/wording.ts';
import type { Field, Model, Type } from '../../model/link.ts';
import { fieldsWithin } from '../../model/nestedFields.ts';
import type { Taxonomy, Term } from '../../taxonomy/linkTaxonomy.ts';
import { code, line, paragraphs, quoted, sayValue } from '../markdownSource.ts';
import type { ExportFormat } from './define.ts';

export const markdown: ExportFormat = {
  name: 'markdown',
  about: 'Markdown: the model for people, with help, examples and limits in words',
  file: 'content-model.md',
  text: ({ workspace, model, types, call }) => {
    const taxonomies = [...model.taxonomies.values()].filter(
      (taxonomy) => types.length === model.types.size || isUsed(taxonomy, types),
    );
    return [
      `# ${line(workspace)}\n\nThe content model. Written by \`${call}\`.\n`,
      ...types.map((type) => typeText(type, model)),
      ...(taxonomies.length === 0
        ? []
        : ['\n## Taxonomies\n', ...taxonomies.map((taxonomy) => taxonomyText(taxonomy, model))]),
    ].join('');
  },
};

const isUsed = ({ name }: Taxonomy, types: readonly Type[]): boolean =>
  types.some(({ fields }) => fieldsWithin(fields).some(({ kind, options }) => kind.taxonomy(options) === name));

function typeText({ name, label, definition, fields }: Type, model: Model): string {
  const { readingOrder } = model;
  const [about, guide] = [definition.about, definition.guide].map((wording) => wordsIn(wording, readingOrder));
  const rows = fieldsWithin(fields).map((field) => `| ${fieldCells(field, model).join(' | ')} |\n`);
  const rules = (definition.rules ?? []).map(
    ({ say: wording, expect }) => `- ${line(wordsIn(wording, readingOrder) ?? '')} ${code(expect)}\n`,
  );

  return [
    `\n## ${line(label.many)} (${code(name)})\n`,
    about === undefined ? '' : `\n${paragraphs(about)}\n`,
    guide === undefined ? '' : `\n${quoted(guide)}\n`,
    rows.length === 0
      ? '\nNo fields yet.\n'
      : `\n| Field | | Takes | For authors |\n| --- | --- | --- | --- |\n${rows.join('')}`,
    rules.length === 0 ? '' : `\nRules:\n\n${rules.join('')}`,
  ].join('');
}

function fieldCells({ name, label, kind, options, common }: Field, { readingOrder }: Model): readonly string[] {
  const gist = kind.gist(options);
  const help = wordsIn(common.help, readingOrder);
  const takes = [
    line(`${common.many ? 'many ' : ''}${kind.name}${gist === '' ? '' : `, ${gist}`}`),
    common.localized ? 'in each language' : '',
    common.unique ? 'unique' : '',
    { always: 'required', published: 'required once published', no: '' }[requiredOf(common.required)],
    common.when === undefined ? '' : `only where ${code(common.when)}`,
  ];
  const authors = [
    help === undefined ? '' : line(help),
    common.example === undefined ? '' : `such as ${code(sayValue(common.example))}`,
  ];

  return [code(name), line(label), takes.filter(Boolean).join('; '), authors.filter(Boolean).join(' · ')];
}

const requiredOf = (required: Field['common']['required']): 'always' | 'published' | 'no' => {
  if (required === 'published') return 'published';
  return (required === true && 'always') || 'no';
};

function taxonomyText({ name, label, definition, isOpen, roots }: Taxonomy, { readingOrder }: Model): string {
  const about = wordsIn(definition.about, readingOrder);
  return [
    `\n### ${line(label)} (${code(name)})\n`,
    about === undefined ? '' : `\n${paragraphs(about)}\n`,
    isOpen ? '\nOpen: authors add terms.\n' : '',
    roots.length === 0 ? '' : `\n${roots.map((term) => termText(term, 0)).join('')}`,
  ].join('');
}

const termText = (term: Term, depth: number): string =>
  `${'  '.repeat(depth)}- ${line(term.label)}${term.label === term.name ? '' : ` (${code(term.name)})`}${term.isRetired ? ', retired' : ''}\n${term.below.map((term) => termText(term, depth + 1)).join('')}`;
