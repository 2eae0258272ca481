import { nameFrom } from '../../core/definition/address.ts';
import { labelled, unfitWords } from '../../tasks/add/definition.ts';
import { textsOf } from '../answer.ts';
import { addCommand, givenTexts } from './addCommand.ts';

export default addCommand({
  call: 'add kit',
  builder: (yargs) =>
    yargs
      .positional('name', { type: 'string', describe: 'Its name: “Sharing”' })
      .option('about', { type: 'string', requiresArg: true, describe: 'Which facts it keeps together' })
      .option('kit', {
        type: 'string',
        array: true,
        requiresArg: true,
        describe: 'Another kit whose fields it has too',
      })
      .example('$0 add kit Sharing', 'Writes model/kits/sharing.yaml; then add fields to it'),
  needed: [{ name: 'name', text: 'What is it called?', wrong: unfitWords }],
  questions: [{ name: 'about', text: 'Which facts does it keep together?' }],
  wanted: (args) => {
    const words = String(args.name);
    const name = nameFrom(words);
    const kits = textsOf(args.kit);
    const definition = { ...labelled(words, name), ...givenTexts(args, 'about'), ...(kits.length > 0 ? { kits } : {}) };
    return { what: 'kit', name, says: definition };
  },
});
