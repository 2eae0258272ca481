// Runs a command of the built program in some folders, one after the other, and prints for each the milliseconds of
// processor time that it took. Arguments: the folders as a JSON list, then the command.
import { main } from '../../dist/program.js';

const [folders = '[]', ...args] = process.argv.slice(2);
const { write } = process.stdout;
const times = [];
for (const folder of JSON.parse(folders)) {
  process.chdir(folder);
  const before = process.cpuUsage();
  process.stdout.write = () => true;
  process.stderr.write = () => true;
  await main(args, '0.0.0');
  process.stdout.write = write;
  const { user, system } = process.cpuUsage(before);
  times.push((user + system) / 1000);
}
process.exitCode = 0;
write.call(process.stdout, JSON.stringify(times));
