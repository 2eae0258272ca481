import { readFileSync } from 'node:fs';
import { watchOutput } from './view/outputLost.ts';

const { version } = JSON.parse(readFileSync(new URL('../package.json', import.meta.url), 'utf8')) as {
  version: string;
};
const args = process.argv.slice(2);

// Scripts ask for the version often: the answer comes before anything else is loaded.
watchOutput();
if (args.length === 1 && args[0] === '--version') process.stdout.write(`${version}\n`);
else void start();

async function start(): Promise<void> {
  // With --debug, an error names our sources and not what the bundler made of them. Node wants to know it before it loads
  // a module, and uses it for modules that it compiles itself.
  if (args.includes('--debug')) process.setSourceMapsEnabled(true);
  else process.on('exit', (await import('./compileCache.ts')).recallCompiled(import.meta.dirname));
  const { main } = await import('./program.ts');
  await main(args, version);
}
