// The peer of `lumbrik check`: reads every entry of a workspace and parses it, with the same parser, and does no more.
import { parseDocument } from 'yaml';
import { entryFiles, readEntry } from './generate.mjs';

let keys = 0;
for (const file of entryFiles(process.argv[2])) {
  const text = readEntry(file);
  const yaml = file.endsWith('.md') ? (text.split(/^---$/mu)[1] ?? '') : text;
  keys += Object.keys(parseDocument(yaml).toJS()).length;
}
if (keys === 0) throw new Error('nothing was read');
