import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { beforeAll, describe, expect, test } from 'vitest';
import type { Kind } from '../src/core/kinds/define.ts';
import { nowhere } from '../src/core/kinds/nowhere.ts';
import { root } from './support/program.ts';

describe('the kind that docs/contributing/architecture.md shows [C1]', () => {
  let isbn: Kind;

  beforeAll(async () => {
    const page = fs.readFileSync(path.join(root, 'docs/contributing/architecture.md'), 'utf8');
    const code = /```ts\n(import \{ z \} from 'zod';\n.*?)```/su.exec(page)?.[1] ?? '';
    const from = (name: string): string => pathToFileURL(path.join(root, name)).href;
    const file = path.join(fs.mkdtempSync(path.join(os.tmpdir(), 'example-')), 'isbn.ts');
    fs.writeFileSync(
      file,
      code.replaceAll("'./", `'${from('src/core/kinds')}/`).replace("'zod'", `'${from('node_modules/zod/index.js')}'`),
    );
    ({ isbn } = await import(pathToFileURL(file).href));
  });

  test.each([
    [{}, '9780000000002'],
    [{ prefix: '979' }, '9790000000001'],
    [{ prefix: '979' }, '9780000000002'],
    [{}, '978-0-00-000000-2'],
    [{}, '978000000000'],
    [{ prefix: '978' }, '97800000000021'],
    [{}, 9780000000002],
  ])('with %j its schema takes what its check takes: %j', (options, value) => {
    let isFine = true;
    isbn.check(options, nowhere)(value, () => {
      isFine = false;
    });
    const shape = isbn.stores(options, nowhere);
    const patterns = shape.is === 'text' ? (shape.patterns ?? []) : [];
    const fits = typeof value === 'string' && patterns.every((pattern) => new RegExp(pattern, 'u').test(value));
    expect([shape.is, fits]).toEqual(['text', isFine]);
  });

  test('is explained by an example that its own check takes, and by words for authors', () => {
    expect(isbn.example.options).toEqual({ prefix: '978' });
    expect(isbn.guide.en).toBe('A number of thirteen digits');
    isbn.check({ prefix: '978' }, nowhere)(isbn.example.value, () => expect.unreachable());
  });
});
