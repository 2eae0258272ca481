import type { Argv } from 'yargs';

/** The options that every command has. */
export const withCommonOptions = (yargs: Argv): Argv =>
  yargs
    .option('workspace', {
      type: 'string',
      requiresArg: true,
      global: true,
      describe: 'The folder of the workspace; else the nearest upwards',
    })
    .option('format', {
      choices: ['text', 'json'],
      default: 'text',
      requiresArg: true,
      global: true,
      describe: 'For a person, or for a program',
    })
    .option('color', { type: 'boolean', global: true, describe: 'Colours; --no-color for none (NO_COLOR is honoured)' })
    .option('debug', {
      type: 'boolean',
      global: true,
      hidden: true,
      describe: 'Show where in the tool an error came from',
    });
