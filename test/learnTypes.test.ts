import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { parse } from 'yaml';
import { coast, lumbrik, read, result, root, temporary, write } from './support/program.ts';

describe('a model from types of TypeScript, as the compiler understands them [K2]', () => {
  const compiler = (folder: string): void => {
    fs.mkdirSync(path.join(folder, 'node_modules'));
    fs.symlinkSync(path.join(root, 'node_modules/typescript-6'), path.join(folder, 'node_modules/typescript'));
  };
  const typed = async (files: Readonly<Record<string, string>>, name = 'shop.ts') => {
    const folder = temporary();
    write(folder, files);
    compiler(folder);
    const all = await result(folder, ['learn', '--schema', name, '--out', 'new']);
    expect((await lumbrik(path.join(folder, 'new'), ['check'])).code).toBe(0);
    const model = Object.fromEntries(
      all.types.map(({ type }: { type: string }) => [type, parse(read(folder, `new/model/types/${type}.yaml`))]),
    );
    return { model, unsaid: all.unsaid.map(({ at, says }: any) => `${at} ${says}`) };
  };

  test('kinds, limits of comments, forms and what is required; what is code is none of it', async () => {
    const { model, unsaid } = await typed({
      'money.ts': "export interface Money { amount: number; currency: 'EUR' | 'USD' }\n",
      'shop.ts': `
        import type { Money } from './money';
        /** What we sell. */
        export interface Ware {
          id: string;
          /**
           * What it is called.
           * @maxLength 80
           */
          name: string;
          price: Money;
          tags?: string[];
          /** @deprecated */
          old?: boolean;
          state: 'new' | 'sold out';
          colour: 'red' | null;
          finish: 'matt' | 'gloss' | '';
          made: Date;
          home?: URL;
          sizes: Record<string, number>;
          either: string | string[];
          size: Size;
          level: Level;
          code: \`A-\${number}\`;
          mark: string & { __brand: 'X' };
          pair: [number, string];
          map: Map<string, number>;
          whatever: unknown;
          tree: Node;
          some: Partial<Part>;
          ask(): void;
          answer: () => void;
        }
        enum Size { small = 's', middle = 'm' }
        enum Level { low, high }
        interface Part { name: string; count: number }
        interface Node { label: string; inside?: Node[] }
        interface Words { kind: 'words'; text: string }
        interface Picture { kind: 'picture'; src: string; text?: string }
        export interface Page { title: string; blocks: (Words | Picture)[] }
        export type Content = Ware | Page;
        export type Other = Page;
        export interface Both { ware: Ware; page: Page }
        export type Shape = { form: 'round'; radius: number } | { form: 'square'; side: number };
        export interface Box<T> { of: T }
        export class Person { name = ''; born?: Date; greet() { return this.name; } }
        export interface HTMLPage2 { title: string }
        export interface SKU { code: string }
        export const answer = 42;`,
    });
    expect(Object.keys(model).sort()).toEqual(['htmlPage2', 'page', 'person', 'shape', 'sku', 'ware']);
    expect(model.ware.about).toBe('What we sell.');
    const needed = { required: true };
    expect(model.ware.fields).toEqual({
      name: { kind: 'text', max: 80, help: 'What it is called.', ...needed },
      price: {
        kind: 'object',
        fields: {
          amount: { kind: 'decimal', ...needed },
          currency: { kind: 'choice', choices: ['EUR', 'USD'], ...needed },
        },
        ...needed,
      },
      tags: { kind: 'text', many: true },
      old: { kind: 'boolean', help: 'Deprecated.' },
      state: { kind: 'choice', choices: ['new', 'sold out'], ...needed },
      colour: { kind: 'choice', choices: ['red'] },
      finish: { kind: 'choice', choices: ['matt', 'gloss'] },
      made: { kind: 'dateTime', ...needed },
      home: { kind: 'webAddress' },
      sizes: { kind: 'map', keys: { kind: 'text' }, value: { kind: 'decimal' }, ...needed },
      either: { kind: 'text', many: { orOne: true }, ...needed, mayBeEmpty: true },
      size: { kind: 'choice', choices: ['s', 'm'], ...needed },
      level: { kind: 'integer', values: [0, 1], ...needed },
      code: { kind: 'text', ...needed },
      mark: { kind: 'text', ...needed },
      pair: { kind: 'json', ...needed },
      map: { kind: 'json', ...needed },
      whatever: { kind: 'json', ...needed },
      tree: {
        kind: 'object',
        fields: { label: { kind: 'text', ...needed }, inside: { kind: 'json', many: true } },
        ...needed,
      },
      some: { kind: 'object', fields: { name: { kind: 'text' }, count: { kind: 'decimal' } }, ...needed },
    });
    expect(model.page.fields.blocks.fields).toEqual({
      kind: { kind: 'choice', choices: ['words', 'picture'], ...needed },
      text: { kind: 'text' },
      src: { kind: 'text' },
    });
    expect(model.shape.fields).toMatchObject({
      form: { kind: 'choice', choices: ['round', 'square'] },
      side: { kind: 'decimal' },
    });
    expect(model.person.fields).toEqual({ name: { kind: 'text', ...needed }, born: { kind: 'dateTime' } });
    expect(unsaid).toEqual([
      'Ware.code is a text of the form `A-$' + '{number}`',
      'Ware.mark is a text with a mark of its own (string & { __brand: "X"; })',
      'Ware.pair is a list with a place for each item',
      'Ware.map is Map<string, number>, which is no data',
      'Box has type parameters, and is a type only where it is used',
      'Ware.tree.inside[] holds itself again',
      'Page.blocks[] is one of 2 forms; its fields are those of all of them',
      'Shape is one of several forms; its fields are those of all of them',
    ]);
  });

  test('of a file without exports what it declares; what it imports from elsewhere is told, and not read', async () => {
    const outside = temporary();
    write(outside, { 'secret.ts': 'export interface Secret { word: string }' });
    const { model, unsaid } = await typed(
      {
        'shop.d.ts': 'interface Ware { name: string }\ninterface Mark { of: Ware }\n',
      },
      'shop.d.ts',
    );
    expect([Object.keys(model), unsaid]).toEqual([['mark'], []]);
    const others = {
      'value.d.ts': 'interface Ware { name: string }\ndeclare const wares: { all: () => Ware[] };\nexport = wares;\n',
      'module.d.ts': 'declare module "wares" { export interface Ware { name: string }\nexport const all: Ware[]; }\n',
    };
    for (const name of Object.keys(others)) expect(Object.keys((await typed(others, name)).model)).toEqual(['ware']);
    const reached = await typed({
      'shop.ts': `import type { Secret } from '${outside}/secret';\nimport type { Gone } from './gone';\nexport interface Ware { a: Secret; b: Gone }`,
    });
    expect(reached.model.ware.fields).toEqual({
      a: { kind: 'json', required: true },
      b: { kind: 'json', required: true },
    });
    expect(reached.unsaid.join()).toMatch(/line 1 is not understood.*secret.*line 2 is not understood.*gone/u);
  });

  test('our own types of the demo come back', async () => {
    const { out } = await lumbrik(coast(), ['export', 'typescript']);
    const { model } = await typed({ 'content.ts': out }, 'content.ts');
    expect(Object.keys(model)).toEqual(expect.arrayContaining(['tour', 'lighthouse', 'keeper', 'home', 'departure']));
    expect(model.tour.fields).toMatchObject({
      name: { kind: 'text', required: true },
      minutes: { kind: 'decimal', required: true },
      lights: { kind: 'text', required: true },
      difficulty: { kind: 'choice', choices: ['easy', 'moderate', 'hard'] },
    });
  });

  test.each([
    ['export interface A { b: ', true, 2, /a\.ts cannot be read: .*\n.*\n? {2}a\.ts:1:|a\.ts:1:/u],
    ['export const a = 1;', true, 2, /nothing in it describes things with keys/iu],
    ['export interface A { b: string }', false, 2, /there is none for programs here\n.*typescript@6/u],
    [undefined, true, 2, /there is no file a\.ts/iu],
  ])('%j is refused, and nothing is written', async (text, hasCompiler, code, says) => {
    const folder = temporary();
    if (text !== undefined) write(folder, { 'a.ts': text });
    if (hasCompiler) compiler(folder);
    const ran = await lumbrik(folder, ['learn', '--schema', 'a.ts', '--out', 'new']);
    expect(ran).toMatchObject({ code, err: expect.stringMatching(says) });
    expect(fs.existsSync(path.join(folder, 'new'))).toBe(false);
  });
});
