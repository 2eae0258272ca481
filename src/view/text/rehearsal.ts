import { count, groupThousands, list, listSome } from '../../core/plain/words.ts';
import type { RehearseResult } from '../../tasks/migration/rehearse.ts';
import { fromTo } from '../difference.ts';
import { glyphs, type Look, next, oneLine, padRight, sayPointer, wrap } from '../look.ts';
import { unmarkedText } from './migration.ts';

/** A rehearsal: per step what changes, losses, and whether the check is clean afterwards. */
export function rehearseText(result: RehearseResult, look: Look): string {
  const { paint } = look;
  const { file, from, to, ahead, steps, lost, unmarked } = result;

  return [
    `${paint.strong(file)}\n  ${from} ${glyphs.arrow} ${to}  ${paint.soft('rehearsed: nothing was written')}\n${ahead.length > 0 ? `  ${wrap(`on the entries as they will be after ${list(ahead)}`, look.width - 2, '  ')}\n` : ''}`,
    `\n${steps.map((step) => stepText(step, look)).join('\n')}\n`,
    lostText(lost, look),
    backText(result.back, look),
    afterwardsText(result, look),
    unmarked === undefined ? '' : unmarkedText(unmarked, look),
    onwardText(result, look),
  ].join('');
}

/** What is in the way of a run, and what is called next. */
function onwardText({ hindered, openQuestions, errorsAfter, ahead, number }: RehearseResult, look: Look): string {
  const { paint, width } = look;
  if (openQuestions > 0)
    return `\n${paint.warn(glyphs.warn)} ${paint.strong(count(openQuestions, 'open question'))}\n${next(`lumbrik migration answer ${number}`, 'to answer them one by one, or do it in the file', look)}`;

  const again = `lumbrik migration rehearse ${number}`;
  if (hindered)
    return `\n${paint.bad(glyphs.wrong)} ${wrap(`${paint.strong('A run would be refused')}: ${hindered.says}`, width - 2, '  ')}\n  ${wrap(hindered.mend, width - 2, '  ')}\n${next(again, 'again, once that is mended', look)}`;

  const [first] = ahead;
  if (first !== undefined)
    return next(
      `lumbrik migration rehearse ${Number.parseInt(first.replace(/^.*\//u, ''), 10)}`,
      'run these first',
      look,
    );

  const allTheSame = errorsAfter > 0 ? ' all the same' : '';

  return next(`lumbrik migration run ${number}`, `to do it${allTheSame}: all or nothing, and undo takes it back`, look);
}

type Step = RehearseResult['steps'][number];

function stepText({ step, verb, address, entries: touched, made: created, samples, open }: Step, look: Look): string {
  const { paint, width } = look;
  const parts = [
    ...(touched > 0 ? [count(touched, 'entry changes', 'entries change')] : []),
    ...(created.length > 0 ? [count(created.length, 'entry is new', 'entries are new')] : []),
  ];
  const effect = parts.length > 0 ? paint.strong(parts.join(', ')) : paint.soft('no entry changes');
  const room = Math.max(0, ...samples.map(({ entry }) => entry.length));
  const examples = samples.map(
    (sample, index) => `       ${sampleText(sample, room, look, samples[index - 1]?.entry === sample.entry)}`,
  );
  const newOnes =
    created.length > 0
      ? [`       ${paint.soft('new')}  ${wrap(listSome(created, 4), width - 12, '            ')}`]
      : [];
  const question = open === undefined ? [] : [`     ${paint.warn('?')} ${wrap(open, width - 7, '       ')}`];
  const head = `${paint.soft(String(step).padStart(3))}  ${padRight(verb, 8)}${paint.name(address)}  ${effect}`;

  return [head, ...examples, ...newOnes, ...question].join('\n');
}

/** What entries are once they were taken there and back. */
function backText(back: RehearseResult['back'], { paint, width }: Look): string {
  if (!back) return '';

  const { same, named, otherwise, wrong } = back;
  const parts = [
    `${count(same, 'entry is', 'entries are')} as before`,
    ...(named > 0 ? [`${groupThousands(named)} but for what is named here as lost or given`] : []),
    ...(otherwise > 0
      ? [`${groupThousands(otherwise)} but for values that were converted and are written otherwise`]
      : []),
  ];
  const lines = wrong.slice(0, findingsShown).map(({ entry, field, before, back: after }) => {
    const room = width - entry.length - field.length - 10;
    return `    ${paint.name(entry)}  ${field}  ${oneLine(before ?? '', Math.floor(room / 2))} ${glyphs.arrow} ${oneLine(after ?? '', Math.floor(room / 2))}\n`;
  });
  const head =
    wrong.length === 0
      ? `${paint.good(glyphs.fine)} ${paint.strong('Proved there and back')}`
      : `${paint.bad(glyphs.wrong)} ${paint.strong(`${count(wrong.length, 'value is', 'values are')} not as before, there and back`)}`;

  return `\n${head}\n  ${wrap(`${parts.join('; ')}.`, width - 2, '  ')}\n${lines.join('')}`;
}

const findingsShown = 8;

/** What the check would say then: what is new of it first. */
function afterwardsText(result: RehearseResult, look: Look): string {
  const { paint, width } = look;
  const { errorsBefore, errorsAfter, findings, findingsAfter, changed, entries, made: createdCount } = result;
  const isClean = errorsAfter === 0;
  const parts = [
    ...(findings.new > 0 ? [`${groupThousands(findings.new)} new`] : []),
    ...(findings.left > 0 ? [`${groupThousands(findings.left)} as before`] : []),
  ];
  const verdict = isClean ? 'Clean afterwards' : `${count(errorsAfter, 'error')} afterwards`;
  const andGone = findings.gone > 0 ? `, of which ${groupThousands(findings.gone)} would be gone` : '';
  const lines = findingsAfter.slice(0, findingsShown).map(({ entry, pointer, says: message, isNew, step }) => {
    const by = step === undefined ? '' : `, by step ${step}`;
    const where = isNew ? ` (new${by})` : '';
    return `    ${paint.name(entry)} ${wrap(`${sayPointer(pointer)} ${message}${where}`, width - entry.length - 5, '      ')}\n`;
  });

  return [
    `\n${isClean ? paint.good(glyphs.fine) : paint.bad(glyphs.wrong)} ${paint.strong(verdict)}${parts.length > 0 ? ` (${parts.join(', ')})` : ''}; ${count(errorsBefore, 'error')} before${andGone}\n`,
    `  ${groupThousands(changed)} of ${count(entries, 'entry', 'entries')} would be written${createdCount > 0 ? `, ${groupThousands(createdCount)} would be new` : ''}\n`,
    ...lines,
    errorsAfter > findingsShown ? `    ${paint.soft(`and ${groupThousands(errorsAfter - findingsShown)} more`)}\n` : '',
  ].join('');
}

type Sample = RehearseResult['steps'][number]['samples'][number];

function sampleText(
  { entry: address, pointer, before, after, movedTo, becomes }: Sample,
  entryRoom: number,
  look: Look,
  isSame: boolean,
): string {
  const { paint, width } = look;
  const field = sayPointer(pointer);
  const entry = padRight(isSame ? '' : address, entryRoom);
  const room = width - entryRoom - field.length - 12;
  if (movedTo !== undefined)
    return `${paint.soft(entry)}  ${field} ${paint.soft(glyphs.arrow)} ${sayPointer(movedTo)}  ${paint.soft(oneLine(before, room))}`;
  if (becomes !== undefined) return `${paint.soft(entry)} ${paint.soft(glyphs.arrow)} ${becomes}`;
  if (pointer === '') return `${entry}  ${paint.bad('is removed')}`;
  return `${paint.soft(entry)}  ${field}  ${fromTo(before, after, room, look)}`;
}

const lossesShown = 8;

type LostValues = RehearseResult['lost'];

function lostText(lost: LostValues, look: Look): string {
  const { paint } = look;
  const removed = lost.filter(({ becomes }) => becomes === undefined);
  const replaced = lost.filter(({ becomes }) => becomes !== undefined);

  return [
    lost.length === 0 ? `\n${paint.good(glyphs.fine)} Nothing is lost\n` : '',
    removed.length === 0
      ? ''
      : `\n${paint.bad(glyphs.wrong)} ${paint.strong(`${count(removed.length, 'value')} would be lost`)}, kept in the journal alone\n${lostLines(removed, look)}`,
    replaced.length === 0
      ? ''
      : `\n${paint.warn(glyphs.warn)} ${paint.strong(`${count(replaced.length, 'value')} would be replaced`)}, the old kept in the journal alone ${paint.soft('(--format json lists them)')}\n`,
  ].join('');
}

function lostLines(lost: LostValues, { paint, width }: Look): string {
  const shown = lost.slice(0, lossesShown);
  const [entryRoom, fieldRoom] = [
    Math.max(0, ...shown.map(({ entry }) => entry.length)),
    Math.min(30, Math.max(0, ...shown.map(({ pointer }) => sayPointer(pointer).length))),
  ];
  const rows = shown.map(({ entry, pointer, value, why: reason }) => {
    const field = padRight(sayPointer(pointer), fieldRoom);
    const room = width - entryRoom - field.length - 8;
    const valueText = `${oneLine(value, Math.max(16, room - reason.length - 2))}  ${paint.soft(reason)}`;
    return `    ${paint.name(padRight(entry, entryRoom))}  ${field}  ${valueText}\n`;
  });

  return (
    rows.join('') +
    (lost.length > lossesShown
      ? `    ${paint.soft(`and ${groupThousands(lost.length - lossesShown)} more (--format json lists all)`)}\n`
      : '')
  );
}
