import { didYouMean } from '../plain/nearest.ts';
import { celFunctions } from './functions.ts';

/** The mistake in a call of a function, and the right call; nothing where the error is another one. */
export function functionProblem(summary: string): { readonly problem: string; readonly mend: string } | undefined {
  const [, on, name, given = ''] = /^found no matching overload for '(?:(.+)\.)?(\w+)\((.*)\)'$/u.exec(summary) ?? [];
  if (name === undefined) return undefined;

  const sameName = celFunctions.filter((celFunction) => celFunction.name === name);
  if (sameName.length === 0) {
    const names = celFunctions.map((celFunction) => celFunction.name);
    return {
      problem: `there is no function \`${name}\``,
      mend: didYouMean(name, names) ?? 'All of them: lumbrik explain functions.',
    };
  }

  const among = given === '' ? 'nothing' : given;

  return {
    problem: `\`${name}\` does not take ${among}${on === undefined ? '' : ` on ${on}`}`,
    mend: `It is called as ${sameName.map(({ call }) => `\`${call}\``).join(' or ')}: lumbrik explain ${name}.`,
  };
}
