import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { slugify } from '../src/core/plain/slugify.ts';
import { lumbrik, read, result, snapshot, workspace } from './support/program.ts';

const parts = `taxonomy: part
open: true
terms:
  - term: pendulum
    label: { en: Pendulum, de: Pendel }
    synonyms: { en: [bob], de: [Perpendikel] }
  - escapement
`;
const shop = (more: Record<string, string> = {}) =>
  workspace({
    'lumbrik.yaml': 'workspace: A\nlanguages: [en, de]\n',
    'model/types/clock.yaml':
      'type: clock\nfields:\n  parts: { kind: term, taxonomy: part, many: true }\n  closed: { kind: term, taxonomy: fixed, many: true }\n',
    'model/taxonomies/part.yaml': parts,
    'model/taxonomies/fixed.yaml': parts.replace('taxonomy: part\nopen: true', 'taxonomy: fixed'),
    'model/taxonomies/lent.yaml': 'taxonomy: lent\nopen: true\nborrows: ["part:"]\nterms: [hand]\n',
    ...more,
  });

describe('every word for a term, in every language, leads to it [D4, D5]', () => {
  test('while tagging, in an open taxonomy and a closed one', async () => {
    const folder = shop({
      'content/clock/a.yaml': 'parts: [bob, Pendel, pendulum, dial]\nclosed: [bob, perpendikel, Pendel]\n',
    });
    const { findings } = await result(folder, ['check']);
    expect(findings.map(({ severity, pointer, mend }: any) => `${severity} ${pointer} ${mend}`)).toEqual([
      'warning /parts/0 Write pendulum.',
      'warning /parts/1 Write pendulum.',
      ...[0, 1, 2].map((index) => expect.stringMatching(new RegExp(`^error /closed/${index} .*pendulum`, 'u'))),
    ]);
    expect(findings.slice(0, 2).map(({ fix }: any) => fix)).toEqual([{ set: 'pendulum' }, { set: 'pendulum' }]);
  });

  test('when a list is added: what is there by another word is not added again', async () => {
    const folder = shop();
    fs.writeFileSync(path.join(folder, 'list.txt'), 'Pendel\nbob\nZifferblatt\n');
    expect(await result(folder, ['terms', 'part', '--add', 'list.txt'])).toMatchObject({
      added: ['zifferblatt'],
      known: [{ is: 'pendulum' }, { is: 'pendulum' }],
    });
  });

  test('among look-alikes, borrowed terms too; the one that a label spells stays', async () => {
    const folder = shop({
      'model/types/clock.yaml': 'type: clock\nfields:\n  parts: { kind: term, taxonomy: lent, many: true }\n',
      'content/clock/a.yaml': 'parts: [pendel, hnad, penduluum]\n',
      'content/clock/b.yaml': 'parts: [hnad, escapements]\n',
    });
    const { pairs } = await result(folder, ['terms', 'lent', '--alike']);
    expect(pairs.map(({ keep, merge }: any) => `${merge.term} → ${keep.term}`).sort()).toEqual([
      'escapements → escapement',
      'pendel → pendulum',
      'penduluum → pendulum',
    ]);
  });

  test.each([
    ['words.json', '["a", 7', 'is no JSON'],
    ['words.yaml', 'terms: [a]', 'neither a list nor a table'],
    ['words.ttl', '@prefix a: <b> .', 'neither a list nor a table'],
    ['words.txt', '{ "a": 1 }', 'holds data and no list of words'],
    ['words', '<rdf:RDF>', 'holds data and no list of words'],
  ])('%s is refused, and nothing is written', async (name, text, says) => {
    const folder = shop();
    fs.writeFileSync(path.join(folder, name), text);
    const before = snapshot(folder);
    const { code, err } = await lumbrik(folder, ['terms', 'part', '--add', name]);
    expect([code, err.replaceAll(/\s+/gu, ' ')]).toEqual([2, expect.stringContaining(says)]);
    expect(snapshot(folder)).toEqual(before);
  });

  test('a table with tabulators', async () => {
    const folder = shop();
    fs.writeFileSync(path.join(folder, 'words.tsv'), 'term\tlabel:en\tlabel:de\ndial\tDial\tZifferblatt\n');
    await lumbrik(folder, ['terms', 'part', '--add', 'words.tsv']);
    expect(read(folder, 'content/part.terms.yaml')).toContain('Zifferblatt');
  });

  test('letters that Unicode does not take apart are kept in identifiers', () => {
    expect(['Straße', 'Łódź', 'Tromsø', 'Œuvre', 'Þór', 'Ærø'].map((word) => slugify(word))).toEqual([
      'strasse',
      'lodz',
      'tromso',
      'oeuvre',
      'thor',
      'aero',
    ]);
  });
});
