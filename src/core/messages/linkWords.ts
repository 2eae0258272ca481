import { sayBytes } from '../plain/bytes.ts';
import { shellWord } from '../plain/shellWord.ts';
import { list, sentences } from '../plain/words.ts';
import { aTarget, type CountData, didYou, pointingToo, type Target } from './wordParts.ts';

/** The words of findings about files, terms and references. */
export const linkWords = {
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
    mend: 'Describe the picture in a sentence: { file: …, alt: … }.',
  }),
  'alt-missing:in-text': ({ picture }: { picture: string }) => ({
    says: `shows ${picture} without words for people who cannot see it`,
    mend: 'Describe the picture in a sentence.',
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
};
