import { nameFrom } from '../../core/definition/address.ts';
import { labelled, unfitWords } from '../../tasks/add/definition.ts';
import { addCommand, givenTexts } from './addCommand.ts';

export default addCommand({
  call: 'add taxonomy',
  builder: (yargs) =>
    yargs
      .positional('name', { type: 'string', describe: 'Its name: “Topic”' })
      .option('about', { type: 'string', requiresArg: true, describe: 'What it classifies, and how' })
      .option('open', { type: 'boolean', describe: 'That authors add terms while they write' })
      .option('address', {
        type: 'string',
        requiresArg: true,
        describe: 'The pattern of its addresses: /topics/{path}',
      })
      .example('$0 add taxonomy Topic --open', 'Writes model/taxonomies/topic.yaml'),
  needed: [{ name: 'name', text: 'What is it called?', wrong: unfitWords }],
  questions: [{ name: 'about', text: 'What does it classify, and how?' }],
  wanted: (args) => {
    const words = String(args.name);
    const name = nameFrom(words);

    return {
      what: 'taxonomy',
      name,
      says: {
        ...labelled(words, name),
        ...givenTexts(args, 'about'),
        ...(args.open === true ? { open: true } : {}),
        ...givenTexts(args, 'address'),
      },
    };
  },
});
