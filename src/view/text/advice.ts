import { capital, count, groupThousands } from '../../core/plain/words.ts';
import type { AdviceResult } from '../../tasks/advice.ts';
import { glyphs, type Look, wrap } from '../look.ts';
import { unreadText } from './unread.ts';

/** What may be better in a model, each with what speaks for it; what is declined, only where it is asked for. */
export function adviceText(result: AdviceResult, look: Look, showsDeclined: boolean): string {
  const { types, fields, entries, unreadable, advice, declined } = result;
  const { paint } = look;
  const subject = `${count(types, 'type')}, ${count(fields, 'field')} and ${groupThousands(entries)} ${entries === 1 ? 'entry' : 'entries'}`;
  const left =
    declined.length === 0 || showsDeclined
      ? ''
      : `  ${paint.soft(`${count(declined.length, 'piece')} of advice declined (lumbrik advice --declined)`)}\n`;
  const list = showsDeclined ? declinedText(result, look) : '';
  if (advice.length === 0)
    return `${paint.good(glyphs.fine)} Nothing to advise: ${subject}\n${left}${list}${unreadText(unreadable, look)}`;
  const names = [...new Set(advice.map((one) => one.advice))];
  const blocks = names.map((name) => blockOf(name, advice, look));
  const [first] = advice;
  const decline = `\n${paint.soft(glyphs.next)} ${paint.soft('what does not fit is declined for good in lumbrik.yaml:')}\n  ${paint.name(`advice: { declined: [{ advice: ${first?.advice}, at: ${JSON.stringify(first?.at)}, because: … }] }`)}\n`;
  return `${paint.strong(`${advice.length} ${advice.length === 1 ? 'piece' : 'pieces'} of advice`)} ${paint.soft(`on ${subject}`)}\n\n${blocks.join('\n')}${left}${list}${decline}${unreadText(unreadable, look)}`;
}

function blockOf(name: string, all: AdviceResult['advice'], { paint, width }: Look): string {
  const those = all.filter((one) => one.advice === name);
  const [{ why = '', mend = '' } = {}] = those;
  const isOne = those.every((one) => one.mend === mend);
  const items = those.map(({ at, says, mend: own, command }) =>
    [
      `  ${paint.name(at)}  ${wrap(says, width - at.length - 4, '    ')}\n`,
      isOne ? '' : `    ${wrap(own, width - 4, '    ')}\n`,
      command === undefined ? '' : `    ${paint.soft(glyphs.next)} ${paint.name(command)}\n`,
    ].join(''),
  );
  const heading = `${paint.warn('?')} ${paint.strong(capital(name.replaceAll('-', ' ')))}  ${paint.soft(wrap(why, width - name.length - 4, '  '))}\n`;
  return heading + items.join('') + (isOne ? `  ${wrap(mend, width - 2, '  ')}\n` : '');
}

function declinedText({ declined }: AdviceResult, { paint, width }: Look): string {
  if (declined.length === 0) return '\n  Nothing is declined.\n';
  const items = declined.map(
    ({ advice, at, because, says }) =>
      `  ${paint.name(at)}  ${advice}  ${paint.soft(says === undefined ? 'would not be given any more' : wrap(says, width - 8, '    '))}\n    ${wrap(because, width - 4, '    ')}\n`,
  );
  return `\n${paint.soft('Declined')}\n${items.join('')}`;
}
