import type { Argv } from 'yargs';
import { compact } from './core/plain/json.ts';
import { didYouMean } from './core/plain/nearest.ts';
import { list } from './core/plain/words.ts';
import { Trouble } from './workspace/trouble.ts';

/** The typed text, and the words that lead to a command. */
export interface Spoken {
  readonly typed: readonly string[];
  readonly path: string;
}

/**
 * Explains a call that yargs cannot parse, in our words and with the nearest valid one.
 * @param names the commands that could be where the parser is; none where it is a command.
 * @param usage how the command is written, behind the words that lead to it.
 */
export function failWith(
  parser: Argv,
  names: readonly string[],
  spoken: Spoken,
  usage = '',
): (message: string | null, error: Error | undefined) => never {
  const { path } = spoken;
  return (message, error) => {
    if (error) throw error;

    const text = message ?? 'the call cannot be understood';
    for (const { form, words } of messages) {
      const match = form.exec(text);
      if (!match) continue;

      const { message, mend = `See ${path} --help` } = words(match.slice(1), {
        written: `${path}${usage}`,
        called: (name) => (new RegExp(`[<[]${name}\\W`, 'u').test(usage) ? `<${name}>` : `--${name}`),
      });
      throw unusable(message, mend);
    }

    const unknown = /^Unknown (?:arguments?|commands?): (.+)$/u.exec(text)?.[1]?.split(', ')[0];
    throw unknown === undefined ? unusable(text, `See ${path} --help`) : unknownWord(parser, names, spoken, unknown);
  };
}

const unusable = (message: string, mend: string): Trouble => new Trouble('unusable-call', message, { mend });

interface Words {
  readonly message: string;
  /** What to do; else the help is named. */
  readonly mend?: string;
}

/** How the command is written, and what is there of one of its arguments. */
interface TypedCall {
  readonly written: string;
  readonly called: (name: string) => string;
}

/** What yargs says, and how it is stated here. */
const messages: readonly {
  readonly form: RegExp;
  readonly words: (groups: readonly string[], call: TypedCall) => Words;
}[] = [
  {
    form: /^Not enough non-option arguments: got \d+/u,
    words: (_, { written }) => ({ message: 'the call lacks an argument', mend: `Write ${written}` }),
  },
  {
    form: /^Missing required arguments?: (.+)$/u,
    words: ([names = ''], { called }) => ({ message: `the call lacks ${list(names.split(', ').map(called))}` }),
  },
  {
    form: /^(?:Implications failed|Missing dependent arguments):\s+(\S+) -> (\S+)/u,
    words: ([alone = '', other = ''], { called }) => ({
      message: `${called(alone)} says nothing without ${called(other)}`,
      mend: `Give both, or leave ${called(alone)} out.`,
    }),
  },
  {
    form: /^Arguments (\S+) and (\S+) are mutually exclusive/u,
    words: ([first = '', other = ''], { called }) => ({
      message: `${called(first)} and ${called(other)} do not go together`,
      mend: 'Leave one of them out.',
    }),
  },
  {
    form: /^Invalid values:\s+Argument: (.+?), Given: (.*), Choices: (.+)/su,
    words: ([name = '', given = '', choices = ''], { called }) => {
      const [typed = '', ...allowed] = [given, ...choices.trim().split(', ')].map((text) => text.replaceAll('"', ''));
      return compact({
        message: `${called(name)} is ${list(allowed, 'or')}, not ${typed}`,
        mend: didYouMean(typed, allowed),
      });
    },
  },
];

/** A word where none is known that is called so. */
function unknownWord(parser: Argv, names: readonly string[], { typed, path }: Spoken, unknown: string): Trouble {
  const option = typed
    .map((argument) => argument.replace(/=.*/su, ''))
    .find((name) => name === `--${unknown}` || name === `-${unknown}`);
  const isOption = option !== undefined;
  const knownNames = isOption ? Object.keys(optionsOf(parser)) : names;
  const word = names.length > 0 ? `command \`${unknown}\`` : `room for \`${unknown}\` in this call`;
  const subject = isOption ? `option ${option}` : word;
  // A word that was broken off is far from the whole, and yet what was intended.
  const begun = unknown.length < 3 ? undefined : knownNames.find((name) => name.startsWith(unknown));
  const near = (begun === undefined ? didYouMean(unknown, knownNames) : `Did you mean \`${begun}\`?`)?.replace(
    '`',
    isOption ? '`--' : '`',
  );

  return unusable(`there is no ${subject}`, near ?? `See ${path} --help`);
}

/** The options that a parser knows now; yargs keeps them, and its types do not say so. */
function optionsOf(parser: Argv): object {
  const { getOptions } = parser as unknown as { getOptions?: () => { key?: object } };
  return getOptions?.call(parser).key ?? {};
}

/** An option that is followed by no value, or by something that looks like another option: yargs throws that at once. */
export function withoutValue(error: unknown): Trouble | undefined {
  const message = error instanceof Error && error.name === 'YError' ? error.message : '';
  const option = /^Not enough arguments following: (.+)$/u.exec(message)?.[1];
  if (option === undefined) return undefined;
  return unusable(
    `--${option} is followed by no value`,
    `Write one behind it; one that begins with a hyphen as --${option}=-…`,
  );
}
