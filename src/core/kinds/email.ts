import { defineKind } from './define.ts';

/** What browsers accept as an e-mail address: the HTML standard, section "Email state". */
const shape =
  /^[a-zA-Z0-9.!#$%&'*+/=?^_`{|}~-]+@[a-zA-Z0-9](?:[a-zA-Z0-9-]{0,61}[a-zA-Z0-9])?(?:\.[a-zA-Z0-9](?:[a-zA-Z0-9-]{0,61}[a-zA-Z0-9])?)+$/u;

/** The longest address that mail can be sent to: RFC 5321, section 4.5.3.1.3, less its brackets. */
const longest = 254;

const isAddress = (text: string): boolean => text.length <= longest && shape.test(text);

/** An e-mail address. */
export const email = defineKind({
  name: 'email',
  about: 'An e-mail address.',
  guide: {
    en: 'An e-mail address',
    de: 'Eine E-Mail-Adresse',
    fr: 'Une adresse électronique',
    es: 'Una dirección de correo electrónico',
    it: 'Un indirizzo e-mail',
    nl: 'Een e-mailadres',
  },
  options: {},
  example: { options: {}, value: 'visits@gannet-sound.example' },
  check: () => (value, report) => {
    if (typeof value === 'string' && isAddress(value)) return;
    report('not-an-email', {});
  },
  changed: {},
  from: {
    text: (value) =>
      isAddress(String(value).trim()) ? { value: String(value).trim() } : { problem: 'it is no e-mail address' },
  },
  stores: () => ({ is: 'text', max: longest, patterns: [shape.source] }),
  cel: 'string',
});
