// The peer: reads every entry of a workspace, or with `model` every file of its model, parses it as what it is, and does
// no more.
import { createReadStream, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { parseDocument } from 'yaml';
import { entryFiles, readEntry } from './generate.mjs';

const [folder, what] = process.argv.slice(2);
const files =
  what === 'model'
    ? readdirSync(join(folder, 'model'), { recursive: true, encoding: 'utf8' })
        .filter((file) => file.endsWith('.yaml'))
        .map((file) => join(folder, 'model', file))
    : entryFiles(folder);

function parsed(file) {
  const text = readEntry(file);
  if (file.endsWith('.json')) return JSON.parse(text);
  return parseDocument(file.endsWith('.md') ? (text.split(/^---$/mu)[1] ?? '') : text).toJS();
}

let keys = 0;
for (const file of files)
  if (file.endsWith('.ndjson'))
    for await (const line of createInterface({ input: createReadStream(file) }))
      keys += Object.keys(JSON.parse(line)).length;
  else keys += Object.keys(parsed(file)).length;
if (keys === 0) throw new Error('nothing was read');
