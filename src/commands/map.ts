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
        describe: 'For a person, a picture, or for a program',
      })
      .option('around', {
        type: 'string',
        array: true,
        requiresArg: true,
        describe: 'Only what stands around a type, a kit or a taxonomy',
      })
      .option('since', {
        type: 'string',
        requiresArg: true,
        describe: 'What became of it since a revision, a commit of git or another folder',
      })
      .option('depth', {
        type: 'string',
        requiresArg: true,
        implies: 'around',
        describe: 'How many arrows far that goes (1)',
      })
      .option('language', { type: 'string', requiresArg: true, describe: 'Say labels in this language' })
      .example('$0 map', 'What points at what, and how often')
      .example('$0 map --format svg > map.svg', 'The same as a picture')
      .example('$0 map --format png > map.png', 'And in pixels, by the browser of this machine')
      .example('$0 map --around lighthouse --format svg > light.svg', 'A part of it')
      .example('$0 map --since 1 --format svg > change.svg', 'What is new, gone or different since revision 1')
      .example('$0 map --format mermaid', 'The same for tools that draw it themselves'),
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
