// The unavoidable part of comparing two models, for comparison: parses both as JSON and looks whether they are the same.
import { readFileSync } from 'node:fs';
import { isDeepStrictEqual } from 'node:util';

const [one, other] = process.argv.slice(2).map((file) => JSON.parse(readFileSync(file, 'utf8')));
console.log(isDeepStrictEqual(one, other));
