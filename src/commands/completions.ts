import yargs from 'yargs';
import { type Completed, complete, completeBehind } from '../tasks/completion.ts';
import type { Candidate } from '../view/shells/shell.ts';
import { withCommonOptions } from './commonOptions.ts';
import { type Command, type CommandGroup, commands, groups } from './index.ts';

const any: readonly Completed[] = ['type', 'kit', 'field', 'taxonomy', 'term', 'entry'];

/** What the arguments of commands name, by what these are called in the words of a command. */
const completed: Readonly<Record<string, readonly Completed[]>> = {
  address: any,
  entry: ['entry'],
  entries: ['type', 'entry'],
  taxonomy: ['taxonomy', 'term'],
  type: ['type'],
  word: ['word'],
  types: ['type'],
  'diff from': ['revision'],
  'diff to': ['revision'],
  'report from': ['revision'],
  'report to': ['revision'],
  migration: ['migration'],
  revision: ['revision'],
  'list about': ['type', 'taxonomy', 'term'],
  'check what': ['type', 'entry'],
  'field to': ['type', 'kit'],
  'move to': ['type', 'field'],
  'term to': ['taxonomy'],
};

/** What the values of options name, by the options. */
const completedOptions: Readonly<Record<string, readonly Completed[]>> = {
  '--extends': ['type'],
  '--kind': ['kind'],
  '--kit': ['kit'],
  '--language': ['language'],
  '--since': ['revision'],
  '--use': ['shared field'],
};

/** Options whose values name a part of the argument before them: by the sign between the two in an address. */
const completedWithin: Readonly<Record<string, { readonly sign: string; readonly wanted: Completed }>> = {
  '--columns': { sign: '.', wanted: 'field' },
  '--sort': { sign: '.', wanted: 'field' },
  '--under': { sign: ':', wanted: 'term' },
};

/** An option of a command, as a shell offers it. */
interface Option {
  /** With its hyphens. */
  readonly word: string;
  readonly about: string;
  readonly takesValue: boolean;
  readonly choices: readonly string[];
}

/**
 * Candidates for the word that a person types: commands, options, choices, addresses.
 * @param words the words typed after the name of the program; the last may be incomplete.
 */
export async function candidates(words: readonly string[]): Promise<readonly Candidate[]> {
  const typed = words.at(-1) ?? '';
  const offered = await candidatesFor(words, typed);
  return offered.filter(({ word }) => word.startsWith(typed));
}

async function candidatesFor(words: readonly string[], typed: string): Promise<readonly Candidate[]> {
  const group = groups.find(({ name }) => name === words[0] && words.length > 1);
  const [name = '', ...rest] = group ? words.slice(1) : words;
  const among = group?.commands ?? commands;
  if (rest.length === 0) return [...among.map(commandCandidate), ...(group ? [] : groups.map(groupCandidate))];

  const command = among.find((candidate) => nameOf(candidate) === name);
  if (!command) return [];

  const options = await optionsOf(command);
  const before = argumentsOf(options, rest.slice(0, -1));
  if (before.waiting) return (await valuesOf(before.waiting, before, typed)).map((word) => ({ word }));
  if (typed.startsWith('-')) return options.filter(({ word }) => !rest.includes(word));

  const positionals = [...command.usage.matchAll(/[<[](\w+)(?:\.\.)?[\]>]/gu)].map(([, positional = '']) => positional);
  const isLast = command.usage.endsWith('..]') && before.words.length >= positionals.length;
  const argument = (isLast ? positionals.at(-1) : positionals[before.words.length]) ?? '';
  const choices = options.find(({ word }) => word === argument)?.choices ?? [];
  const kinds = completed[`${name} ${argument}`] ?? completed[argument];
  const matches = kinds ? await complete(before, typed, new Set(kinds)) : choices;

  return matches.map((word) => ({ word }));
}

/** What may be the value of an option. */
async function valuesOf({ word, choices }: Option, before: Before, typed: string): Promise<readonly string[]> {
  if (choices.length > 0) return choices;

  const kinds = completedOptions[word];
  if (kinds) return complete(before, typed, new Set(kinds));

  const within = completedWithin[word];
  const [optionWord = ''] = before.words;
  if (!within || optionWord === '') return [];

  // A list of names goes on behind its last comma.
  const done = typed.slice(0, typed.lastIndexOf(',') + 1);
  const beginning = `${optionWord.replace(/:$/u, '')}${within.sign}`;
  const matches = await completeBehind(before, beginning, typed.slice(done.length), new Set([within.wanted]));

  return matches.map((text) => done + text);
}

const nameOf = ({ usage }: { readonly usage: string }): string => usage.split(' ')[0] ?? '';
const commandCandidate = (command: Command): Candidate => ({ word: nameOf(command), about: command.about });
const groupCandidate = ({ name, about }: CommandGroup): Candidate => ({ word: name, about });

/** What the parser of arguments knows of the options of a command; its types know no such methods. */
interface KnownOptions {
  readonly getOptions: () => {
    readonly key: object;
    readonly boolean: readonly string[];
    readonly hiddenOptions: readonly string[];
    readonly choices: Readonly<Record<string, readonly unknown[]>>;
  };
  readonly getInternalMethods: () => {
    readonly getUsageInstance: () => { readonly getDescriptions: () => Readonly<Record<string, string | undefined>> };
  };
}

/** The options of a command, and its positional arguments by their bare names. */
async function optionsOf(command: Command): Promise<readonly Option[]> {
  const { default: module } = await command.load();
  const parser = module.builder(withCommonOptions(yargs([]).command(command.usage, ''))) as unknown as KnownOptions;
  const { key, boolean, hiddenOptions, choices } = parser.getOptions();
  const descriptions = parser.getInternalMethods().getUsageInstance().getDescriptions();
  const arguments_ = new Set([...command.usage.matchAll(/\w+/gu)].map(([word]) => word));

  return Object.keys(key)
    .filter((name) => !hiddenOptions.includes(name))
    .map((name) => ({
      word: arguments_.has(name) ? name : `--${name}`,
      about: descriptions[name]?.replace('__yargsString__:', '') ?? '',
      takesValue: !boolean.includes(name),
      choices: (choices[name] ?? []).map(String),
    }));
}

/** The words before the one that a person types. */
interface Before {
  /** The arguments that are no options. */
  readonly words: readonly string[];
  readonly workspace: string | undefined;
  /** The option that waits for its value. */
  readonly waiting: Option | undefined;
}

function argumentsOf(options: readonly Option[], typed: readonly string[]): Before {
  const words: string[] = [];
  let workspace: string | undefined;
  let waiting: Option | undefined;

  for (const word of typed) {
    if (waiting) {
      if (waiting.word === '--workspace') workspace = word;
      waiting = undefined;
    } else if (word.startsWith('-')) waiting = options.find((option) => option.takesValue && option.word === word);
    else words.push(word);
  }

  return { words, workspace, waiting };
}
