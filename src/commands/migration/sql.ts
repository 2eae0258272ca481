import { migrationSql } from '../../tasks/migration/sql.ts';
import { migrationSqlText, sqlLeftText } from '../../view/text/migrationSql.ts';
import { Trouble } from '../../workspace/trouble.ts';
import { answer, type CommandModule, isComplete, textOf } from '../answer.ts';
import { print } from '../printing.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('migration', { type: 'string', describe: 'Its number, or the name of its file; else the newest' })
      .option('out', { type: 'string', requiresArg: true, describe: 'The file to write; else it is printed' })
      .example('$0 migration sql 2 --out 0002.sql', 'Before it is run here: what brings a database along'),
  handler: (args) => {
    const out = textOf(args.out);
    if (out === undefined && args.format === 'json')
      throw new Trouble('unusable-call', 'the statements and what is told of them would go the same way', {
        mend: 'Say --out <file>, or leave --format json out.',
      });
    return answer(
      args,
      (call) => migrationSql(call, textOf(args.migration), out, print),
      (result, look) =>
        out === undefined ? { text: '', note: sqlLeftText(result, look) } : migrationSqlText(result, look),
      isComplete,
    );
  },
};
export default command;
