import { nameFrom } from '../../core/definition/address.ts';
import { labelsOf, unfitWords } from '../../tasks/add/definition.ts';
import { textOf, textsOf } from '../answer.ts';
import { addCommand, givenTexts } from './addCommand.ts';

export default addCommand({
  call: 'add type',
  builder: (yargs) =>
    yargs
      .positional('name', { type: 'string', describe: 'Its name in the singular: “Light house”' })
      .option('plural', { type: 'string', requiresArg: true, describe: 'Its name in the plural' })
      .option('about', { type: 'string', requiresArg: true, describe: 'Description for people who read the model' })
      .option('guide', { type: 'string', requiresArg: true, describe: 'Guidance for authors' })
      .option('single', { type: 'boolean', describe: 'Exactly one entry exists' })
      .option('extends', { type: 'string', requiresArg: true, describe: 'The type that it extends' })
      .option('kit', { type: 'string', array: true, requiresArg: true, describe: 'A kit whose fields it uses' })
      .example(
        '$0 add type "Light house" --about "A light that the trust looks after."',
        'Writes model/types/lightHouse.yaml',
      ),
  needed: [{ name: 'name', text: 'What is its name in the singular?', wrong: unfitWords }],
  questions: [
    { name: 'plural', text: 'What is its name in the plural?' },
    { name: 'about', text: 'How do you describe it to people who read the model?' },
  ],
  wanted: (args) => {
    const words = String(args.name);
    const name = nameFrom(words);
    const label = labelsOf(words, name, textOf(args.plural));
    const kits = textsOf(args.kit);

    return {
      what: 'type',
      name,
      says: {
        ...givenTexts(args, 'extends'),
        ...(kits.length > 0 ? { kits } : {}),
        ...(label ? { label } : {}),
        ...givenTexts(args, 'about', 'guide'),
        ...(args.single === true ? { single: true } : {}),
      },
    };
  },
});
