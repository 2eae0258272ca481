import { learn } from '../tasks/learn.ts';
import { learnInto } from '../tasks/learnInto.ts';
import { learnSchema } from '../tasks/learnSchema.ts';
import { learnIntoText, learnSchemaText, learnText } from '../view/text/learn.ts';
import { Trouble } from '../workspace/trouble.ts';
import { answer, type CommandModule, textOf, textsOf } from './answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('sources', {
        type: 'string',
        array: true,
        describe: 'Files and folders of entries; else all of the folder content',
      })
      .option('out', {
        type: 'string',
        requiresArg: true,
        default: '.',
        describe: 'The folder that becomes a workspace',
      })
      .option('copy', { type: 'boolean', describe: 'Copy sources that lie elsewhere into its folder content' })
      .option('tolerate', {
        type: 'string',
        requiresArg: true,
        default: '2%',
        describe: 'How many values may be odd without making the model looser',
      })
      .option('id', {
        type: 'string',
        requiresArg: true,
        describe: 'The key that tells entries apart, where it is not found',
      })
      .option('schema', {
        type: 'string',
        requiresArg: true,
        describe: 'From a schema instead: a file of JSON Schema or OpenAPI',
      })
      .option('database', {
        type: 'string',
        requiresArg: true,
        describe: 'From the tables of a PostgreSQL instead: postgresql://user@host/database',
      })
      .option('in-schema', {
        type: 'string',
        requiresArg: true,
        default: 'public',
        describe: 'The schema of these tables',
      })
      .option('into', {
        type: 'boolean',
        describe: 'Into the workspace that you stand in: propose what its entries show and its model does not say',
      })
      .option('write', { type: 'boolean', implies: 'into', describe: 'Write that into the model' })
      .conflicts('into', ['schema', 'database', 'copy', 'id'])
      .conflicts('schema', ['database', 'copy', 'id'])
      .conflicts('database', ['copy', 'id'])
      .example('$0 learn', 'A workspace around the entries in content/')
      .example('$0 learn ../export/posts.ndjson --out blog --copy', 'From an export, in a folder of its own')
      .example('$0 learn --tolerate 0', 'A model that every single entry obeys')
      .example('$0 learn --into', 'What new entries show, beside a model that stands')
      .example('$0 learn --schema openapi.yaml --out shop', 'The model that a schema says'),
  handler: (args) => {
    if (args.into === true) return intoStanding(args);
    if (args.schema !== undefined || args.database !== undefined) return fromSchema(args);
    return answer(
      args,
      (call) =>
        learn(call, {
          sources: textsOf(args.sources),
          out: textOf(args.out) ?? '.',
          isCopying: args.copy === true,
          tolerated: shareOf(textOf(args.tolerate) ?? '2%'),
          id: textOf(args.id),
        }),
      learnText,
      ({ errors, unreadable }) => errors + unreadable === 0,
    );
  },
};
export default command;

/** Proposes what entries show beyond the model that stands. */
function intoStanding(args: Readonly<Record<string, unknown>>): Promise<void> {
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
function refuseSources({ sources }: Readonly<Record<string, unknown>>, says: string, mend: string): void {
  if (textsOf(sources).length > 0) throw new Trouble('unusable-call', says, { mend });
}

/** Makes a model of a schema of another language. */
function fromSchema(args: Readonly<Record<string, unknown>>): Promise<void> {
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
