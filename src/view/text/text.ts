import { count } from '../../core/plain/words.ts';
import { writeYaml } from '../../core/source/write.ts';
import type { TextResult } from '../../tasks/text.ts';
import { glyphs } from '../look.ts';
import type { View } from '../print.ts';

/** A converted text alone, so that it can be sent on; what could not be kept follows as a note. */
export const textText: View<TextResult> = ({ text, lost }, { paint }) => {
  const body = typeof text === 'string' ? text : writeYaml(text);
  const notes = lost.map(({ what: loss, times }) => `  ${loss}${times > 1 ? paint.soft(` ${times} times`) : ''}\n`);
  const note = `${paint.warn(glyphs.warn)} ${count(lost.length, 'thing')} could not be kept\n${notes.join('')}`;
  return { text: body.endsWith('\n') ? body : `${body}\n`, note: lost.length > 0 ? note : '' };
};
