import { inAnyForm } from '../tasks/normalForms.ts';
import { text, textForms } from '../tasks/text.ts';
import { textText } from '../view/text/text.ts';
import { answer, type CommandModule, textOf } from './answer.ts';

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('source', {
        type: 'string',
        demandOption: true,
        describe: 'A Markdown, HTML, JSON or YAML file, a value in an entry, or - for standard input',
      })
      .option('to', { choices: textForms, demandOption: true, requiresArg: true, describe: 'Target form' })
      .option('from', {
        choices: ['html', 'markdown', 'tree'] as const,
        requiresArg: true,
        describe: 'Form of the source, if its name does not show it',
      })
      .option('for', { type: 'string', requiresArg: true, describe: 'A field whose limits the text must meet' })
      .example('$0 text story.html --to tree --for lighthouse.story', 'A page as it would become in an entry')
      .example('$0 text lighthouse/skerry-point#/story --to html', 'A value of an entry as HTML'),
  handler: (args) =>
    answer(
      args,
      (call) =>
        inAnyForm(String(args.source), (source) =>
          text(call, {
            source,
            to: textForms.find((definition) => definition === args.to) ?? 'tree',
            from: (['html', 'markdown', 'tree'] as const).find((form) => form === args.from),
            for: textOf(args.for),
          }),
        ),
      textText,
    ),
};
export default command;
