import { z } from 'zod';
import { type SharedQuestion, sharedQuestions } from '../../core/learn/alike.ts';
import type { LearntModel } from '../../core/learn/learntModel.ts';
import { type FieldAnswers, fieldsBelow } from '../../core/learn/value.ts';
import { JsonValue } from '../../core/plain/jsonValue.ts';
import { didYouMean } from '../../core/plain/nearest.ts';
import { list } from '../../core/plain/words.ts';
import { Trouble } from '../../workspace/trouble.ts';

/** What entries leave open: what is taken of it is the first answer. */
export const Open = z.strictObject({
  address: z.string(),
  /** The addresses of fields beside it that are so alike that the answer goes for them too. */
  alike: z.array(z.string()),
  about: z.enum(['kind', 'required']),
  asks: z.string(),
  answers: z.array(
    z.strictObject({ as: z.string(), says: z.record(z.string(), JsonValue).optional(), why: z.string() }),
  ),
});
export type Open = z.output<typeof Open>;

/** The names of fields that are beside another one. */
export const namesBeside = (addresses: readonly string[]): readonly string[] =>
  addresses.map((address) => address.slice(address.lastIndexOf('.') + 1));

/** The fields that a question is about, as `--as` names them: `support.chrome,firefox`. */
export const addressesOf = ({ address, alike }: Open): string => [address, ...namesBeside(alike)].join(',');

/** How open questions are answered. */
export interface Answers {
  /** What a person says of fields: `keeper.born=date`. */
  readonly as: readonly string[];
  /** Asks a person; the answer is one of the words for it, or nothing where it is left. */
  readonly ask?: ((question: Open, remaining: number) => Promise<string | undefined>) | undefined;
}

type GivenAnswers = ReadonlyMap<string, FieldAnswers>;

/**
 * Learns with what a person says, in the call or when asked: one question after the other, since each answer may settle
 * others or raise new ones.
 * @param keys what the entries call fields, by their names, where no field can be called so.
 * @throws {Trouble} where a field cannot be what is stated of it.
 */
export async function answered(
  { as, ask }: Answers,
  keys: ReadonlyMap<string, string>,
  learn: (answers: GivenAnswers) => LearntModel,
): Promise<LearntModel> {
  let answers = saidIn(as, keys);
  let model = learn(answers);
  refuseWrong(model, answers);
  if (!ask) return model;

  const settled = new Set<string>();
  for (;;) {
    const remaining = openQuestions(model).filter((openQuestion) => !settled.has(nameOf(openQuestion)));
    const [question] = remaining;
    if (!question) return model;

    settled.add(nameOf(question));
    const answer = await ask(question, remaining.length);
    if (answer === undefined) continue;

    answers = [question.address, ...question.alike].reduce(
      (result, address) => withSaid(result, address, answer),
      answers,
    );
    model = learn(answers);
  }
}

const nameOf = ({ address, about }: Open): string => `${about} ${address}`;

/** What entries leave open of the fields of a model. */
export const openQuestions = ({ types }: LearntModel): readonly Open[] =>
  types.flatMap(({ name, fields }) => sharedQuestions(fieldsBelow(fields, `${name}.`)).map(openOf));

const openOf = ({ address, alike, question: { about, asks, answers } }: SharedQuestion): Open => ({
  address,
  alike: [...alike],
  about,
  asks,
  answers: answers.map((answer) => ({ ...answer })),
});

/** What a call says of fields. @throws {Trouble} where that is not written as it should be. */
function saidIn(as: readonly string[], keys: ReadonlyMap<string, string>): GivenAnswers {
  const names = new Map([...keys].map(([name, key]) => [key, name]));
  return as.reduce<GivenAnswers>((answers, text) => {
    const [, addresses = '', word = ''] = /^([^=]+)=(\w+)$/u.exec(text.trim()) ?? [];
    const isOneKey = names.has(addresses.slice(addresses.indexOf('.') + 1));
    const [first = '', ...alike] = isOneKey ? [addresses] : addresses.split(',');
    if (!first.includes('.'))
      throw new Trouble('unusable-call', `--as ${text} does not say what a field is`, {
        mend: 'Write the address of the field, `=`, and a kind, `required` or `optional`: --as keeper.born=date',
      });

    // Of fields beside it the names are enough: `support.chrome,firefox=text`.
    const above = first.slice(0, first.lastIndexOf('.') + 1);

    return [first, ...alike.map((name) => above + name)].reduce((result, address) => {
      const dot = address.indexOf('.') + 1;
      const field = address.slice(dot);
      return withSaid(result, address.slice(0, dot) + (names.get(field) ?? field), word);
    }, answers);
  }, new Map());
}

/** What is stated of fields, and one thing more. */
const withSaid = (answers: GivenAnswers, address: string, word: string): GivenAnswers =>
  new Map(answers).set(address, {
    ...answers.get(address),
    ...(word === 'required' || word === 'optional' ? { isRequired: word === 'required' } : { kind: word }),
  });

/** @throws {Trouble} where something is stated of a field that is none, or cannot be so. */
function refuseWrong({ types, refused }: LearntModel, answers: GivenAnswers): void {
  const addresses = types.flatMap(({ name, fields }) => fieldsBelow(fields, `${name}.`).map(({ path }) => path));
  for (const address of answers.keys()) {
    if (!addresses.includes(address))
      throw new Trouble('no-field', `--as names a field \`${address}\`, and the entries have none`, {
        mend: didYouMean(address, addresses) ?? 'Look at what is learnt without it.',
      });
  }

  const [first] = refused;
  if (first)
    throw new Trouble(
      'no-such-kind',
      `\`${first.address}\` cannot be of the kind ${first.kind}: none of its values is`,
      {
        mend: `It can be ${list(first.can, 'or')}.`,
      },
    );
}
