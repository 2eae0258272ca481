// The unavoidable part of a run, for comparison: reads every Markdown and YAML file of a type, changes a line, writes it
// beside its place, renames it there, and flushes the folder once at the end.
import { closeSync, fsyncSync, openSync, readdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

const [folder, from, to] = process.argv.slice(2);
for (const name of readdirSync(folder)) {
  const file = join(folder, name);
  writeFileSync(`${file}.new`, readFileSync(file, 'utf8').replace(new RegExp(`^${from}:`, 'mu'), `${to}:`));
  renameSync(`${file}.new`, file);
}
const handle = openSync(folder, 'r');
fsyncSync(handle);
closeSync(handle);
