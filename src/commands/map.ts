import { map } from '../tasks/map.ts';
import { dot, mermaid } from '../view/map/graphText.ts';
import { png } from '../view/map/png.ts';
import { svg } from '../view/map/svg.ts';
import { mapText } from '../view/text/map.ts';
import { unreadText } from '../view/text/unread.ts';
import { answer, type CommandModule, isComplete, textOf, textsOf } from './answer.ts';
import { limitOf } from './limit.ts';

const forms = { svg, png, dot, mermaid };

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .option('format', {
        choices: Object.keys(forms),
        describe: 'Output format',
      })
      .option('around', {
        type: 'string',
        array: true,
        requiresArg: true,
        describe: 'Only the surroundings of a type, kit or taxonomy',
      })
      .option('since', {
        type: 'string',
        requiresArg: true,
        describe: 'Mark changes since a revision, a commit or another workspace',
      })
      .option('depth', {
        type: 'string',
        requiresArg: true,
        implies: 'around',
        describe: 'Number of arrows from there (default 1)',
      })
      .option('language', { type: 'string', requiresArg: true, describe: 'Show labels in this language' })
      .example('$0 map', 'References between types, with counts')
      .example('$0 map --format svg > map.svg', 'As a picture')
      .example('$0 map --format png > map.png', 'In pixels, drawn by a browser on this machine')
      .example('$0 map --around lighthouse --format svg > light.svg', 'A part of the map')
      .example('$0 map --since 1 --format svg > change.svg', 'Changes since revision 1')
      .example('$0 map --format mermaid', 'For tools that draw it themselves'),
  handler: (args) =>
    answer(
      args,
      (call) =>
        map(call, {
          around: textsOf(args.around),
          since: textOf(args.since),
          depth: limitOf(args.depth, 'depth') ?? 1,
          language: textOf(args.language),
        }),
      { view: mapText, reports: forms, note: ({ unreadable }, look) => unreadText(unreadable, look) },
      isComplete,
    ),
};
export default command;
