import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { edit, lumbrik, read, result, workspace } from './support/program.ts';

/** A model that is large enough to be remembered: many types of many fields. */
const large = () =>
  workspace(
    Object.fromEntries(
      Array.from({ length: 120 }, (_, n) => [
        `model/types/place${n}.yaml`,
        `type: place${n}\nfields:\n${Array.from({ length: 40 }, (_field, at) => `  field${at}: { kind: text, max: ${at + 1}, help: What authors read beside it. }\n`).join('')}`,
      ]),
    ),
  );

describe('a large model is remembered while its files stay the same [M1]', () => {
  test('and gives the same results; a change of one letter is seen', () => {
    const folder = large();
    const first = result(folder, ['show', 'place7']);
    expect(fs.existsSync(path.join(folder, '.lumbrik/model.json'))).toBe(true);
    expect(result(folder, ['show', 'place7'])).toEqual(first);
    edit(folder, 'model/types/place7.yaml', 'max: 3,', 'max: 9,');
    expect(result(folder, ['show', 'place7.field2']).field.options.max).toBe(9);
    edit(folder, 'model/types/place7.yaml', 'max: 9,', 'mxa: 9,');
    expect(result(folder, ['check']).mistakes).toMatchObject([{ file: 'model/types/place7.yaml', line: 5 }]);
    fs.rmSync(path.join(folder, 'model/types/place7.yaml'));
    expect(lumbrik(folder, ['show', 'place7']).code).toBe(2);
  });

  test.each([
    ['is cut off', (text: string) => text.slice(0, 2000)],
    ['is no JSON', () => 'x\n{'],
    ['is of other files', (text: string) => text.replace(/^./u, 'x')],
  ])('where what is remembered %s, the files themselves are read', (_name, spoil) => {
    const folder = large();
    const first = result(folder, ['show', 'place7']);
    fs.writeFileSync(path.join(folder, '.lumbrik/model.json'), spoil(read(folder, '.lumbrik/model.json')));
    expect(result(folder, ['show', 'place7'])).toEqual(first);
  });
});
