import { describe, expect, test } from 'vitest';
import { findings } from '../src/core/definition/findingNames.ts';
import { findingOf } from '../src/core/entry/findings.ts';
import { english } from '../src/core/messages/english.ts';
import { wordsOf } from '../src/core/messages/words.ts';
import { edit, read, result, workspace, write } from './support/program.ts';

const messages = Object.keys(english);

describe('the words of findings are made from their data [I1]', () => {
  test('every finding has words, and no words are left without a finding', () => {
    expect([...new Set(messages.map(findingOf))].toSorted()).toEqual(Object.keys(findings).toSorted());
  });

  test('what a check prints is made again from what it tells a program', async () => {
    const folder = workspace({
      'model/types/light.yaml': [
        'type: light',
        'fields:',
        '  name: { kind: text, max: 5, required: true, help: The name. }',
        '  height: { kind: decimal, places: 1, min: 2 }',
        '  lit: { kind: date, max: 2000-01-01 }',
        '  open: { kind: boolean }',
        '  colour: { kind: choice, choices: [red, green] }',
        '  keeper: { kind: reference, to: light }',
        '  visit: { kind: duration, units: [hours], max: PT3H }',
        '  steps: { kind: integer, many: { min: 2, max: 3 } }',
        '  twice: { kind: integer, computed: "entry.height > 3.0 ? 2 : 1" }',
        'rules:',
        '  - { expect: "entry.height < 100.0", say: It is too high. }',
      ].join('\n'),
      'content/light/a.yaml':
        'name: Skerry Point\nheight: 1.25\nlit: 2001-02-30\nopen: "yes"\ncolour: gren\nkeeper: b\nvisit: 09:30\nsteps: [1]\nextra: 1\n',
      'content/light/c.yaml':
        'name: [C]\nheight: "3"\nlit: 2001-01-01\nkeeper: lamp/x\nvisit: P2D\nsteps: 4\nstatus: drafft\ncreated: soon\n',
      'content/light/d.yaml': 'height: 200\ntwice: 7\nsteps: [1, 2, 3, 4, a]\nvisit: PT9H\n',
      'content/lamp/e.yaml': 'name: E\n',
      'content/light/f.yaml': '[',
      'content/light/UPPER.yaml': 'name: U\n',
    });
    const { findings: found, mistakes } = await result(folder, ['check']);
    expect(mistakes).toEqual([]);
    const told = new Set<string>();
    for (const { message, data, says, mend, finding } of found) {
      told.add(message);
      expect(finding).toBe(findingOf(message));
      expect(wordsOf({ message, data })).toEqual({ says, mend });
    }
    expect(told.size).toBeGreaterThan(20);
  });

  test.each([
    ['{ kind: integer }', '"7"', '7'],
    ['{ kind: integer, many: true }', '7', '[7]'],
    ['{ kind: integer }', '[7]', '7'],
    ['{ kind: integer, computed: 1 + 1 }', '5', '2'],
  ])('%s with %s: what a machine can do about it ends it', async (field, wrong, mended) => {
    const folder = workspace({
      'model/types/light.yaml': `type: light\nfields:\n  x: ${field}\n`,
      'content/light/a.yaml': `x: ${wrong}\n`,
    });
    const [first] = (await result(folder, ['check'])).findings;
    expect(first.fix).toEqual({ set: JSON.parse(mended) });
    edit(folder, 'content/light/a.yaml', wrong, JSON.stringify(first.fix.set));
    expect((await result(folder, ['check'])).findings).toEqual([]);
  });

  test('a retired term that is replaced, and one value where one in each language belongs', async () => {
    const folder = workspace({
      'lumbrik.yaml': 'workspace: x\nlanguages: [en, fr]\n',
      'model/taxonomies/region.yaml':
        'taxonomy: region\nterms:\n  - north\n  - { term: top, retired: { use: north } }\n',
      'model/types/light.yaml':
        'type: light\nfields:\n  region: { kind: term, taxonomy: region }\n  name: { kind: text, localized: true }\n',
      'content/light/a.yaml': 'region: top\nname: A\n',
    });
    const { findings: found } = await result(folder, ['check']);
    expect(found.map(({ finding, fix }: Record<string, unknown>) => [finding, fix])).toEqual([
      ['retired-term', { set: 'north' }],
      ['language-expected', { set: { en: 'A' } }],
    ]);
    write(folder, { 'content/light/a.yaml': 'region: north\nname: { en: A }\n' });
    expect((await result(folder, ['check'])).findings).toEqual([]);
    expect(read(folder, 'content/light/a.yaml')).toContain('north');
  });
});
