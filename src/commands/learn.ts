import type { Argv } from 'yargs';
import type { Call } from '../tasks/call.ts';
import { addressesOf } from '../tasks/learn/answers.ts';
import type { LearnResult } from '../tasks/learn/result.ts';
import { type LearnCall, learn } from '../tasks/learn.ts';
import { learnInto } from '../tasks/learnInto.ts';
import { learnSchema } from '../tasks/learnSchema.ts';
import { harmless } from '../view/harmless.ts';
import { lookFor } from '../view/look.ts';
import { learnIntoText, learnSchemaText, learnText, openAnswerTexts, openQuestionText } from '../view/text/learn.ts';
import { Trouble } from '../workspace/trouble.ts';
import { type Arguments, answer, type CommandModule, textOf, textsOf } from './answer.ts';
import { asking, isAsking } from './ask/asking.ts';
import { sayCall } from './ask/questions.ts';
import { limitOf } from './limit.ts';

/** What tables may be written in beside UTF-8. */
const encodings = ['windows-1252', 'iso-8859-15'] as const;

const command: CommandModule = {
  builder: (yargs) =>
    withFileOptions(withOtherSources(yargs))
      .positional('sources', {
        type: 'string',
        array: true,
        describe: 'Files and folders of entries (default: content/)',
      })
      .option('out', {
        type: 'string',
        requiresArg: true,
        default: '.',
        describe: 'Folder that becomes the workspace',
      })
      .option('copy', { type: 'boolean', describe: 'Copy sources from elsewhere into content/' })
      .option('tolerate', {
        type: 'string',
        requiresArg: true,
        default: '2%',
        describe: 'Share of values that may break the model: they become findings',
      })
      .option('id', {
        type: 'string',
        requiresArg: true,
        describe: 'Key that identifies entries, if it is not found',
      })
      .option('type', {
        type: 'string',
        requiresArg: true,
        describe: 'Key that holds the type of an entry; --no-type if none does',
      })
      .option('as', {
        type: 'string',
        array: true,
        requiresArg: true,
        describe:
          'State what a field is: keeper.born=date, =required, =optional; repeatable, several fields with commas',
      })
      .option('ask', {
        type: 'boolean',
        describe: 'Ask about each uncertain field (default on a terminal; --no-ask turns it off)',
      })
      .conflicts('into', ['schema', 'database', 'copy', 'id', 'type', 'encoding', 'file-megabytes', 'as'])
      .conflicts('schema', ['database', 'copy', 'id', 'type', 'encoding', 'file-megabytes', 'as'])
      .conflicts('database', ['copy', 'id', 'type', 'encoding', 'file-megabytes', 'as'])
      .check(isAskable)
      .example('$0 learn', 'From the entries in content/')
      .example('$0 learn ../export/posts.ndjson --out blog --copy', 'From an export, in its own folder')
      .example('$0 learn --tolerate 0', 'A model that every entry obeys')
      .example('$0 learn --into', 'Additions that new entries suggest')
      .example('$0 learn --schema openapi.yaml --out shop', 'From a schema'),
  handler: (args) => {
    if (args.into === true) return intoStanding(args);
    if (args.schema !== undefined || args.database !== undefined) return fromSchema(args);
    return answer(
      args,
      (call) => {
        const options = {
          sources: textsOf(args.sources),
          out: textOf(args.out) ?? '.',
          isCopying: args.copy === true,
          tolerated: shareOf(textOf(args.tolerate) ?? '2%'),
          id: textOf(args.id),
          type: args.type === false ? (false as const) : textOf(args.type),
          encoding: encodings.find((encoding) => encoding === args.encoding),
          fileMegabytes: megabytesOf(args.fileMegabytes),
          as: textsOf(args.as),
        };
        if (isAsking(args, true)) return learnAsking(call, options);
        return learn(call, options);
      },
      learnText,
      ({ errors, unreadable }) => errors + unreadable === 0,
    );
  },
};
export default command;

/** @throws {Trouble} where it is no size that a workspace may allow. */
function megabytesOf(value: unknown): number | undefined {
  const size = limitOf(value, 'file-megabytes');
  if (size === undefined || (size >= 1 && size <= mostMegabytes)) return size;
  throw new Trouble('unusable-call', `--file-megabytes ${size} is more than files may have`, {
    mend: `Write a number from 1 to ${mostMegabytes}; convert larger files to lines of JSON (.ndjson).`,
  });
}
const mostMegabytes = 1024;

/** Only what entries show can be asked; not to be asked goes with all. @throws {Trouble} */
function isAskable(args: Arguments): true {
  const other = ['into', 'schema', 'database'].find((name) => args[name] !== undefined);
  if (args.ask !== true || other === undefined) return true;
  throw new Trouble('unusable-call', `--${other} and --ask do not go together`, { mend: 'Leave one of them out.' });
}

/** How files are read in which entries stand together. */
const withFileOptions = (yargs: Argv): Argv =>
  yargs
    .option('encoding', {
      choices: encodings,
      requiresArg: true,
      describe: 'Encoding of tables that are not in UTF-8',
    })
    .option('file-megabytes', {
      type: 'string',
      requiresArg: true,
      describe: 'Maximum size of a table or JSON file in MB (default 32), recorded in lumbrik.yaml',
    });

/** What a model is learnt from instead of entries, or into. */
const withOtherSources = (yargs: Argv): Argv =>
  yargs
    .option('schema', {
      type: 'string',
      requiresArg: true,
      describe: 'Read a schema instead of entries: JSON Schema, OpenAPI or TypeScript types',
    })
    .option('database', {
      type: 'string',
      requiresArg: true,
      describe: 'Read the tables of a PostgreSQL database instead: postgresql://user@host/database',
    })
    .option('in-schema', {
      type: 'string',
      requiresArg: true,
      default: 'public',
      describe: 'The database schema of these tables',
    })
    .option('into', {
      type: 'boolean',
      describe: 'Propose additions to the model of this workspace',
    })
    .option('write', { type: 'boolean', implies: 'into', describe: 'Write the proposed additions' });

/** Learns, and asks about uncertain fields before it writes; without answers the guesses hold. */
const learnAsking = (call: Call, request: LearnCall): Promise<LearnResult> =>
  asking(async (asker) => {
    const look = lookFor(process.stderr, undefined);
    const answers: (readonly [string, string])[] = [];
    const result = await learn(call, {
      ...request,
      ask: async (question, remaining) => {
        if (asker.isEnded) return undefined;

        const texts = openAnswerTexts(harmless(question));
        const as = await asker.choose({
          lead: openQuestionText(harmless(question), remaining, look),
          message: harmless(question).asks,
          choices: question.answers.map(({ as: value }, index) => ({ value, key: value, says: texts[index] ?? value })),
          leave: 'leave it open',
        });
        if (as !== undefined) answers.push(['as', `${addressesOf(question)}=${as}`]);

        return as;
      },
    });
    const { sources, out: outFile } = request;
    if (answers.length > 0) sayCall('learn', sources, [...(outFile === '.' ? [] : [['out', outFile]]), ...answers]);

    return result;
  });

/** Proposes what entries show beyond the model that stands. */
function intoStanding(args: Arguments): Promise<void> {
  refuseSources(
    args,
    'what the workspace reads is looked at, and entries are named beside it',
    'Put them where it reads them, and leave their names out.',
  );
  return answer(
    args,
    (call) => learnInto(call, { tolerated: shareOf(textOf(args.tolerate) ?? '2%'), isWriting: args.write === true }),
    learnIntoText,
  );
}

/** @throws {Trouble} where entries are named. */
function refuseSources({ sources }: Arguments, message: string, mend: string): void {
  if (textsOf(sources).length > 0) throw new Trouble('unusable-call', message, { mend });
}

/** Makes a model of a schema of another language. */
function fromSchema(args: Arguments): Promise<void> {
  refuseSources(
    args,
    'a model is learnt from entries or from a schema, and both are named',
    'Name the entries alone, or the schema alone.',
  );
  return answer(
    args,
    () =>
      learnSchema({
        schema: textOf(args.schema),
        database: textOf(args.database),
        inSchema: textOf(args.inSchema) ?? 'public',
        out: textOf(args.out) ?? '.',
      }),
    learnSchemaText,
  );
}

/** @throws {Trouble} where a text is no share. */
function shareOf(text: string): number {
  const [, number = '', sign] = /^(\d{1,2}(?:\.\d+)?)\s*(%?)$/u.exec(text) ?? [];
  const share = number === '' ? Number.NaN : Number(number) / (sign === '%' || Number(number) >= 1 ? 100 : 1);
  if (share >= 0 && share <= 0.5) return share;
  throw new Trouble('unusable-call', `--tolerate ${text} is no share of values`, {
    mend: 'Write one up to 50%, such as 2%.',
  });
}
