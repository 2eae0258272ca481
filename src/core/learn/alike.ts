import { areNumbered } from './readTexts.ts';
import type { LearntField, OpenQuestion } from './value.ts';

/** A question about a field, with those of the fields beside it that are so alike that one answer goes for all. */
export interface SharedQuestion {
  readonly address: string;
  /** The addresses of the fields that are alike. */
  readonly alike: readonly string[];
  readonly question: OpenQuestion;
}

/** So large a share of the fewer words has to be among the other ones. */
const shared = 0.5;

/** Every open question of some fields once, in their order. @param fields with their addresses. */
export function sharedQuestions(
  fields: readonly { readonly path: string; readonly field: LearntField }[],
): readonly SharedQuestion[] {
  const groups: { readonly address: string; readonly alike: string[]; readonly question: OpenQuestion }[] = [];
  for (const { path, field } of fields)
    for (const question of field.questions) {
      const leader = groups.find((group) => isBeside(group.address, path) && areAlike(group.question, question));
      if (leader) leader.alike.push(path);
      else groups.push({ address: path, alike: [], question });
    }

  return groups;
}

/** Whether two addresses are of fields in the same type, or in the same object. */
const isBeside = (a: string, b: string): boolean => a !== b && aboveOf(a) === aboveOf(b);

const aboveOf = (address: string): string => address.slice(0, address.lastIndexOf('.'));

/** Whether two questions have the same answers, about values that are alike. */
function areAlike(a: OpenQuestion, b: OpenQuestion): boolean {
  const answersOf = ({ about, answers }: OpenQuestion): string => [about, ...answers.map(({ as }) => as)].join(' ');
  return answersOf(a) === answersOf(b) && haveLikeWords(a.words, b.words);
}

function haveLikeWords(a: readonly string[], b: readonly string[]): boolean {
  if (a.length === 0 || b.length === 0) return false;
  if (areNumbered(a) && areNumbered(b)) return true;
  const [fewer, more] = a.length <= b.length ? [a, new Set(b)] : [b, new Set(a)];
  return fewer.filter((word) => more.has(word)).length >= shared * fewer.length;
}
