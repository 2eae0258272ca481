import { parseArgs } from 'node:util';
import type { Argv } from 'yargs';
import { withCommonOptions } from './commands/commonOptions.ts';
import type { Command, CommandGroup } from './commands/index.ts';
import { commands, groups } from './commands/index.ts';
import { list } from './core/plain/words.ts';
import { failWith, type Spoken, withoutValue } from './unusableCall.ts';
import type { Wish } from './view/print.ts';
import { exitCodes } from './workspace/exitCodes.ts';
import { noText } from './workspace/platform.ts';
import { isOutside, systemTrouble, Trouble } from './workspace/trouble.ts';

const widest = 100;

/** Reads the arguments, runs the command that they name, and sets the exit code. Never throws. */
export async function main(args: readonly string[], version: string): Promise<void> {
  try {
    standSomewhere();
    if (await completed(args)) return;

    refuseNoText(args);
    const alone = optionsAlone(args);
    if (alone) {
      const { overview } = await import('./commands/standing.ts');
      return await overview(alone);
    }
    await (await program(args, version)).parseAsync();
  } catch (error) {
    await fail(error, wishIn(args));
  }
}

/** The options of a call without a command; `undefined` where anything else is typed. */
function optionsAlone(args: readonly string[]): Readonly<Record<string, unknown>> | undefined {
  try {
    const { values } = parseArgs({
      args: [...args],
      options: {
        workspace: { type: 'string' },
        format: { type: 'string' },
        color: { type: 'boolean' },
        debug: { type: 'boolean' },
      },
      allowNegative: true,
    });
    return values;
  } catch {
    return undefined;
  }
}

/**
 * A shell may be in a folder that somebody removed: yargs cannot even be loaded there. And in one whose name is no text
 * (UTF-8), for which another one would be taken. @throws {Trouble}
 */
function standSomewhere(): void {
  let folder: string;

  try {
    folder = process.cwd();
  } catch {
    throw new Trouble('no-folder', 'the folder that you stand in is gone', {
      mend: 'Go to one that is there, or to the same one anew: cd',
    });
  }

  if (folder.includes(noText))
    throw new Trouble('no-text', `the name of the folder that you stand in is not UTF-8: ${folder}`, {
      mend: 'Give it, or the one above it that is meant, another name. Nothing was written.',
    });
}

/** @throws {Trouble} where a word of the call is no text: it could name another file than was intended. */
function refuseNoText(args: readonly string[]): void {
  const word = args.find((arg) => arg.includes(noText));
  if (word !== undefined)
    throw new Trouble('no-text', `a word of the call is not UTF-8: ${word}`, {
      mend: 'Give a file another name, or write the letter as \\uFFFD in an expression. Nothing was written.',
    });
}

/**
 * yargs lays out the help of every command that it runs, for errors that it would print itself: ours are printed
 * elsewhere, and that is a third of the time of a short call. It has no option for it, and its types know no such method.
 */
function withoutHelpAhead(parser: Argv): void {
  const { getInternalMethods } = parser as unknown as {
    getInternalMethods?: () => { getUsageInstance?: () => { cacheHelpMessage?: () => void } };
  };
  const usage = getInternalMethods?.call(parser).getUsageInstance?.();
  if (usage?.cacheHelpMessage) usage.cacheHelpMessage = () => undefined;
}

/** Answers a shell that completes a word (`lumbrik --complete <shell> …`, as the script of that shell calls it). */
async function completed([request, shellName, ...handedOver]: readonly string[]): Promise<boolean> {
  if (request !== '--complete') return false;

  const { shells } = await import('./view/shells/index.ts');
  const shell = shells.find(({ name }) => name === shellName);
  if (!shell) return false;

  const { words, offer } = shell.typedLine(handedOver);
  const { candidates } = await import('./commands/completions.ts');
  for (const candidate of await candidates(words)) process.stdout.write(`${offer(candidate)}\n`);
  return true;
}

async function program(args: readonly string[], version: string): Promise<Argv> {
  const { default: yargs } = await import('yargs');
  const root = withCommonOptions(yargs([...args]))
    .scriptName('lumbrik')
    .usage(
      '$0 <command>\n\nChange a content model without fear: see what a change does to the entries, prove the migration, run it, take it back.',
    )
    .parserConfiguration({ 'parse-positional-numbers': false, 'parse-numbers': false, 'camel-case-expansion': true })
    .version(version)
    .help()
    .alias('help', 'h')
    .example('$0 new coast --starter lighthouses', 'Make the worked example')
    .epilogue(
      'Exit codes: 0 fine, 1 something is wrong, 2 unusable call or input, 3 refused to protect data, 70 a fault in lumbrik, 130 stopped.',
    )
    .wrap(Math.min(widest, process.stdout.columns ?? widest))
    .exitProcess(false)
    .strict();
  withoutHelpAhead(root);
  for (const command of commands) {
    const [name = ''] = command.usage.split(' ');
    for (const group of groups) if (group.before === name) registerGroup(root, group, args);
    register(root, [command], { typed: args, path: 'lumbrik' });
  }

  const listed = [...commands, ...groups.map(({ name }) => ({ usage: name }))];

  return withNames(root, listed, { typed: args, path: 'lumbrik' }).demandCommand(1, 'Say a command.');
}

/** Registers a word that has commands below it. */
function registerGroup(root: Argv, { name, about, commands: below }: CommandGroup, typed: readonly string[]): void {
  const words = below.map(({ usage }) => usage.split(' ')[0] ?? '');
  const spoken = { typed, path: `lumbrik ${name}` };
  root.command(
    name,
    about,
    (inner) =>
      withNames(register(inner, below, spoken), below, spoken).demandCommand(1, `Say which: ${list(words, 'or')}.`),
    () => undefined,
  );
}

/** Registers commands by their words alone; the module behind one is loaded when it is called or asked for help. */
function register(root: Argv, commands: readonly Command[], { typed, path }: Spoken): Argv {
  for (const { usage, about, load } of commands)
    root.command(
      usage,
      about,
      async (inner: Argv) =>
        (await load()).default
          .builder(inner)
          .fail(failWith(inner, [], { typed, path: `${path} ${usage.split(' ')[0]}` }, usage.replace(/^\S+/u, ''))),
      async (args: Readonly<Record<string, unknown>>) => (await load()).default.handler(args),
    );

  return root;
}

const withNames = (parser: Argv, listed: readonly { readonly usage: string }[], spoken: Spoken): Argv =>
  parser.fail(
    failWith(
      parser,
      listed.map(({ usage }) => usage.split(' ')[0] ?? ''),
      spoken,
    ),
  );

/** What the call asked for in output, as far as it can be seen before the call is understood. */
function wishIn(args: readonly string[]): Wish {
  const format = args.includes('--format=json') || args[args.indexOf('--format') + 1] === 'json' ? 'json' : 'text';
  return {
    format,
    color: args.includes('--no-color') ? false : args.includes('--color') || undefined,
    debug: args.includes('--debug'),
  };
}

async function fail(error: unknown, wish: Wish): Promise<void> {
  const { printTrouble } = await import('./view/print.ts');
  const trouble = error instanceof Trouble ? error : (withoutValue(error) ?? outside(error) ?? fault(error));
  printTrouble(trouble, wish);
  process.exitCode = trouble.exit;
}

/** What the system refused somewhere in between: no fault of ours. */
function outside(error: unknown): Trouble | undefined {
  const { path: file } = Object(error) as { readonly path?: unknown };
  if (typeof file !== 'string' || !isOutside(error)) return undefined;
  const trouble = systemTrouble(error, file);
  if (error instanceof Error && error.stack !== undefined) trouble.stack = error.stack;
  return trouble;
}

function fault(error: unknown): Trouble {
  const message = error instanceof Error ? error.message : String(error);
  const trouble = new Trouble('fault', `a fault in lumbrik: ${message}`, {
    mend: 'Please report it, with what --debug prints.',
    exit: exitCodes.fault,
    cause: error,
  });
  if (error instanceof Error && error.stack !== undefined) trouble.stack = error.stack;
  return trouble;
}
