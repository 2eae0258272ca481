import { capital, count, groupThousands } from '../../core/plain/words.ts';
import type { AdviceResult } from '../../tasks/advice.ts';
import { glyphs, type Look, wrap } from '../look.ts';
import { unreadText } from './unread.ts';

/** What may be better in a model, each with what speaks for it; declined ones, only where it is requested. */
export function adviceText(result: AdviceResult, look: Look, showsDeclined: boolean): string {
  const { types, fields, entries, unreadable, advice, declined } = result;
  const { paint } = look;
  const subject = `${count(types, 'type')}, ${count(fields, 'field')} and ${groupThousands(entries)} ${entries === 1 ? 'entry' : 'entries'}`;
  const hint =
    declined.length === 0 || showsDeclined
      ? ''
      : `  ${paint.soft(`${count(declined.length, 'piece')} of advice declined (lumbrik advice --declined)`)}\n`;
  const list = showsDeclined ? declinedText(result, look) : '';
  if (advice.length === 0)
    return `${paint.good(glyphs.fine)} Nothing to advise: ${subject}\n${hint}${list}${unreadText(unreadable, look)}`;

  const names = [...new Set(advice.map((item) => item.advice))];
  const blocks = names.map((name) => blockOf(name, advice, look));
  const [first] = advice;
  const decline = `\n${paint.soft(glyphs.next)} ${paint.soft('what does not fit is declined for good in lumbrik.yaml:')}\n  ${paint.name(`advice: { declined: [{ advice: ${first?.advice}, at: ${JSON.stringify(first?.at)}, because: … }] }`)}\n`;

  return `${paint.strong(`${advice.length} ${advice.length === 1 ? 'piece' : 'pieces'} of advice`)} ${paint.soft(`on ${subject}`)}\n\n${blocks.join('\n')}${hint}${list}${decline}${unreadText(unreadable, look)}`;
}

function blockOf(name: string, advice: AdviceResult['advice'], { paint, width }: Look): string {
  const those = advice.filter((item) => item.advice === name);
  const [{ why: reason = '', mend = '' } = {}] = those;
  const isOne = those.every((item) => item.mend === mend);
  const items = those.map(({ at: address, says: message, mend: ownMend, command }) =>
    [
      `  ${paint.name(address)}  ${wrap(message, width - address.length - 4, '    ')}\n`,
      isOne ? '' : `    ${wrap(ownMend, width - 4, '    ')}\n`,
      command === undefined ? '' : `    ${paint.soft(glyphs.next)} ${paint.name(command)}\n`,
    ].join(''),
  );
  const heading = `${paint.warn('?')} ${paint.strong(capital(name.replaceAll('-', ' ')))}  ${paint.soft(wrap(reason, width - name.length - 4, '  '))}\n`;

  return heading + items.join('') + (isOne ? `  ${wrap(mend, width - 2, '  ')}\n` : '');
}

function declinedText({ declined }: AdviceResult, { paint, width }: Look): string {
  if (declined.length === 0) return '\n  Nothing is declined.\n';
  const items = declined.map(
    ({ advice, at: address, because, says: message }) =>
      `  ${paint.name(address)}  ${advice}  ${paint.soft(message === undefined ? 'would not be given any more' : wrap(message, width - 8, '    '))}\n    ${wrap(because, width - 4, '    ')}\n`,
  );

  return `\n${paint.soft('Declined')}\n${items.join('')}`;
}
