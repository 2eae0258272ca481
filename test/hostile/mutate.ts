import fs from 'node:fs';
import path from 'node:path';
import type { Random } from '../support/random.ts';

/** Pieces that break things: of YAML, JSON, Markdown, expressions, patterns, paths, and bytes that are no text. */
const pieces: readonly string[] = [
  ...[
    '\0',
    '\ufeff',
    '\u2028',
    '\u202e',
    '\u001b[2K',
    '😀',
    '\ud800',
    '\r',
    '\n',
    '\t',
    ' ',
    '  ',
    '"',
    "'",
    '`',
    '\\',
  ],
  ...[
    '{',
    '}',
    '[',
    ']',
    ':',
    ': ',
    ',',
    '- ',
    '# ',
    '---\n',
    '...\n',
    '!!js/function x',
    '!x ',
    '&a ',
    '*a',
    '<<: *a',
    '|',
    '>-',
    '? ',
  ],
  ...[
    '__proto__',
    'constructor',
    'prototype',
    'toString',
    'null',
    '~',
    'true',
    '-0',
    '1e999',
    '9007199254740993',
    '0x1F',
    '.inf',
    '.nan',
  ],
  ...[
    '../outside/x',
    '/etc/passwd',
    'content/../../outside/a.txt',
    'file:///etc/passwd',
    '../../../../x',
    '.git/config',
    'C:\\x',
    '//x',
  ],
  ...['(a+)+$', '(?=a)', '\\1', '[', '(?:a{100}){100}', 'entry.', 'entry.name.all(x, x)', '1/0', '"a".matches("(")'],
  ...[
    'done',
    'running',
    'undoing',
    'undone',
    '0'.repeat(64),
    'f'.repeat(64),
    '99999999999999999999',
    '-1',
    'draft',
    'published',
  ],
  ...[
    'type: light\n',
    'kind: text',
    'kind: object',
    'extends: light\n',
    'open: true\n',
    'use: contactPhone',
    'limits: { fileNodes: 1000 }\n',
  ],
];

interface Mutation {
  readonly name: string;
  /** Changes a file in its place. */
  readonly change: (file: string, random: Random, others: readonly string[]) => void;
}

const bytes = (name: string, change: (before: Buffer, random: Random) => Buffer): Mutation => ({
  name,
  change: (file, random) => fs.writeFileSync(file, change(fs.readFileSync(file), random)),
});

const cut = (before: Buffer, from: number, to: number, instead: Buffer = Buffer.alloc(0)): Buffer =>
  Buffer.concat([before.subarray(0, from), instead, before.subarray(to)]);

/** Ways in which a file can come to be something else than what it was. */
const mutations: readonly Mutation[] = [
  bytes('a bit is another', (before, random) => {
    const after = Buffer.from(before);
    if (after.length > 0) after[random.below(after.length)] = random.below(256);
    return after;
  }),
  bytes('a stretch is gone', (before, random) => {
    const from = random.below(before.length + 1);
    return cut(before, from, Math.min(before.length, from + 1 + random.below(40)));
  }),
  bytes('it ends early', (before, random) => before.subarray(0, random.below(before.length + 1))),
  bytes('a piece came in', (before, random) => {
    const at = random.below(before.length + 1);
    return cut(before, at, at, Buffer.from(random.pick(pieces), 'utf8'));
  }),
  bytes('a piece stands for a stretch', (before, random) => {
    const from = random.below(before.length + 1);
    return cut(
      before,
      from,
      Math.min(before.length, from + random.below(12)),
      Buffer.from(random.pick(pieces), 'utf8'),
    );
  }),
  bytes('a word is another', (before, random) => {
    const text = before.toString('latin1');
    const words = [...text.matchAll(/[\w./-]+/gu)];
    if (words.length === 0) return before;
    const word = random.pick(words);
    const at = word.index ?? 0;
    const instead = random.next() < 0.5 ? random.pick(pieces) : (random.pick(words)[0] ?? '');
    return cut(before, at, at + word[0].length, Buffer.from(instead, 'utf8'));
  }),
  bytes('a line stands twice', (before, random) => {
    const lines = before.toString('latin1').split('\n');
    const at = random.below(lines.length);
    return Buffer.from([...lines.slice(0, at), lines[at], ...lines.slice(at)].join('\n'), 'latin1');
  }),
  bytes('a line is gone', (before, random) => {
    const lines = before.toString('latin1').split('\n');
    lines.splice(random.below(lines.length), 1);
    return Buffer.from(lines.join('\n'), 'latin1');
  }),
  bytes('a line is set in', (before, random) => {
    const lines = before.toString('latin1').split('\n');
    const at = random.below(lines.length);
    lines[at] = `${' '.repeat(random.below(6))}${lines[at]}`;
    return Buffer.from(lines.join('\n'), 'latin1');
  }),
  bytes('something stands many times', (before, random) =>
    Buffer.concat([before, Buffer.from(random.pick(pieces).repeat(1 + random.below(3000)), 'utf8')]),
  ),
  bytes('it is nested deeply', (before, random) => {
    const at = random.below(before.length + 1);
    return cut(
      before,
      at,
      at,
      Buffer.from(random.pick(['[', '{"a":', '- ', '(', '> ']).repeat(1 + random.below(3000)), 'utf8'),
    );
  }),
  { name: 'it is empty', change: (file) => fs.truncateSync(file) },
  { name: 'it is gone', change: (file) => fs.rmSync(file) },
  {
    name: 'it is another file',
    change: (file, random, others) => fs.copyFileSync(random.pick(others), file),
  },
  {
    name: 'it is a folder',
    change: (file) => {
      fs.rmSync(file);
      fs.mkdirSync(file);
    },
  },
  {
    name: 'it is a link',
    change: (file, random) => {
      fs.rmSync(file);
      fs.symlinkSync(
        random.pick(['../outside/a.txt', '/etc/passwd', path.basename(file), 'nowhere', '..', '../../../outside/deep']),
        file,
      );
    },
  },
  {
    name: 'its folder is a link',
    change: (file, random) => {
      // The workspace itself may be a link: its files are then those that the link leads to.
      if (fs.existsSync(path.join(path.dirname(file), 'list.txt'))) return fs.rmSync(file);
      fs.rmSync(path.dirname(file), { recursive: true });
      fs.symlinkSync(random.pick(['../outside', '../../outside', '../../../outside', 'nowhere']), path.dirname(file));
    },
  },
  { name: 'it may not be read', change: (file) => fs.chmodSync(file, 0) },
  {
    name: 'another stands beside it',
    change: (file, random, others) =>
      fs.copyFileSync(
        random.pick(others),
        path.join(
          path.dirname(file),
          random.pick(['z.yaml', 'a.json', 'A.md', 'aux.yaml', '-x.yaml', ' .yaml', 'x\ny.yaml']),
        ),
      ),
  },
];

/** Changes one file in some way. @returns what was done, and to which file. */
export function mutate(
  folder: string,
  files: readonly string[],
  random: Random,
): { readonly file: string; readonly what: string } {
  const file = random.pick(files);
  const mutation = random.pick(mutations);
  mutation.change(
    path.join(folder, file),
    random,
    files.map((one) => path.join(folder, one)),
  );
  return { file, what: mutation.name };
}
