import { slugify } from '../../core/plain/slugify.ts';
import { labelled } from '../../tasks/add/definition.ts';
import { offered } from '../../tasks/promptChoices.ts';
import { textOf } from '../answer.ts';
import { addCommand, givenTexts } from './addCommand.ts';

export default addCommand({
  call: 'add term',
  builder: (yargs) =>
    yargs
      .positional('to', { type: 'string', describe: 'The taxonomy that it is added to' })
      .positional('name', { type: 'string', describe: 'What readers see: “Holm Bay”' })
      .option('under', { type: 'string', requiresArg: true, describe: 'The term that it stands under' })
      .option('about', { type: 'string', requiresArg: true, describe: 'What belongs under it' })
      .example(
        '$0 add term region "Holm Bay" --under north',
        'Adds holm-bay; many at once: lumbrik terms region --add',
      ),
  needed: [
    { name: 'to', text: 'To which taxonomy is it added?', among: (call) => offered(call, ['taxonomy']) },
    { name: 'name', text: 'What do readers see?' },
  ],
  questions: [],
  wanted: (args) => {
    const words = String(args.name);
    const name = slugify(words);
    return {
      what: 'term',
      to: String(args.to).replace(/:$/u, ''),
      name,
      under: textOf(args.under),
      says: { ...labelled(words, name), ...givenTexts(args, 'about') },
    };
  },
});
