import type { JsonObject } from '../plain/json.ts';
import { groupThousands } from '../plain/words.ts';
import type { FieldStatistics } from './fieldStatistics.ts';
import { enough } from './readTexts.ts';
import type { OpenQuestion, Value } from './value.ts';

/** A question before it is known which texts it is about. */
type WordlessQuestion = Omit<OpenQuestion, 'words'>;

/** Whether values may be of another kind than they are treated as. @param common what the field says of any kind. */
export function kindAsked({ definition, reason, doubt }: Value, common: JsonObject): readonly WordlessQuestion[] {
  if (!doubt) return [];

  const answerOf = (answer: Pick<Value, 'definition' | 'reason'>) => ({
    as: String(answer.definition.kind),
    says: { ...answer.definition, ...common },
    why: answer.reason,
  });

  return [
    { about: 'kind', asks: doubt.asks, answers: [answerOf({ definition, reason }), ...doubt.others.map(answerOf)] },
  ];
}

/** Where so few lack a value, all may have to have one. */
const fewLack = 0.1;

/** Whether a field that nearly all entries have becomes required. */
export function requiredAsked({ holders, filled }: FieldStatistics, isRequired: boolean): readonly WordlessQuestion[] {
  const missing = holders - filled;
  if (holders < enough || missing === 0 || missing > fewLack * holders) return [];
  const required = { as: 'required', why: `the ${groupThousands(missing)} without one are mistakes` };
  const optional = { as: 'optional', why: 'there need not be one' };
  const asks = `${groupThousands(missing)} of ${groupThousands(holders)} have none: must every one have one?`;
  return [{ about: 'required', asks, answers: isRequired ? [required, optional] : [optional, required] }];
}
