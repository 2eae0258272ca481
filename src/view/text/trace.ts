import { shellWord } from '../../core/plain/shellWord.ts';
import { count } from '../../core/plain/words.ts';
import type { TraceResult } from '../../tasks/trace.ts';
import { glyphs, type Look, next, sayPointer } from '../look.ts';

/** A walk as a tree, an order to publish in, or what would dangle. */
export function traceText(result: TraceResult, look: Look): string {
  switch (result.what) {
    case 'around':
      return aroundText(result, look);
    case 'publishing':
      return publishingText(result, look);
    case 'deleting':
      return deletingText(result, look);
    case 'unlinked':
      return unlinkedText(result, look);
  }
}

type Of<W extends TraceResult['what']> = Extract<TraceResult, { what: W }>;
type Node = Of<'around'>['pointsAt'];

function aroundText({ pointsAt, pointedAtBy, siblings, entry }: Of<'around'>, look: Look): string {
  const { paint } = look;
  const tree = (title: string, root: Node): string => {
    if (root.next.length === 0) return '';
    return `\n${paint.soft(`  ${title}`)}\n${treeLines(root, '  ', look).join('\n')}\n`;
  };
  const beside = siblings.map(
    ({ parent, field, entries }) => `  ${paint.name(parent)}  ${paint.soft(field)}  ${entries.join(', ')}`,
  );

  return [
    `${nodeText(pointsAt, look)}\n`,
    pointsAt.next.length + pointedAtBy.next.length === 0 ? `\n  It points at nothing, and nothing points at it.\n` : '',
    tree('Points at', pointsAt),
    tree('Pointed at by', pointedAtBy),
    beside.length > 0 ? `\n${paint.soft('  Beside it, under the same parent')}\n${beside.join('\n')}\n` : '',
    next(`lumbrik trace ${shellWord(entry)} --deleting`, 'what would dangle without it', look),
  ].join('');
}

function treeLines(node: Node, before: string, look: Look): readonly string[] {
  const { paint } = look;
  return node.next.flatMap(({ name, node: inner }, index) => {
    const isLast = index === node.next.length - 1;
    const again = inner.again ? paint.soft(' … see above') : '';
    return [
      `${paint.soft(before + (isLast ? glyphs.last : glyphs.branch))}${paint.soft(name)} ${nodeText(inner, look)}${again}`,
      ...treeLines(inner, before + (isLast ? '   ' : glyphs.pipe), look),
    ];
  });
}

function nodeText(
  { entry, title, status, hidden }: Pick<Node, 'entry' | 'title' | 'status' | 'hidden'>,
  { paint }: Look,
): string {
  const state = {
    published: hidden ? ` ${paint.warn(hiddenText(hidden))}` : '',
    draft: ` ${paint.warn('draft')}`,
    archived: ` ${paint.soft('archived')}`,
    missing: ` ${paint.bad('missing')}`,
  }[status];
  return `${title === undefined ? '' : `${title}  `}${paint.name(entry)}${state}`;
}

/** `published, to be seen from 2027-01-01` */
const hiddenText = ({ why: reason, date }: NonNullable<Node['hidden']>): string => {
  if (reason === 'not-yet') return `published, to be seen from ${date}`;
  return `published, not to be seen since ${date}`;
};

function publishingText({ entry, order, blocked, ok }: Of<'publishing'>, look: Look): string {
  const { paint } = look;
  const steps = order.map(
    (entries, index) =>
      `${paint.soft(String(index + 1).padStart(3))}  ${entries.map((entry) => paint.name(entry)).join(` ${paint.soft('together with')} `)}`,
  );
  const stops = blocked.map(
    ({ from, pointer, to, status, hidden }) =>
      `  ${paint.bad(glyphs.wrong)} ${paint.name(from)} ${sayPointer(pointer)} points at ${to}, which is ${hidden ? hiddenText(hidden) : status}`,
  );
  const published = ok
    ? `${paint.good(glyphs.fine)} ${paint.strong(`${entry} is published`)}, and so is all that it needs\n`
    : `${paint.warn(glyphs.warn)} ${paint.strong(`${entry} is published`)}, but not all that it needs is there for readers\n`;
  const verdict =
    order.length === 0
      ? published
      : `${paint.strong(count(order.length, 'step'))} to publish ${paint.name(entry)}\n\n${steps.join('\n')}\n`;

  return `${verdict}${ok ? '' : `\n${paint.strong('In the way')}\n${stops.join('\n')}\n`}`;
}

function deletingText({ entry, dangling }: Of<'deleting'>, look: Look): string {
  const { paint } = look;
  if (dangling.length === 0)
    return `${paint.good(glyphs.fine)} ${paint.strong('Nothing would dangle')}: no reference leads to ${entry}\n`;

  const lines = dangling.map(
    ({ from, pointer, status, required }) =>
      `  ${required ? paint.bad(glyphs.wrong) : paint.warn(glyphs.warn)} ${paint.name(from)}  ${sayPointer(pointer)}${required ? `  ${paint.bad('required')}` : ''}${status === 'published' ? '' : `  ${paint.soft(status)}`}`,
  );

  return `${paint.bad(glyphs.wrong)} ${paint.strong(`${count(dangling.length, 'reference')} would dangle`)} without ${entry}\n\n${lines.join('\n')}\n`;
}

function unlinkedText({ entries, types }: Of<'unlinked'>, look: Look): string {
  const { paint } = look;
  if (entries.length === 0)
    return `${paint.good(glyphs.fine)} ${paint.strong('Every entry is pointed at')}, of the types that can be: ${types.join(', ')}\n`;
  return `${paint.strong(count(entries.length, 'entry', 'entries'))} that nothing points at, of ${types.join(', ')}\n\n${entries.map((entry) => `  ${nodeText(entry, look)}`).join('\n')}\n`;
}
