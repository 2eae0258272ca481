import { transformSync } from 'rolldown/utils';
import { z } from 'zod';

/** The Zod schemas that a file of TypeScript exports, by the names of their types. */
export function zodsOf(text: string): Readonly<Record<string, z.ZodType>> {
  const { code, errors } = transformSync('content.zod.ts', text);
  if (errors.length > 0) throw new Error(`${errors.map(String).join('\n')}\n${text}`);
  const body = code.replaceAll(/^export (?=const )/gmu, '').replace(/^import \{ z \} from ["']zod["'];/mu, '');
  return new Function('z', `${body}\nreturn schemas;`)(z);
}
