#!/usr/bin/env node
// Plays the whole story on the worked example, in a temporary folder: what is typed, and what comes back.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { styleText } from 'node:util';
import {
  answers,
  changeOfMind,
  edit,
  fourthThoughts,
  guide,
  newestMigration,
  seasons,
  secondThoughts,
  thirdThoughts,
  visiting,
} from './story.mjs';

const program = fileURLToPath(new URL('../dist/cli.js', import.meta.url));
const start = mkdtempSync(join(tmpdir(), 'lumbrik-demo-'));
const coast = join(start, 'coast');
const color = process.stdout.isTTY && !process.env.NO_COLOR;
const paint = (style, text) => (color ? styleText(style, text) : text);

try {
  say('A trust looks after eleven lights. Its content is modelled in files.');
  lumbrik('new coast --starter lighthouses', start);
  lumbrik('show');
  lumbrik('show lighthouse');

  say('Every entry is checked against the model; then the model is recorded.');
  lumbrik('check');
  lumbrik('seal -m "The first model"');

  say('A change of mind: a better name, a tighter limit, a new required field.');
  for (const { file, edits } of changeOfMind) show(file, edits);
  lumbrik('diff');

  say('The migration is drafted. What only a person can decide is left open.');
  lumbrik('migration draft');
  const migration = newestMigration(coast);
  print(migration);
  lumbrik('migration run', coast, 3);

  say('The questions are answered in the file, and it is rehearsed on the real entries.');
  show(migration, answers);
  lumbrik('migration rehearse');

  say('Then it runs: all of it or nothing.');
  lumbrik('migration run');
  print('content/lighthouse/holm-head.md');
  lumbrik('check');
  lumbrik('seal -m "Focal heights, and how to get there"');

  say('A second one: minutes are a length of time, a departure has several guides, a season is one of a list.');
  for (const { file, edits } of secondThoughts) show(file, edits);
  writeFileSync(join(coast, seasons.file), seasons.text);
  print(seasons.file);
  lumbrik('diff');

  say('What was meant shows in the names and in the values. The questions are answered one by one.');
  lumbrik('migration draft');
  lumbrik('migration answer --step 1 --yes');
  lumbrik('migration answer --yes');
  lumbrik('migration rehearse');
  lumbrik('migration run');
  print('content/tour/harbour-lights.md');
  lumbrik('seal -m "Lengths, guides and seasons"');

  say('The third: what visitors need is kept once, a life is structured text, and misspelt topics are merged.');
  for (const { file, edits } of thirdThoughts) change(file, edits);
  writeFileSync(join(coast, visiting.file), visiting.text);
  print(visiting.file);
  lumbrik('migration draft --merge topic:bird=birds --merge topic:strom-damage=storm-damage');
  lumbrik('migration rehearse');
  lumbrik('migration run');
  lumbrik('seal -m "What visitors need, and lives with headings"');

  say('The fourth: whoever leads tours today is a guide and no keeper. One type becomes two, and references follow.');
  for (const { file, edits } of fourthThoughts) change(file, edits);
  writeFileSync(join(coast, guide.file), guide.text);
  lumbrik('migration draft');
  lumbrik('migration answer --step 6 --yes');
  lumbrik('migration answer --yes');
  lumbrik('migration rehearse --prove');
  lumbrik('migration run');
  lumbrik('check');
  lumbrik('seal -m "Keepers and guides"');
  lumbrik('history');

  say('And it can be taken back, byte for byte; what was corrected in the meantime stays corrected.');
  const [moved, kept] = ['content/guide/ida-fell.yaml', 'content/keeper/ida-fell.yaml'];
  show(moved, [['name: Ida Fell', 'name: Ida Fell-Moor']]);
  lumbrik('migration undo');
  print(kept);
  lumbrik('migration list');
  if (!readFileSync(join(coast, kept), 'utf8').includes('Fell-Moor'))
    throw new Error(`${kept} lost what was corrected`);
  say('Done. Everything above was real; the folder it played in is removed now.');
} finally {
  rmSync(start, { recursive: true, force: true });
}

function say(text) {
  console.log(`\n${paint('bold', `── ${text}`)}\n`);
}

/** Runs a command as a person would type it, shows both, and insists on its exit code. */
function lumbrik(line, folder = coast, expected = 0) {
  console.log(paint('cyan', `$ lumbrik ${line}`));
  const args = [...line.matchAll(/"([^"]*)"|(\S+)/gu)].map(([, quoted, word]) => quoted ?? word);
  const { status, stdout, stderr } = spawnSync(process.execPath, [program, ...args, ...(color ? ['--color'] : [])], {
    cwd: folder,
    encoding: 'utf8',
  });
  console.log(stdout + stderr);
  if (status !== expected) throw new Error(`lumbrik ${line} ended with ${status}, not ${expected}`);
}

/** Makes edits without showing them: there are many. */
function change(file, edits) {
  edit(coast, file, edits);
  console.log(paint('cyan', `# edit ${file}`));
}

function show(file, edits) {
  const { gone, come } = edit(coast, file, edits);
  console.log(paint('cyan', `# edit ${file}`));
  for (const line of gone) console.log(paint('red', `- ${line}`));
  for (const line of come) console.log(paint('green', `+ ${line}`));
  console.log();
}

function print(file) {
  console.log(paint('cyan', `$ cat ${file}`));
  console.log(readFileSync(join(coast, file), 'utf8'));
}
