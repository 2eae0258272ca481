import { count, groupThousands, list } from '../../core/plain/words.ts';
import type { DraftResult } from '../../tasks/migration/draft.ts';
import type { MigrationListResult } from '../../tasks/migration/list.ts';
import type { RunResult } from '../../tasks/migration/run.ts';
import type { MigrationShowResult } from '../../tasks/migration/show.ts';
import type { UndoResult } from '../../tasks/migration/undo.ts';
import { clip, glyphs, type Look, next, padRight, table, wrap } from '../look.ts';

/** A drafted migration: its steps in short, and the rest to decide. */
export function draftText(
  { file, from, to, steps, openQuestions, number, kept: stored }: DraftResult,
  look: Look,
): string {
  const { paint, width } = look;
  const lines = steps.map(({ verb, address, why: reason, open, how: method = '' }, index) => {
    const head = `${paint.soft(String(index + 1).padStart(3))}  ${padRight(verb, 8)}${paint.name(address)}`;
    const question =
      open === undefined
        ? ''
        : `\n     ${paint.warn('?')} ${paint.strong(open)}\n       ${wrap(method, width - 7, '       ')}`;

    return `${head}\n     ${paint.soft(wrap(reason, width - 5, '     '))}${question}`;
  });
  const onward =
    openQuestions > 0 ? `\n${paint.warn(glyphs.warn)} ${paint.strong(count(openQuestions, 'open question'))}\n` : '';
  const rehearse = next(`lumbrik migration rehearse ${number}`, 'to try it without writing', look);
  const onwards =
    openQuestions > 0
      ? [
          next(`lumbrik migration answer ${number}`, 'to answer them one by one, or do it in the file', look),
          rehearse.trimStart(),
        ]
      : [rehearse];

  return `${paint.good(glyphs.fine)} ${paint.strong(file)}\n  ${from} ${glyphs.arrow} ${to}, ${count(steps.length, 'step')}, proved${stored === undefined || stored === 0 ? '' : `; ${count(stored, 'answer')} kept`}\n\n${lines.join('\n')}\n${onward}${onwards.join('')}`;
}

/** A migration that was run. */
export function runText({ file, from, to, files, resumed, unmarked }: RunResult, look: Look): string {
  const { paint } = look;
  const unmarkedToo = unmarked === undefined ? '' : unmarkedText(unmarked, look);
  return `${paint.good(glyphs.fine)} ${paint.strong(resumed ? 'Finished' : 'Done')}: ${file}\n  ${from} ${glyphs.arrow} ${to}, ${count(files, 'file')} written\n${unmarkedToo}${next('lumbrik check', 'to look at the entries as they are now', look)}${next('lumbrik migration undo', 'to take it back, byte for byte', look).trimStart()}`;
}

/** A warning that undo will not recognise the run as made here. */
export const unmarkedText = (reason: string, { paint, width }: Look): string =>
  `\n${paint.warn(glyphs.warn)} ${wrap(`Undo of this run will ask for --from-elsewhere: no key can be kept outside the workspace, since ${reason}`, width - 2, '  ')}\n`;

/** A migration that was undone. */
export function undoText(result: UndoResult, look: Look): string {
  const { file, files, number, left: remaining, added } = result;
  const { paint, width } = look;
  const isMends = number === 0;
  const verdict =
    remaining.length === 0
      ? `${paint.good(glyphs.fine)} ${paint.strong('Taken back')}: ${file}`
      : `${paint.bad(glyphs.wrong)} ${paint.strong('Taken back in part')}: ${file}`;
  const stays = remaining.map(
    ({ file: path, entry, why: reason }) =>
      `    ${paint.name(entry ?? path)}  ${paint.soft(`what it was ${reason}`)}\n`,
  );
  const newer = added.slice(0, listed).map((entry) => `    ${paint.name(entry)}\n`);

  return [
    `${verdict}\n  ${count(files, 'file is', 'files are')} again what ${files === 1 ? 'it was' : 'they were'}, byte for byte\n${isMends ? '' : `  ${wrap(modelWords(result), width - 2, '  ')}\n`}`,
    editsText(result, look),
    remaining.length === 0
      ? ''
      : `\n${paint.bad(glyphs.wrong)} ${paint.strong(count(remaining.length, 'entry stays', 'entries stay'))} as the run left ${remaining.length === 1 ? 'it' : 'them'}\n${stays.join('')}`,
    added.length === 0
      ? ''
      : `\n${paint.warn(glyphs.warn)} ${wrap(`${paint.strong(count(added.length, 'file'))} came after the run and ${added.length === 1 ? 'is' : 'are'} still there${isMends ? '' : ', written for the newer model'}`, width - 2, '  ')}\n${newer.join('')}`,
    added.length > listed ? `    ${paint.soft(`and ${groupThousands(added.length - listed)} more`)}\n` : '',
    remaining.length + added.length > 0 || isMends
      ? next('lumbrik check', isMends ? 'to see the problems again' : 'to see what the older model says of them', look)
      : next(`lumbrik migration rehearse ${number}`, 'to try again', look),
  ].join('');
}

const modelWords = ({ modelFrom }: UndoResult): string => {
  if (modelFrom === undefined)
    return 'The entries obey the older model again; the files in model/ still say the newer one (--model takes them back too).';
  return `The entries obey the older model again, and so do the files in model/: as they were at commit ${modelFrom.slice(0, 12)}.`;
};

/** What was edited since the run: what of it is kept, and what is not. */
function editsText({ kept: remaining, lostEdits }: UndoResult, { paint, width }: Look): string {
  if (remaining.length + lostEdits.length === 0) return '';

  const lines = remaining.slice(0, listed).map(({ entry, fields, state }) => {
    const named = fields.length > 0 ? list(fields.map((field) => `\`${field}\``)) : 'as it stands';
    const outcome = { edited: named, deleted: 'stays deleted', new: `came since: ${named}` }[state];
    return `    ${paint.name(entry)}  ${paint.soft(wrap(outcome, width - entry.length - 8, '      '))}\n`;
  });
  const lostLines = lostEdits
    .slice(0, listed)
    .map(({ entry, why: reason }) => `    ${paint.name(entry)}  ${paint.soft(reason)}\n`);

  return [
    remaining.length === 0
      ? ''
      : `\n${paint.good(glyphs.fine)} ${paint.strong(count(remaining.length, 'entry was', 'entries were'))} edited since, and ${remaining.length === 1 ? 'keeps' : 'keep'} that\n${lines.join('')}`,
    lostEdits.length === 0
      ? ''
      : `\n${paint.bad(glyphs.wrong)} ${paint.strong(count(lostEdits.length, 'edit is', 'edits are'))} lost\n${lostLines.join('')}`,
  ].join('');
}

const listed = 8;

const stateWords = {
  open: 'open questions',
  drafted: 'to be rehearsed',
  rehearsed: 'ready to run',
  waiting: 'waits for others',
  stopped: 'stopped midway',
  run: 'run',
} as const;

/** A migration read aloud. */
export function migrationShowText({ file, from, to, state, steps, number }: MigrationShowResult, look: Look): string {
  const { paint, width } = look;
  const lines = steps.map(({ step, says: message, open }) => {
    const question = open === undefined ? '' : `\n     ${paint.warn('?')} ${wrap(open, width - 7, '       ')}`;
    return `${paint.soft(String(step).padStart(3))}  ${wrap(message, width - 5, '     ')}${question}`;
  });
  const isOpen = steps.some(({ open }) => open !== undefined);
  const onward: Readonly<Record<string, readonly [command: string, what: string]>> = {
    drafted: [`lumbrik migration rehearse ${number}`, 'to try it without writing'],
    rehearsed: [`lumbrik migration run ${number}`, 'to do it: all or nothing, and undo takes it back'],
    open: [`lumbrik migration answer ${number}`, 'to answer what it asks'],
  };
  const [command, purpose] = onward[isOpen ? 'open' : state] ?? [];
  const words = state === 'open' ? 'open questions' : stateWords[state as keyof typeof stateWords];

  return `${paint.strong(file)}\n  ${from} ${glyphs.arrow} ${to}  ${paint.soft(words)}\n\n${lines.join('\n') || '  No steps: nothing in it changes.'}\n${command === undefined || purpose === undefined ? '' : next(command, purpose, look)}`;
}

/** All migrations and how far each has come. */
export function listText({ migrations, aside }: MigrationListResult, look: Look): string {
  const { paint } = look;
  if (migrations.length === 0)
    return `No migrations yet.\n${next('lumbrik diff', 'to see whether one is needed', look)}`;

  const brush = {
    open: paint.warn,
    drafted: paint.warn,
    rehearsed: paint.good,
    waiting: paint.soft,
    stopped: paint.bad,
    run: paint.good,
  };
  const rows = migrations.map(({ number, state, from, to, steps, openQuestions, file, runAt }) => {
    const stateText = state === 'run' && runAt ? `run ${runAt.slice(0, 10)}` : stateWords[state];
    const words = state === 'open' ? count(openQuestions, 'open question') : stateText;
    const name = file.replace(/^migrations\/|\.yaml$/gu, '');

    return [
      String(number),
      brush[state](words),
      `${from} ${glyphs.arrow} ${to}`,
      String(steps),
      paint.name(clip(name, nameWidth)),
    ];
  });

  return `${table([{ title: 'No', align: 'right' }, { title: 'State' }, { title: 'Leads' }, { title: 'Steps', align: 'right' }, { title: 'File in migrations/' }], rows, look, '')}\n${asideText(aside, look)}`;
}

/** Journals that could not be read, and where they are. */
const asideText = (aside: MigrationListResult['aside'], { paint }: Look): string => {
  if (aside.length === 0) return '';
  return `\n${paint.warn(glyphs.warn)} ${count(aside.length, 'journal')} could not be read, and ${aside.length === 1 ? 'is' : 'are'} kept in ${aside.join(', ')}\n`;
};

/** As much of a file's name as fits beside the other columns. */
const nameWidth = 40;
