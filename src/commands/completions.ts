import yargs from 'yargs';
import { type Completed, complete } from '../tasks/completion.ts';
import { type Command, commands, groups } from './index.ts';

const any: readonly Completed[] = ['type', 'kit', 'field', 'taxonomy', 'term', 'entry'];

/** What the arguments of commands name, by what these are called in the words of a command. */
const completed: Readonly<Record<string, readonly Completed[]>> = {
  address: any,
  entry: ['entry'],
  entries: ['type', 'entry'],
  taxonomy: ['taxonomy', 'term'],
  type: ['type'],
  word: ['word'],
  'field to': ['type', 'kit'],
  'term to': ['taxonomy'],
};

/**
 * What a shell may put in the place of the word that is being typed, where that is an address or a word to explain;
 * `undefined` where it is something else.
 * @param words what was typed behind the name of the program, the last one perhaps in part.
 */
export async function completions(words: readonly string[]): Promise<readonly string[] | undefined> {
  // Of a colon alone, such a shell accepts nothing that could be offered.
  if (words.at(-1) === ':') return [];
  const { whole, cut } = gluedAtColons(words);
  const typed = whole.at(-1) ?? '';
  const group = groups.find(({ name }) => name === whole[0]);
  const [name = '', ...rest] = group ? whole.slice(1) : whole;
  const command = (group?.commands ?? commands).find(({ usage }) => usage.split(' ')[0] === name);
  if (!command || rest.length === 0 || typed.startsWith('-')) return undefined;

  const { before, workspace } = await argumentsOf(command, rest.slice(0, -1));
  if (before === undefined) return undefined;
  const positionals = [...command.usage.matchAll(/[<[](\w+)(?:\.\.)?[\]>]/gu)].map(([, one = '']) => one);
  const isLast = command.usage.endsWith('..]') && before >= positionals.length;
  const argument = isLast ? positionals.at(-1) : positionals[before];
  const wanted = completed[`${name} ${argument}`] ?? completed[argument ?? ''];
  if (!wanted) return undefined;
  const found = await complete({ workspace }, typed, new Set(wanted));
  return found.map((one) => one.slice(cut));
}

/**
 * Shells that break words at colons hand over `region:north` as three: put together again.
 * @returns how much of the last word the shell does not take for a part of it.
 */
function gluedAtColons(words: readonly string[]): { readonly whole: readonly string[]; readonly cut: number } {
  const at = words.indexOf(':');
  if (at < 1) return { whole: words, cut: 0 };
  const last = words.slice(at - 1).join('');
  return { whole: [...words.slice(0, at - 1), last], cut: last.lastIndexOf(':') + 1 };
}

/** How many arguments stand there already; nothing where an option waits for its value. */
async function argumentsOf(
  command: Command,
  words: readonly string[],
): Promise<{ readonly before: number | undefined; readonly workspace: string | undefined }> {
  const { default: module } = await command.load();
  const parser = module.builder(yargs([]).option('workspace', { type: 'string' }));
  const { boolean = [] } = (parser as unknown as { getOptions: () => { boolean?: string[] } }).getOptions();
  const takesNone = new Set([...boolean, 'color', 'no-color', 'debug', 'help'].map((option) => `--${option}`));
  let before = 0;
  let workspace: string | undefined;

  for (let index = 0; index < words.length; index += 1) {
    const word = words[index] ?? '';
    if (!word.startsWith('-')) before += 1;
    else if (!takesNone.has(word) && !word.includes('=')) {
      index += 1;
      if (index >= words.length) return { before: undefined, workspace };
      if (word === '--workspace') workspace = words[index];
    }
  }
  return { before, workspace };
}
