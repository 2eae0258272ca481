import { idRule } from '../definition/address.ts';
import { statuses } from '../definition/builtIn.ts';
import type { Json } from '../plain/json.ts';
import { count, groupThousands, list, quote, sentences } from '../plain/words.ts';
import { type CountData, didYou, shapes, types } from './wordParts.ts';

/** The words of findings about an entry and a value as a whole, and several values together. */
export const entryWords = {
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
    says: `is ${quote(value)}, and ${first} has the same`,
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
    says: `is ${quote(stored)}, and the computed value is ${quote(computed)}`,
    mend: `Write ${quote(computed)}, or leave it out.`,
  }),
  'not-computed:count': ({ stored, computed, by }: { stored: Json; computed: number; by: string }) => ({
    says: `is ${quote(stored)}, and the computed value is ${quote(computed)}`,
    mend: `Write ${computed}, or leave it out: it is counted by ${by}.`,
  }),
};
