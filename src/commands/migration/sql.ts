import { migrationSql } from '../../tasks/migration/sql.ts';
import { migrationSqlText, sqlLeftText } from '../../view/text/migrationSql.ts';
import { Trouble } from '../../workspace/trouble.ts';
import { answer, type CommandModule, isComplete, textOf } from '../answer.ts';
import { print } from '../printing.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('migration', { type: 'string', describe: 'Its number or file name (default: the newest)' })
      .option('out', { type: 'string', requiresArg: true, describe: 'File to write (default: print)' })
      .example('$0 migration sql 2 --out 0002.sql', 'Before the run here: the SQL for a database'),
  handler: (args) => {
    const outFile = textOf(args.out);
    if (outFile === undefined && args.format === 'json')
      throw new Trouble('unusable-call', 'the statements and the messages about them would go to the same output', {
        mend: 'Say --out <file>, or leave --format json out.',
      });
    return answer(
      args,
      (call) => migrationSql(call, textOf(args.migration), outFile, print),
      (result, look) =>
        outFile === undefined ? { text: '', note: sqlLeftText(result, look) } : migrationSqlText(result, look),
      isComplete,
    );
  },
};
export default command;
