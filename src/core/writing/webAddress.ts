import type { WritingStyle } from './style.ts';

/** A host with a dot, and what may stand behind it; no scheme, no `@`. */
const shape = /^(?:[\p{L}\d](?:[\p{L}\d-]*[\p{L}\d])?\.)+\p{L}{2,}(?::\d{1,5})?(?:[/?#]\S*)?$/u;

/** Web addresses without their scheme: `www.gannet-sound.example/lights`. */
export const withoutScheme: WritingStyle = {
  name: 'without-scheme',
  about: 'web addresses without https:// (www.gannet-sound.example)',
  says: 'without https://',
  asks: () => 'Does https:// belong in front of addresses without a scheme?',
  kinds: ['webAddress'],
  reader: ({ options: { schemes } }) => {
    const [scheme] = Array.isArray(schemes) && !schemes.includes('https') ? schemes : ['https'];
    return (text) => {
      const address = text.replace(/^\/\//u, '');
      if (!shape.test(address)) return undefined;

      return `${String(scheme)}://${address}`;
    };
  },
};
