// The peer: reads every entry of a workspace, or with `model` every file of its model, parses it with the same parser, and
// does no more.
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { parseDocument } from 'yaml';
import { entryFiles, readEntry } from './generate.mjs';

const [folder, what] = process.argv.slice(2);
const files =
  what === 'model'
    ? readdirSync(join(folder, 'model'), { recursive: true, encoding: 'utf8' })
        .filter((file) => file.endsWith('.yaml'))
        .map((file) => join(folder, 'model', file))
    : entryFiles(folder);
let keys = 0;
for (const file of files) {
  const text = readEntry(file);
  const yaml = file.endsWith('.md') ? (text.split(/^---$/mu)[1] ?? '') : text;
  keys += Object.keys(parseDocument(yaml).toJS()).length;
}
if (keys === 0) throw new Error('nothing was read');
