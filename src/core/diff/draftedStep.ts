import { celName, keyOfField } from '../definition/fieldName.ts';
import type { Json, JsonObject } from '../plain/json.ts';
import { shellWord } from '../plain/shellWord.ts';
import { quote } from '../plain/words.ts';
import type { Impact } from './counter.ts';

/** A step as it is drafted: its content, why it is there, and its open questions. */
export interface DraftedStep {
  readonly data: JsonObject;
  readonly why: string;
  /** A question that only a person can answer, and how to answer it. */
  readonly open?: OpenStep;
}

interface OpenStep {
  readonly question: string;
  readonly how: string;
  /** What entries get if the answer is yes. */
  readonly suggest?: JsonObject;
}

/** A step whose question may be answered with yes: entries get the suggestion then. */
export function withSuggestion(step: DraftedStep, suggest: JsonObject): DraftedStep {
  if (!step.open) return step;
  const question = `${step.open.question.replace(/ Yes leaves them to their authors\.$/u, '')} Yes gives them ${saySuggestion(suggest)}.`;
  const hint = `Yes: add \`answer: yes\`. No: \`answer: no\`, which leaves them to their authors. ${step.open.how.replace(/,? or `answer: yes`.*$/u, '.')}`;
  return { ...step, open: { question, how: hint, suggest } };
}

/** The suggestion, in words: the value itself, or what computes it. */
const saySuggestion = ({ value, cel }: JsonObject): string => {
  if (typeof cel === 'string') return `what \`${cel}\` gives`;
  return quote(value);
};

/** A step that takes something out of the model; its losses are a question. */
export function removeStep(
  address: string,
  impact: Impact | undefined,
  open: NonNullable<DraftedStep['open']>,
): DraftedStep {
  const data = { drop: address };
  if (!impact || impact.hits === 0) return { data, why: 'It is gone from the model, and no entry has it.' };
  return { data, why: `It is gone from the model; ${impact.says}.`, open };
}

/** How a guess is taken or refused. @param address what the guess is about, as `--not-renamed` takes it. */
export const howToRefuse = (address: string): string =>
  `Yes: add \`answer: yes\`. No: lumbrik migration answer, or draft again with --not-renamed ${shellWord(address)}; the rest of the file stays.`;

/** A sentence on a field that has to have a value where none may come; nothing where it need not. */
export const askedOf = (address: string, { required }: Readonly<Record<string, Json>>): string => {
  if (required === undefined) return '';
  return ` \`${address}\` is required${required === 'published' ? ' once published' : ''}: give entries to which none comes one in a \`set\` step after this one.`;
};

/** The question where a part with values is removed: it may be an unrecognised rename. */
export const askWhetherLost = (address: string): NonNullable<DraftedStep['open']> => ({
  question: 'Are these to be lost?',
  how: `Yes: add \`answer: yes\`. No, it has another name: draft again with --renamed ${address}=newName; the rest of the file stays.`,
});

/**
 * A step that changes options of something.
 * @param says what each change says, and what the step does to entries by itself.
 * @param hurt what the changes do that hit entries.
 */
export function changeStep(
  address: string,
  to: JsonObject,
  { changes, settled }: { readonly changes: readonly string[]; readonly settled: readonly string[] },
  hurt: readonly Impact[],
): DraftedStep {
  const data = { change: address, to };
  const reason = [`Changed: ${changes.join('; ')}.`, ...settled.map(sentence)].join(' ');
  if (hurt.length === 0) return { data, why: settled.length > 0 ? reason : `${reason} No entry has to change.` };
  return {
    data,
    why: `${reason} ${hurt.map(({ says: message }) => sentence(message)).join(' ')}`,
    open: address.includes('.') ? askForValues(address) : askForSteps,
  };
}

/** Whether an address is the one of a field inside an object: `settings.hours.opens`. */
const isInside = (address: string): boolean => address.split('.').length > 2;

/** What the values of a field are computed from: the entry, or the object that they are in. */
export const celVariable = (address: string): string => {
  if (isInside(address)) return 'item';
  return 'entry';
};

/** How an expression names the value of a field: `entry.height`, or `item.opens` inside an object. */
export const celStart = (address: string): string => `${celVariable(address)}.${celName(keyOfField(address))}`;

const askForValues = (address: string): NonNullable<DraftedStep['open']> => ({
  question: 'How are the values mended that no longer fit? Yes leaves them to their authors.',
  how: `Add \`value: …\` or \`cel: ${celStart(address)}…\` for what they get, or \`answer: yes\` to leave them to their authors (the check will list them).`,
});

/** The question about values that no longer fit. */
export const askForSteps: NonNullable<DraftedStep['open']> = {
  question: 'How are the entries mended that no longer fit? Yes leaves them to their authors.',
  how: 'Add `answer: yes`, and steps `set` below for what can be computed; the rest is left to its authors (the check will list it).',
};

/** A text as a sentence: a capital at its start, a full stop at its end. */
export const sentence = (text: string): string =>
  `${text.charAt(0).toUpperCase()}${text.slice(1)}${/[.!?]$/u.test(text) ? '' : '.'}`;
