import { inAnyForm } from '../tasks/normalForms.ts';
import { trace } from '../tasks/trace.ts';
import { traceText } from '../view/text/trace.ts';
import { Trouble } from '../workspace/trouble.ts';
import { answer, type CommandModule, textOf } from './answer.ts';

const deepest = 20;

const command: CommandModule = {
  builder: (yargs) =>
    yargs
      .positional('entry', { type: 'string', describe: 'The entry to start from' })
      .option('depth', {
        type: 'string',
        default: '2',
        requiresArg: true,
        describe: `Number of references to follow, up to ${deepest}`,
      })
      .option('publishing', {
        type: 'boolean',
        describe: 'Show an order for publishing it and the entries that it needs',
      })
      .option('deleting', { type: 'boolean', describe: 'List references that would dangle without it' })
      .option('unlinked', { type: 'boolean', describe: 'List entries that nothing points at' })
      .conflicts({ publishing: ['deleting', 'unlinked'], deleting: 'unlinked', unlinked: 'entry' })
      .example('$0 trace lighthouse/skerry-point', 'Its references in both directions, and its siblings')
      .example('$0 trace tour/light-and-lens --publishing', 'An order for publishing')
      .example('$0 trace --unlinked', 'Entries that nothing points at'),
  handler: (args) => {
    const ask = (['publishing', 'deleting', 'unlinked'] as const).find((name) => args[name] === true) ?? 'around';
    return answer(
      args,
      (call) => inAnyForm(textOf(args.entry), (entry) => trace(call, { entry, depth: depthOf(args.depth), ask })),
      traceText,
      (result) => !('ok' in result) || result.ok,
    );
  },
};
export default command;

function depthOf(text: unknown): number {
  const depth = Number(text);
  if (Number.isInteger(depth) && depth >= 1 && depth <= deepest) return depth;
  throw new Trouble('unusable-call', `--depth ${String(text)} is no number from 1 to ${deepest}`, {
    mend: 'Write for example --depth 3',
  });
}
