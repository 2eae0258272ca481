// The licences of the packages that are bundled into dist/: their texts are owed to whoever gets a copy.
import { readdirSync, readFileSync } from 'node:fs';
import { join, relative } from 'node:path';

/** Files in which a package keeps its licence and what it says beside it. */
const licenceName = /^(?:licen[cs]e|copying|notice)(?:[.-].*)?$/iu;

/** Licences whose text is asked for by name where a package carries none: what it says of itself is all that there is. */
const standardTexts = {
  MIT: (holder) => `MIT License

Copyright (c) ${holder}

Permission is hereby granted, free of charge, to any person obtaining a copy of this software and associated documentation files (the "Software"), to deal in the Software without restriction, including without limitation the rights to use, copy, modify, merge, publish, distribute, sublicense, and/or sell copies of the Software, and to permit persons to whom the Software is furnished to do so, subject to the following conditions:

The above copyright notice and this permission notice shall be included in all copies or substantial portions of the Software.

THE SOFTWARE IS PROVIDED "AS IS", WITHOUT WARRANTY OF ANY KIND, EXPRESS OR IMPLIED, INCLUDING BUT NOT LIMITED TO THE WARRANTIES OF MERCHANTABILITY, FITNESS FOR A PARTICULAR PURPOSE AND NONINFRINGEMENT. IN NO EVENT SHALL THE AUTHORS OR COPYRIGHT HOLDERS BE LIABLE FOR ANY CLAIM, DAMAGES OR OTHER LIABILITY, WHETHER IN AN ACTION OF CONTRACT, TORT OR OTHERWISE, ARISING FROM, OUT OF OR IN CONNECTION WITH THE SOFTWARE OR THE USE OR OTHER DEALINGS IN THE SOFTWARE.`,
  ISC: (holder) => `ISC License

Copyright (c) ${holder}

Permission to use, copy, modify, and/or distribute this software for any purpose with or without fee is hereby granted, provided that the above copyright notice and this permission notice appear in all copies.

THE SOFTWARE IS PROVIDED "AS IS" AND THE AUTHOR DISCLAIMS ALL WARRANTIES WITH REGARD TO THIS SOFTWARE INCLUDING ALL IMPLIED WARRANTIES OF MERCHANTABILITY AND FITNESS. IN NO EVENT SHALL THE AUTHOR BE LIABLE FOR ANY SPECIAL, DIRECT, INDIRECT, OR CONSEQUENTIAL DAMAGES OR ANY DAMAGES WHATSOEVER RESULTING FROM LOSS OF USE, DATA OR PROFITS, WHETHER IN AN ACTION OF CONTRACT, NEGLIGENCE OR OTHER TORTIOUS ACTION, ARISING OUT OF OR IN CONNECTION WITH THE USE OR PERFORMANCE OF THIS SOFTWARE.`,
};

/** The folder of the package that a module is of; nothing for our own. */
export function packageOf(module) {
  const file = module.replace(/^\0+/u, '').replace(/\?.*$/u, '');
  const at = file.lastIndexOf('/node_modules/');
  if (at < 0) return undefined;
  const parts = file.slice(at + '/node_modules/'.length).split('/');
  const length = parts[0].startsWith('@') ? 2 : 1;
  return [file.slice(0, at), 'node_modules', ...parts.slice(0, length)].join('/');
}

/**
 * The text of the notices of all packages that modules are of, in the order of their names.
 * @throws {Error} where a package carries no text of its licence and it is none of the common ones.
 */
export function noticesOf(modules) {
  const folders = [...new Set([...modules].map(packageOf))].filter((folder) => folder !== undefined);
  const notices = folders.map(noticeOf).sort((a, b) => (a.name < b.name ? -1 : 1));
  // Several versions of one package, with one text.
  const texts = new Map(notices.map(({ name, text }) => [`${name}\n\n${text}`, { name, text }]));
  const rule = '─'.repeat(78);
  const head = `Lumbrik is one program with ${texts.size} packages in it. Their licences:\n`;
  return [head, ...[...texts.values()].map(({ name, text }) => `${rule}\n${name}\n\n${text}\n`)].join('\n');
}

function noticeOf(folder) {
  const { name, version, license, author, contributors } = JSON.parse(
    readFileSync(join(folder, 'package.json'), 'utf8'),
  );
  const title = `${name} ${version} (${license})`;
  const own = readdirSync(folder).filter((file) => licenceName.test(file));
  if (own.length > 0)
    return { name: title, text: own.map((file) => readFileSync(join(folder, file), 'utf8').trim()).join('\n\n') };
  const holder = author?.name ?? author ?? contributors?.[0]?.name ?? contributors?.[0] ?? `the authors of ${name}`;
  const standard = standardTexts[license];
  if (!standard) throw new Error(`${relative('.', folder)} carries no text of its licence (${license})`);
  return { name: title, text: standard(String(holder).replace(/\s*[<(].*$/u, '')) };
}
