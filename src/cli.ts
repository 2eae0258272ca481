#!/usr/bin/env node
import { readFileSync } from 'node:fs';

const { version } = JSON.parse(readFileSync(new URL('../package.json', import.meta.url), 'utf8')) as {
  version: string;
};
const args = process.argv.slice(2);

// What an error names is then ours, not what the bundler made of it. Has to be said before anything else is loaded.
if (args.includes('--debug')) process.setSourceMapsEnabled(true);

// The version is asked for by scripts, often: it is answered before anything else is loaded.
if (args.length === 1 && args[0] === '--version') process.stdout.write(`${version}\n`);
else await (await import('./program.ts')).main(args, version);
