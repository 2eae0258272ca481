import { count } from '../../core/plain/words.ts';
import { writeInline, writeYaml } from '../../core/source/write.ts';
import type { ExplainResult } from '../../tasks/explain.ts';
import type { Topic } from '../../tasks/explainTopics.ts';
import { type Look, next, table, wrap } from '../look.ts';

/** One word explained at length; several, or all, as a list. */
export function explainText({ topics, guess }: ExplainResult, look: Look): string {
  const text = topics.length > 8 ? listText(topics, look) : topics.map((topic) => topicText(topic, look)).join('\n');
  if (guess === undefined) return text;

  return `${look.paint.soft(`Lumbrik calls this ${guess}:`)}\n\n${text}`;
}

function topicText({ what: subject, name, about, options, example, gives, whole: value }: Topic, look: Look): string {
  const { paint, width } = look;
  const rows = options.map((option) => [
    paint.name(option.name),
    shortly(option.takes) + (option.needed ? paint.soft(' needed') : ''),
    paint.soft(option.about),
  ]);

  return [
    `${paint.strong(name)}  ${paint.soft(subject)}\n  ${wrap(about, width - 2, '  ')}\n`,
    rows.length > 0
      ? `\n${table([{ title: 'Option' }, { title: 'Takes' }, { title: 'About', flex: true }], rows, look)}\n`
      : '',
    example
      ? `\n  ${paint.soft('In the model')}  ${wrap(writeInline({ kind: name, ...example.options }), width - 16, ' '.repeat(16))}\n  ${paint.soft('In an entry')}   ${wrap(writeInline(example.value), width - 16, ' '.repeat(16))}\n`
      : '',
    gives
      ? `\n  ${paint.soft('Called as')}    ${gives.call}\n  ${paint.soft('For example')}  ${gives.expression}\n  ${paint.soft('gives')}        ${writeInline(gives.gives)}\n`
      : '',
    value === undefined ? '' : `\n${exampleText(value, look)}`,
    subject === 'kind' ? next('lumbrik explain field', 'what a field of any kind can say', look) : '',
  ].join('');
}

/** A part of a model that says all it can, as it is in a file. */
const exampleText = (value: Topic['whole'], { paint }: Look): string =>
  writeYaml(value ?? null)
    .trimEnd()
    .split('\n')
    .map((line) => `  ${paint.soft(line)}\n`)
    .join('');

function listText(topics: readonly Topic[], look: Look): string {
  const { paint } = look;
  const shelves = [
    'type',
    'field',
    'kind',
    'taxonomy',
    'term',
    'function',
    'step',
    'word',
    'advice',
    'finding',
    'workspace',
  ];
  const sections = shelves.flatMap((shelf) => {
    const onShelf = topics.filter((topic) => topic.what === shelf);
    if (onShelf.length === 0) return [];

    const rows = onShelf.map(({ name, about }) => [paint.name(name), paint.soft(about)]);
    const lines = table([{ title: '' }, { title: '', flex: true }], rows, look)
      .split('\n')
      .slice(1);

    return `${paint.strong(shelf === 'advice' ? 'Advice' : count(onShelf.length, shelf))}\n${lines.join('\n')}\n`;
  });

  return `${sections.join('\n')}${next('lumbrik explain duration', 'one of them at length; type, field and taxonomy are explained too', look)}`;
}

/** Keys by name where they are few: what is reported of them is beside. */
const shortly = (takes: string): string =>
  takes.replace(/^keys \(([^)]{24,})\)$/u, (_, names: string) => `${names.split(', ').length} keys`);
