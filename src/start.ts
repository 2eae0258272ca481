import { readFileSync } from 'node:fs';
import { watchOutput } from './view/outputLost.ts';

const { version } = JSON.parse(readFileSync(new URL('../package.json', import.meta.url), 'utf8')) as {
  version: string;
};
const args = process.argv.slice(2);

// The version is asked for by scripts, often: it is answered before anything else is loaded.
watchOutput();
if (args.length === 1 && args[0] === '--version') process.stdout.write(`${version}\n`);
else void start();

async function start(): Promise<void> {
  // What an error names is ours with --debug, not what the bundler made of it. Has to be said before anything is loaded,
  // and is said of modules that Node itself compiles.
  if (args.includes('--debug')) process.setSourceMapsEnabled(true);
  else process.on('exit', (await import('./compileCache.ts')).recallCompiled(import.meta.dirname));
  const { main } = await import('./program.ts');
  await main(args, version);
}
