import { count, groupThousands, list, sentences } from '../plain/words.ts';
import { type CountData, didYou, entriesOf } from './wordParts.ts';

/** The words of findings about texts, structured text and JSON. */
export const textWords = {
  /* ── texts ── */
  'line-break': () => ({
    says: 'has a line break',
    mend: 'Write it on one line, or give the field the kind `longText`.',
  }),
  'too-long': ({ size, bound }: CountData) => ({
    says: `has ${count(size, 'character')}, at most ${bound} are allowed`,
    mend: `Shorten it by ${size - bound}.`,
  }),
  'too-long:text': ({ size, bound }: CountData) => ({
    says: `has ${count(size, 'character')} of text, at most ${bound} are allowed`,
    mend: `Shorten it by ${size - bound}.`,
  }),
  'too-long:json': ({ size, bound }: CountData) => ({
    says: `has ${groupThousands(size)} characters of JSON, at most ${groupThousands(bound)} are allowed`,
    mend: 'Keep less of it, or keep it elsewhere and link to it.',
  }),
  'too-short': ({ size, bound }: CountData) => ({
    says: `has ${count(size, 'character')}, at least ${bound} are needed`,
    mend: `Add ${bound - size} more.`,
  }),
  pattern: ({ match, say: wording }: { match: string; say?: string | undefined }) => ({
    says: wording === undefined ? `does not match the pattern ${match}` : 'is not written as it should be',
    mend: wording ?? 'Write it so that the pattern matches.',
  }),
  'not-a-choice:number': ({ values }: { values: readonly number[] }) => ({
    says: 'is none of the numbers that may stand here',
    mend: `Give ${list(values.map(String), 'or')}.`,
  }),
  'not-a-choice': ({ choices, near }: { choices: readonly string[]; near?: string | undefined }) => ({
    says: `is none of the ${count(choices.length, 'choice')}`,
    mend: sentences(`Choose ${choices.slice(0, 8).join(', ')}${choices.length > 8 ? ' …' : ''}.`, didYou(near)),
  }),
  'malformed-slug': ({ better }: { better: string }) => ({
    says: 'is no slug',
    mend: `Use ${list(['small letters', 'digits', 'single hyphens'])}${better ? `, for example: ${better}` : ''}.`,
  }),
  'not-an-email': () => ({
    says: 'is no e-mail address',
    mend: 'Write it as name@place.example, with nothing around it.',
  }),
  'not-a-web-address': ({ whole: full }: { whole: string }) => ({
    says: 'is no address on the web',
    mend: `Write it with its beginning: https://…${full}`,
  }),
  'not-a-web-address:scheme': ({
    scheme,
    schemes,
    near,
  }: {
    scheme: string;
    schemes: readonly string[];
    near?: string | undefined;
  }) => ({
    says: `starts with ${scheme}:, and only ${list(schemes, 'and')} may be used`,
    mend: sentences(`Use ${list(schemes, 'or')}.`, didYou(near)),
  }),
  'host-not-allowed': ({ host, hosts }: { host: string; hosts: readonly string[] }) => ({
    says: `leads to ${host}, and only ${list(hosts, 'and')} may be used`,
    mend: `Link to ${list(hosts, 'or')}.`,
  }),
  'not-a-colour': () => ({ says: 'is no colour', mend: 'Write it in quotes with a hash: "#cc3333".' }),
  'not-a-colour:transparent': () => ({
    says: 'is a transparent colour, and only solid ones may stand here',
    mend: 'Leave the last digits out, or allow `alpha` in the model.',
  }),

  /* ── structured text and JSON ── */
  'not-rich-text': ({ problem, remedy }: { problem: string; remedy: string }) => ({ says: problem, mend: remedy }),
  'block-not-allowed': ({ name }: { name: string }) => ({
    says: `is a ${name}, which may not stand here`,
    mend: 'Say it in paragraphs.',
  }),
  'mark-not-allowed': ({ name }: { name: string }) => ({
    says: `is a ${name}, which may not stand here`,
    mend: 'Take the mark off and leave its text.',
  }),
  'heading-level': ({ level, min, max }: { level: number; min: number; max: number }) => ({
    says: `is a heading of level ${level}, and levels ${min} to ${max} are allowed`,
    mend: `Make it one of level ${level < min ? min : max}.`,
  }),
  'style-not-allowed': ({ style, near }: { style: string; near?: string | undefined }) => ({
    says: `has the style \`${style}\`, which the field does not have`,
    mend: didYou(near) ?? 'Remove `data`.',
  }),
  'link-target:scheme': ({ scheme, schemes }: { scheme: string; schemes: readonly string[] }) => ({
    says: `leads to an address that starts with ${scheme}:`,
    mend: `Lead to one that starts with ${list(schemes, 'or')}.`,
  }),
  'link-target': ({ entry, types: to }: { entry: string; types: readonly string[] }) => ({
    says: `leads to the entry ${entry}, and links to ${entriesOf(to)} are allowed`,
    mend: 'Lead to another entry, or take the link off.',
  }),
  'link-target:malformed': ({ entry }: { entry: string }) => ({
    says: `leads to entry:${entry}, which names no entry`,
    mend: 'Write it as type and identifier: entry:keeper/ada-rook.',
  }),
  'embed-not-allowed:which': ({ hasBoth }: { hasBoth: boolean }) => ({
    says: hasBoth ? 'names an entry and an asset' : 'names neither an entry nor an asset',
    mend: 'Name one of the two: { type: embed, entry: keeper/ada-rook }, within a line { type: embedInline, … }.',
  }),
  'embed-not-allowed': ({ entry, types: to }: { entry: string; types: readonly string[] }) => ({
    says: `embeds ${entry}, and ${entriesOf(to)} may stand here`,
    mend: 'Embed another entry, as type/identifier.',
  }),
  'embed-not-allowed:asset': () => ({ says: 'embeds an asset, and none may stand here', mend: 'Remove it.' }),
  'schema-broken': ({ problem }: { problem: string }) => ({
    says: `breaks the schema of the field: ${problem}`,
    mend: 'Change the value, or the schema in the model.',
  }),
};
