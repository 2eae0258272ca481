import { idRule } from '../definition/address.ts';
import { statuses } from '../definition/builtIn.ts';
import { sayBytes } from '../plain/bytes.ts';
import { sayDuration } from '../plain/duration.ts';
import type { Json } from '../plain/json.ts';
import { shellWord } from '../plain/shellWord.ts';
import { count, groupThousands, list, listSome, quote, sentences } from '../plain/words.ts';

/** The problem, as the end of a sentence that starts with its subject, and what to do about it. */
export interface Words {
  readonly says: string;
  readonly mend: string;
}

const didYou = (near: string | undefined): string | undefined => {
  if (near === undefined) return undefined;
  return `Did you mean \`${near}\`?`;
};
const inAll = 'Write it in the units of the limit.';

/** The shapes that values are stored in, and how to write one. */
const shapes = {
  text: ['a text', 'Put the value in quotes if it is meant as text.'],
  markdown: ['Markdown text', 'Write it as text.'],
  keys: ['a group of keys', 'Write its fields by name, for example { opens: 10:00 }.'],
  number: ['a number', 'Write a number, without unit or quotes.'],
  integer: ['a whole number', 'Write a whole number, without unit or quotes.'],
} as const;

const types = { null: 'empty', list: 'a list', keys: 'a group of keys', string: 'a text', number: 'a number' } as const;

interface Bound {
  readonly value: Json;
  readonly bound: Json;
}
interface CountData {
  readonly size: number;
  readonly bound: number;
}
interface Target {
  readonly to: string;
}

/**
 * The words of every finding in English, made from its data alone. One that is reported in several ways has its name, a
 * colon and which way that is.
 */
export const english = {
  /* ── an entry as a whole ── */
  'unread-file': () => ({
    says: 'is read as no entry',
    mend: 'Say in lumbrik.yaml how entries are kept in it (`content: [{ lines: … }]`), or move it out of the content folder.',
  }),
  'unreadable-file': ({ problem, remedy }: { problem: string; remedy: string }) => ({ says: problem, mend: remedy }),
  'symbolic-link': ({ problem, remedy }: { problem: string; remedy: string }) => ({ says: problem, mend: remedy }),
  'unknown-type': ({ type, near }: { type: string; near?: string | undefined }) => ({
    says: `is of the type \`${type}\`, and the model has no such type`,
    mend: didYou(near) ?? `Define it in model/types/${type}.yaml, or move the entry to the folder of its type.`,
  }),
  'unknown-type:value': ({ value, key }: { value: Json; key: string }) => ({
    says: `holds ${quote(value, 40)}, which names no type`,
    mend: `Write the name of a type, or remove it. Where \`${key}\` is a field, say so in lumbrik.yaml: \`builtIn: { type: false }\`.`,
  }),
  'malformed-identifier:value': ({ value }: { value: Json }) => ({
    says: `holds ${quote(value, 40)}, which names no entry`,
    mend: 'Write a text or a number, or remove it: then the entry is called as its file is.',
  }),
  'malformed-identifier': ({ id }: { id: string }) => ({
    says: `has the identifier ${quote(id)}`,
    mend: `Rename it: ${idRule}.`,
  }),
  'duplicate-entry': ({ place }: { place: string }) => ({
    says: `has the same type and identifier as ${place}`,
    mend: 'Rename one of the two, or remove it.',
  }),
  'duplicate-entry:alike': ({ other }: { other: string }) => ({
    says: `and ${other} are one file on systems that do not tell capitals or accents apart`,
    mend: 'Let the two differ in more than that.',
  }),
  'more-than-one': ({ type }: { type: string }) => ({
    says: `is not the only ${type}, and exactly one belongs here`,
    mend: 'Keep one of them.',
  }),
  'missing-entry': ({ type }: { type: string }) => ({
    says: `has no entry yet, and exactly one ${type} belongs here`,
    mend: 'Write it.',
  }),
  'unknown-field': ({
    type,
    near,
    fields,
  }: {
    type: string;
    near?: string | undefined;
    fields: readonly string[];
  }) => ({
    says: `is no field of ${type}`,
    mend: didYou(near) ?? `Remove it, or add it to model/types/${type}.yaml. The fields are ${list(fields)}.`,
  }),
  'unknown-field:odd': ({ type, key, field }: { type: string; key: string; field: string }) => ({
    says: `is no field of ${type}, and none can be called so`,
    mend: `Remove it, or say in lumbrik.yaml which field it is, where its entries are kept: \`fields: { ${field}: ${JSON.stringify(key)} }\``,
  }),
  'unknown-field:inside': ({
    address,
    near,
    fields,
  }: {
    address: string;
    near?: string | undefined;
    fields: readonly string[];
  }) => ({
    says: `is no field of ${address}`,
    mend: didYou(near) ?? `Remove it. The fields are ${list(fields)}.`,
  }),
  'unknown-field:twice': () => ({
    says: 'is the text below the front matter, and stands here as well',
    mend: 'Keep one of the two.',
  }),
  'body-not-expected': ({ type }: { type: string }) => ({
    says: `has text below the front matter, and no field of ${type} takes it`,
    mend: 'Move the text to a field, or mark a Markdown field of the type with `body: true`.',
  }),
  'unknown-status': ({ status, near }: { status: Json; near?: string | undefined }) => ({
    says: `is ${quote(status)}, none of ${list(statuses, 'or')}`,
    mend: sentences(`Write ${list(statuses, 'or')}.`, didYou(near)),
  }),
  'malformed-time': ({ time }: { time: Json }) => ({
    says: `is ${quote(time)}, no time`,
    mend: 'Write it as RFC 3339 says: 2026-03-01T09:30:00Z, or a day alone: 2026-03-01.',
  }),
  'window-reversed': ({ from, until }: { from: string; until: string }) => ({
    says: `is ${quote(until)}, and the entry is public only from ${from}`,
    mend: 'Swap the two, or correct one.',
  }),

  /* ── a value as a whole ── */
  'required-missing': ({ help }: { help?: string | undefined }) => ({
    says: 'is required and has no value',
    mend: sentences('Give it a value.', help),
  }),
  'required-missing:later': ({ help }: { help?: string | undefined }) => ({
    says: 'has no value and is required once published',
    mend: sentences('Give it a value before publishing.', help),
  }),
  placeholder: () => ({ says: 'waits to be filled in', mend: 'Write the value.' }),
  'language-expected': ({ main }: { main: string }) => ({
    says: 'is one value, and one in each language belongs here',
    mend: `Write { ${main}: … }.`,
  }),
  'unknown-language': ({ language, languages }: { language: string; languages: readonly string[] }) => ({
    says: `is in a language (${language}) that the workspace does not have`,
    mend: `Its languages are ${list(languages)} (lumbrik.yaml).`,
  }),
  'single-value-expected': ({ size, only }: { size: number; only?: Json | undefined }) => ({
    says: `is a list of ${count(size, 'item')}, and one value belongs here`,
    mend:
      size === 1 ? `Take it out of the list: ${JSON.stringify(only)}` : 'Keep one of them, or let the field take many.',
  }),
  'list-expected': () => ({ says: 'is one value, and a list belongs here', mend: 'Put it in brackets: [ … ]' }),
  'too-many-items': ({ size, bound }: CountData) => ({
    says: `has ${count(size, 'item')}, at most ${bound} are allowed`,
    mend: `Remove ${size - bound}.`,
  }),
  'too-few-items': ({ size, bound }: CountData) => ({
    says: `has ${count(size, 'item')}, at least ${bound} are needed`,
    mend: `Add ${bound - size} more.`,
  }),
  'too-many-items:keys': ({ size, bound }: CountData) => ({
    says: `has ${count(size, 'key')}, at most ${bound} are allowed`,
    mend: `Remove ${size - bound}.`,
  }),
  'repeated-item': ({ first }: { first: number }) => ({
    says: `is what item ${first + 1} is already, and no two may be the same`,
    mend: 'Take one of the two out.',
  }),
  'too-few-items:keys': ({ size, bound }: CountData) => ({
    says: `has ${count(size, 'key')}, at least ${bound} are needed`,
    mend: `Add ${bound - size} more.`,
  }),
  'not-unique': ({ value, first }: { value: Json; first: string }) => ({
    says: `is ${quote(value)}, and so is that of ${first}`,
    mend: 'Give one of the two another value.',
  }),
  'wrong-shape': ({
    is: newName,
    wanted: expected,
  }: {
    is: keyof typeof types | 'boolean';
    wanted: keyof typeof shapes;
  }) => {
    const [shape, mend] = shapes[expected];
    return { says: `is ${newName === 'boolean' ? 'true or false' : types[newName]}, not ${shape}`, mend };
  },

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

  /* ── numbers and truth values ── */
  'wrong-shape:boolean': () => ({
    says: 'is neither true nor false',
    mend: 'Write `true` or `false`, without quotes.',
  }),
  'wrong-shape:number': ({ wanted: expected }: { wanted: 'number' | 'integer' }) => ({
    says: `is not ${shapes[expected][0]}`,
    mend: shapes[expected][1],
  }),
  'number-in-quotes': ({ value }: { value: string }) => ({
    says: `is the text “${value}”, not a number`,
    mend: `Remove the quotes: ${Number(value)}`,
  }),
  'not-whole': ({ value }: { value: number }) => ({
    says: `is ${value}, not a whole number`,
    mend: 'Round it, or give the field the kind `decimal`.',
  }),
  'too-many-places': ({ value, places, bound }: { value: number; places: number; bound: number }) => ({
    says: `is ${value}, with ${places} decimal places, at most ${bound} are allowed`,
    mend: 'Round it.',
  }),
  'too-small': ({ value, bound }: Bound) => ({
    says: `is ${value}, at least ${bound} is needed`,
    mend: `Give ${bound} or more.`,
  }),
  'too-large': ({ value, bound }: Bound) => ({
    says: `is ${value}, at most ${bound} is allowed`,
    mend: `Give ${bound} or less.`,
  }),

  /* ── days, times, lengths of time ── */
  'not-a-date': () => ({ says: 'is no day of the calendar', mend: 'Write it as year, month and day: 2026-03-01.' }),
  'too-early': ({ value, bound }: Bound) => ({
    says: `is ${value}, the earliest is ${bound}`,
    mend: `Give ${bound} or later.`,
  }),
  'too-late': ({ value, bound }: Bound) => ({
    says: `is ${value}, the latest is ${bound}`,
    mend: `Give ${bound} or earlier.`,
  }),
  'too-early:day': ({ value, bound }: Bound) => ({
    says: `is ${value}, the earliest day is ${bound}`,
    mend: `Give ${bound} or a later day.`,
  }),
  'too-late:day': ({ value, bound }: Bound) => ({
    says: `is ${value}, the latest day is ${bound}`,
    mend: `Give ${bound} or an earlier day.`,
  }),
  'too-early:time': ({ value, bound }: Bound) => ({
    says: `is ${value}, the earliest time is ${bound}`,
    mend: `Give ${bound} or a later time.`,
  }),
  'too-late:time': ({ value, bound }: Bound) => ({
    says: `is ${value}, the latest time is ${bound}`,
    mend: `Give ${bound} or an earlier time.`,
  }),
  'not-a-time': () => ({ says: 'is no time of day', mend: 'Write it with two digits each: 09:30.' }),
  'not-a-time:length': () => ({
    says: 'is a length of time, and a time of day belongs here',
    mend: 'Write the time as 09:30, or give the field the kind `duration`.',
  }),
  'not-a-date-time': ({ isLocal }: { isLocal: boolean }) => ({
    says: 'is no day with a time',
    mend: `Write it as 2026-03-01T09:30:00${isLocal ? '' : 'Z'}.`,
  }),
  offset: ({ value }: { value: string }) => ({
    says: 'does not say how far from UTC it is',
    mend: `Add Z for UTC, or an offset: ${value}+01:00`,
  }),
  'offset:unwanted': ({ offset, local }: { offset: string; local: string }) => ({
    says: `says an offset (${offset}), and a local time belongs here`,
    mend: `Write ${local}`,
  }),
  'not-a-duration': ({ value, meant: typed }: { value: Json; meant: readonly string[] }) => ({
    says: `is ${quote(value)}, no length of time`,
    mend:
      typed.length > 0
        ? `Probably ${list(
            typed.map((text) => `${text} (${sayDuration(text)})`),
            'or',
          )} is meant.`
        : 'Write it as ISO 8601 says: PT1H30M for an hour and a half, P4D for four days.',
  }),
  'unit-not-allowed': ({ units, allowed }: { units: readonly string[]; allowed: readonly string[] }) => ({
    says: `counts ${list(units)}, and only ${list(allowed, 'and')} may be used`,
    mend: `Write it in ${list(allowed, 'or')}.`,
  }),
  'not-comparable:least': ({ value, bound }: { value: string; bound: string }) => ({
    says: `is ${sayDuration(value)}, and whether that is less than ${sayDuration(bound)} depends on the calendar`,
    mend: inAll,
  }),
  'not-comparable:most': ({ value, bound }: { value: string; bound: string }) => ({
    says: `is ${sayDuration(value)}, and whether that is more than ${sayDuration(bound)} depends on the calendar`,
    mend: inAll,
  }),
  'too-small:duration': ({ value, bound }: { value: string; bound: string }) => ({
    says: `is ${sayDuration(value)}, at least ${sayDuration(bound)} are needed`,
    mend: `Give ${bound} or more.`,
  }),
  'too-large:duration': ({ value, bound }: { value: string; bound: string }) => ({
    says: `is ${sayDuration(value)}, at most ${sayDuration(bound)} are allowed`,
    mend: `Give ${bound} or less.`,
  }),

  /* ── places ── */
  'not-a-point': () => ({ says: 'is no place', mend: 'Write both by name: { lat: 57.1, lon: -6.3 }' }),
  'not-a-point:pair': () => ({
    says: 'is two numbers, and nobody can tell which is which',
    mend: 'Write both by name: { lat: 57.1, lon: -6.3 }',
  }),
  'not-a-point:missing': ({ name }: { name: string }) => ({
    says: `has no number \`${name}\``,
    mend: 'Write both by name: { lat: 57.1, lon: -6.3 }',
  }),
  'not-a-point:outside': ({ name, degrees, most }: { name: string; degrees: number; most: number }) => ({
    says: `has \`${name}\` ${degrees}, and the earth ends at ${most}`,
    mend: 'Are the two the wrong way round?',
  }),
  'not-a-point:key': ({ key }: { key: string }) => ({
    says: `has a key \`${key}\``,
    mend: 'Keep `lat` and `lon` alone.',
  }),

  /* ── files ── */
  'wrong-shape:asset': ({ extra }: { extra?: string | undefined }) => ({
    says: extra === undefined ? 'names no file' : `has a key \`${extra}\``,
    mend: 'Write the file below assets/: { file: photos/skerry-point.png, alt: … }.',
  }),
  'wrong-shape:alt': ({ languages }: { languages: readonly string[] }) => ({
    says: `has an alternative text that is neither a text nor one in each language (${list(languages)})`,
    mend: 'Write what the picture shows.',
  }),
  'wrong-shape:alt-unwanted': () => ({
    says: 'has an alternative text, and none belongs here',
    mend: 'Remove `alt`.',
  }),
  'alt-missing': () => ({
    says: 'has no alternative text',
    mend: 'Say in a sentence what it shows: { file: …, alt: … }.',
  }),
  'alt-missing:in-text': ({ picture }: { picture: string }) => ({
    says: `shows ${picture} without words for whoever cannot see it`,
    mend: 'Say in a sentence what it shows.',
  }),
  'missing-asset': ({ file, near }: { file: string; near?: string | undefined }) => ({
    says: `names the file ${file}, and there is none in assets/`,
    mend: near === undefined ? 'Put it there, or name another.' : `Did you mean ${near}?`,
  }),
  'missing-asset:link': ({ file }: { file: string }) => ({
    says: `names the file ${file}, which is a symbolic link, and links are never followed`,
    mend: 'Put the file itself there.',
  }),
  'media-not-allowed': ({ media, allowed }: { media?: string | undefined; allowed: readonly string[] }) => ({
    says: `is ${media ?? 'of no known media type'}, only ${list(allowed, 'or')} may stand here`,
    mend: 'Use another file, or convert it.',
  }),
  'asset-too-large': ({ size, bound }: CountData) => ({
    says: `has ${sayBytes(size)}, at most ${sayBytes(bound)} are allowed`,
    mend: 'Make the file smaller.',
  }),
  'wrong-dimensions': () => ({ says: 'has no pixels to be counted', mend: 'Use a picture of another size.' }),
  'wrong-dimensions:small': ({ size, bound, direction }: CountData & { direction: string }) => ({
    says: `has ${size} pixels ${direction}, at least ${bound} are needed`,
    mend: 'Use a picture of another size.',
  }),
  'wrong-dimensions:large': ({ size, bound, direction }: CountData & { direction: string }) => ({
    says: `has ${size} pixels ${direction}, at most ${bound} are allowed`,
    mend: 'Use a picture of another size.',
  }),
  'symbolic-link:asset': () => ({
    says: 'is a symbolic link, and links are never followed',
    mend: 'Put the file itself there.',
  }),
  'mislabelled-asset': ({ media, named }: { media?: string | undefined; named: string }) => ({
    says: `is ${media ?? 'of no known media type'}, and its name says ${named}`,
    mend: 'Give it a name that ends as its content says.',
  }),
  'unused-asset': () => ({ says: 'is used by no entry', mend: 'Use it, or move it out of the workspace.' }),

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

  /* ── terms ── */
  'unknown-term': ({
    taxonomy,
    meant: typed,
    near,
  }: {
    taxonomy: string;
    meant?: string | undefined;
    near?: string | undefined;
  }) => ({
    says: `is no term of the taxonomy ${taxonomy}`,
    mend:
      typed === undefined
        ? sentences(`Choose one of its terms (lumbrik show ${taxonomy}:).`, didYou(near))
        : `Write ${typed}: that is how the term is called.`,
  }),
  'unknown-term:word': ({ meant: typed }: { meant: string }) => ({
    says: `is another word for the term ${typed}`,
    mend: `Write ${typed}.`,
  }),
  'unknown-term:form': ({ better }: { better: string }) => ({
    says: 'is not written as terms are',
    mend: better === '' ? 'Write small letters and digits.' : `Write ${better}.`,
  }),
  'term-not-allowed:under': ({ taxonomy, under }: { taxonomy: string; under: readonly string[] }) => ({
    says: `is not under ${list(under, 'or')}`,
    mend: `Choose a term that is (lumbrik terms ${shellWord(`${taxonomy}:${under[0]}`)}).`,
  }),
  'term-not-allowed:leaves': ({ below }: { below: readonly string[] }) => ({
    says: 'has terms below it, and only the most exact ones may be used',
    mend: `Choose one of ${list(below, 'or')}.`,
  }),
  'retired-term': ({ taxonomy, use }: { taxonomy: string; use?: string | undefined }) => ({
    says: `is retired in ${taxonomy}`,
    mend: use === undefined ? 'Choose another term.' : `Use ${use} instead.`,
  }),

  /* ── references ── */
  'malformed-reference': ({
    types: to,
    meant: typed,
  }: {
    types: readonly string[];
    meant?: readonly string[] | undefined;
  }) => ({
    says: 'names no entry',
    mend:
      typed !== undefined && typed.length > 0
        ? `Write ${list(typed, 'or')}: with several types, a value says which it is.`
        : `Write the identifier of ${aTarget(to)}, for example ${to.length === 1 ? 'skerry-point' : `${to[0]}/skerry-point`}.`,
  }),
  'wrong-target': ({ type, types: to }: { type: string; types: readonly string[] }) => ({
    says: `points at ${/^[aeiou]/u.test(type) ? 'an' : 'a'} ${type}, only ${list(to, 'or')} may stand here`,
    mend: `Point at ${aTarget(to)}.`,
  }),
  'dangling-reference': ({ to, near }: Target & { near?: string | undefined }) => ({
    says: `points at ${to}, and there is no such entry`,
    mend: near === undefined ? `Write the entry ${to}, or point at another.` : `Did you mean ${near}?`,
  }),
  'target-not-published': ({ to, status }: Target & { status: 'draft' | 'archived' }) => ({
    says: `points at ${to}, which is ${status === 'draft' ? 'a draft' : 'archived'}`,
    mend: `Publish ${to} first, or take the reference out.`,
  }),
  'target-not-published:not-yet': ({ to, date }: Target & { date: string }) => ({
    says: `points at ${to}, which readers do not see before ${date}`,
    mend: `Let ${to} be public earlier, or this entry later (\`publicFrom\`).`,
  }),
  'target-not-published:no-longer': ({ to, date }: Target & { date: string }) => ({
    says: `points at ${to}, which readers see no longer since ${date}`,
    mend: `Take the reference out, or let ${to} be public for longer (\`publicUntil\`).`,
  }),
  'not-eligible': ({ to, condition, part }: Target & { condition: string; part?: string | undefined }) => ({
    says: `points at ${to}, which does not meet the condition ${part ?? condition}`,
    mend: 'Point at an entry that does, or change that one.',
  }),
  'too-many-pointing': ({
    to,
    others: rest,
    bound,
    by,
  }: Target & { others: readonly string[]; bound: number; by: string }) => ({
    says: `points at ${to}, as ${pointingToo(rest)}; at most ${bound} may by ${by}`,
    mend: 'Take the reference out, or let another go.',
  }),
  'too-few-pointing': ({ size, bound, inverse, by }: CountData & { inverse?: string | undefined; by: string }) => ({
    says: `has ${size} ${inverse} (${by}), at least ${bound} ${bound === 1 ? 'is' : 'are'} needed`,
    mend: `Let an entry point at it by ${by}.`,
  }),

  /* ── what several values say together ── */
  'rule-broken': ({ say: wording, expect }: { say: string; expect: string }) => ({
    says: `breaks a rule: ${wording}`,
    mend: `Change the entry so that ${expect}`,
  }),
  'too-costly': ({ steps, source }: { steps: number; source: string }) => ({
    says: `takes more than ${groupThousands(steps)} steps to judge: ${quote(source, 80)} was given up`,
    mend: 'Let the expression compare fewer items with each other, or raise `limits: { expressionSteps: … }` in lumbrik.yaml.',
  }),
  'expression-failed': ({ why: reason, source }: { why: string; source: string }) => ({
    says: `cannot be judged by ${quote(source, 80)}: ${reason}`,
    mend: 'Correct the value, or let the expression ask first whether it can be computed.',
  }),
  'not-applicable': ({ when }: { when: string }) => ({
    says: `does not apply here, only where ${when}`,
    mend: 'Take it out, or change what the condition asks for.',
  }),
  'not-computed': ({ stored, computed }: { stored: Json; computed: Json }) => ({
    says: `is ${quote(stored)}, and ${quote(computed)} is what it comes to`,
    mend: `Write ${quote(computed)}, or leave it out.`,
  }),
  'not-computed:count': ({ stored, computed, by }: { stored: Json; computed: number; by: string }) => ({
    says: `is ${quote(stored)}, and ${quote(computed)} is what it comes to`,
    mend: `Write ${computed}, or leave it out: it is counted by ${by}.`,
  }),
} as const;

const entriesOf = (to: readonly string[]): string => {
  if (to.length > 0) return `entries of ${list(to, 'or')} alone`;
  return 'no entries';
};

/** `an entry of keeper or light` */
const aTarget = (to: readonly string[]): string => `an entry of ${list(to, 'or')}`;

function pointingToo(otherEntries: readonly string[]): string {
  if (otherEntries.length === 0) return 'it does already';
  return `${listSome(otherEntries)} ${otherEntries.length === 1 ? 'does' : 'do'}`;
}
