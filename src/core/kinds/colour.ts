import { flag } from '../definition/flag.ts';
import { byValue } from './compatibility.ts';
import { defineKind } from './define.ts';

const shape = /^#(?:[0-9a-f]{3}|[0-9a-f]{6})$/iu;
const shapeWithAlpha = /^#(?:[0-9a-f]{3,4}|[0-9a-f]{6}|[0-9a-f]{8})$/iu;

/** A colour in hexadecimal: CSS Color Module Level 4, section 5.2. */
export const colour = defineKind({
  name: 'colour',
  about: 'A colour in hexadecimal, as #c33 or #cc3333.',
  guide: {
    en: 'A colour, such as #1f6feb',
    de: 'Eine Farbe, etwa #1f6feb',
    fr: 'Une couleur, comme #1f6feb',
    es: 'Un color, como #1f6feb',
    it: 'Un colore, come #1f6feb',
    nl: 'Een kleur, zoals #1f6feb',
  },
  options: { alpha: flag.describe('Whether it may be transparent: #cc333380.') },
  example: { options: { alpha: true }, value: '#cc333380' },
  check:
    ({ alpha }) =>
    (value, report) => {
      if (typeof value === 'string' && (alpha ? shapeWithAlpha : shape).test(value)) return;
      const isTransparent = typeof value === 'string' && shapeWithAlpha.test(value);
      report(isTransparent ? 'not-a-colour:transparent' : 'not-a-colour', {});
    },
  changed: { alpha: byValue((on) => (on ? 'wider' : 'narrower')) },
  from: {
    text: (value) =>
      shape.test(String(value).trim())
        ? { value: String(value).trim() }
        : { problem: 'it is no colour in hexadecimal' },
  },
  stores: ({ alpha }) => ({
    is: 'text',
    patterns: [(alpha ? shapeWithAlpha : shape).source.replaceAll('a-f', 'A-Fa-f')],
  }),
  cel: 'string',
});
