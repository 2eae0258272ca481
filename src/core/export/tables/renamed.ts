import { nameText } from './sqlText.ts';

/** Something with a name. */
export interface Named {
  readonly name: string;
}

/** Statements that give tables, or types, other names. @param statement what each begins with: `alter table`. */
export const renamesText = (statement: string, pairs: readonly (readonly [Named, Named])[]): readonly string[] =>
  inOrder(pairs.map(([old, renamed]) => [old.name, renamed.name] as const)).map(
    ([from, to]) => `${statement} ${nameText(from)} rename to ${nameText(to)};\n`,
  );

/** Renames in an order in which each new name is free; those that go round lead over a name of their own. */
export function inOrder(renames: readonly (readonly [string, string])[]): readonly (readonly [string, string])[] {
  const remaining = renames.filter(([from, to]) => from !== to);
  const ordered: (readonly [string, string])[] = [];
  while (remaining.length > 0) {
    const free = remaining.findIndex(([, to]) => !remaining.some(([from]) => from === to));
    const [from = '', to = ''] = remaining.splice(Math.max(0, free), 1)[0] ?? [];
    if (free >= 0) ordered.push([from, to]);
    else {
      ordered.push([from, `${to}_was_${from}`.slice(0, 60)]);
      remaining.push([`${to}_was_${from}`.slice(0, 60), to]);
    }
  }

  return ordered;
}
