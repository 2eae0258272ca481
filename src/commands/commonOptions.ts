import type { Argv } from 'yargs';

/** The options that every command has. */
export const withCommonOptions = (yargs: Argv): Argv =>
  yargs
    .option('workspace', {
      type: 'string',
      requiresArg: true,
      global: true,
      describe: 'Workspace folder (default: the nearest one upwards)',
    })
    .option('format', {
      choices: ['text', 'json'],
      default: 'text',
      requiresArg: true,
      global: true,
      describe: 'Output format',
    })
    .option('color', {
      type: 'boolean',
      global: true,
      describe: 'Colours; --no-color turns them off, as does NO_COLOR',
    })
    .option('debug', {
      type: 'boolean',
      global: true,
      hidden: true,
      describe: 'Show where in the tool an error came from',
    });
