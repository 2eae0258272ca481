// The peer: reads every line of a file, parses it, and checks its structure with a validator made from its JSON Schema.
import { createReadStream, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { Ajv2020 } from 'ajv/dist/2020.js';

const [folder, type, file] = process.argv.slice(2);
const schema = JSON.parse(readFileSync(join(folder, `schemas/entries/${type}.json`), 'utf8'));
const validate = new Ajv2020({ allErrors: true, strict: false, validateFormats: false }).compile(schema);
let right = 0;
for await (const line of createInterface({ input: createReadStream(join(folder, file)) })) {
  const { id: _, ...entry } = JSON.parse(line);
  if (validate(entry)) right += 1;
}
if (right === 0) throw new Error('nothing was right');
