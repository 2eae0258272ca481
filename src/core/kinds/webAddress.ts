import { z } from 'zod';
import type { Json } from '../plain/json.ts';
import { nearest } from '../plain/nearest.ts';
import { allowed } from './compatibility.ts';
import { defineKind } from './define.ts';

/** The parts of an absolute address with a host: RFC 3986, appendix B, and no spaces or controls anywhere. */
const shape =
  /^([a-z][a-z0-9+.-]*):\/\/(?:[^/?#@\s]*@)?(\[[0-9a-f:.]+\]|[^/?#:@\s]+)(?::\d{1,5})?(?:[/?#][^\s<>"\\^`{|}]*)?$/iu;

function parse(text: string): { readonly scheme: string; readonly host: string } | undefined {
  const [, scheme, host] = shape.exec(text) ?? [];
  if (scheme === undefined || host === undefined) return undefined;
  return { scheme: scheme.toLowerCase(), host: host.toLowerCase() };
}

const usual: readonly string[] = ['https', 'http'];

/** An address on the web with its scheme and host. */
export const webAddress = defineKind({
  name: 'webAddress',
  about: 'An address on the web, as https://gannet-sound.example/lights.',
  guide: {
    en: 'A web address',
    de: 'Eine Webadresse',
    fr: 'Une adresse web',
    es: 'Una dirección web',
    it: 'Un indirizzo web',
    nl: 'Een webadres',
  },
  options: {
    schemes: z
      .array(z.string().regex(/^[a-z][a-z0-9+.-]*$/u, 'a scheme such as https'))
      .min(1)
      .optional()
      .describe('The allowed schemes (default https and http).'),
    hosts: z
      .array(z.string().min(1))
      .min(1)
      .optional()
      .describe('The hosts it may lead to; those below one count as it.'),
  },
  example: {
    options: { schemes: ['https'], hosts: ['gannet-sound.example'] },
    value: 'https://www.gannet-sound.example/lights',
  },
  check:
    ({ schemes = usual, hosts }) =>
    (value, report) => {
      const parts = typeof value === 'string' ? parse(value) : undefined;
      if (!parts) {
        const suggestion =
          typeof value === 'string' && parse(`https://${value}`) ? ` Did you mean https://${value}?` : '';
        return report('not-a-web-address', { whole: suggestion });
      }

      if (!schemes.includes(parts.scheme))
        report(
          'not-a-web-address:scheme',
          { scheme: parts.scheme, schemes, near: nearest(parts.scheme, schemes) },
          { limit: [...schemes] },
        );

      if (hosts && !hosts.some((host) => parts.host === host || parts.host.endsWith(`.${host}`)))
        report('host-not-allowed', { host: parts.host, hosts }, { limit: [...hosts] });
    },
  changed: { schemes: orEverything(usual), hosts: orEverything(undefined) },
  from: {
    text: (value) =>
      parse(String(value).trim()) ? { value: String(value).trim() } : { problem: 'it is no address on the web' },
  },
  stores: () => ({
    is: 'text',
    patterns: [shape.source.replaceAll('a-z', 'A-Za-z').replaceAll('a-f', 'A-Fa-f')],
  }),
  cel: 'string',
  gist: ({ schemes, hosts }) => [schemes?.join(', '), hosts?.join(', ')].filter(Boolean).join('; '),
});

/** A list of allowed values, where no list means some usual ones, or everything. */
function orEverything(otherwise: readonly string[] | undefined) {
  const inner = allowed(String);
  return {
    direction: (before: Json | undefined, after: Json | undefined) => {
      if (!otherwise && before === undefined) return 'narrower' as const;
      if (!otherwise && after === undefined) return 'wider' as const;
      return inner.direction(before ?? otherwise, after ?? otherwise);
    },
  };
}
