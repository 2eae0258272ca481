import { describe, expect, test } from 'vitest';
import { advice as shelf } from '../src/core/advice/index.ts';
import { edit, lumbrik, result, workspace, write } from './support/program.ts';

const many = (count: number, of: (number: number) => string): string =>
  Array.from({ length: count }, (_, number) => of(number)).join('');

/** A model in which everything is so that somebody should say something. */
const bad = {
  'lumbrik.yaml': 'workspace: Uhren\nlanguages: [de, fr]\ncontent: [{ lines: content/alle.ndjson }]\n',
  'model/kits/niemand.yaml': 'kit: niemand\nfields:\n  bild: { kind: text }\n',
  'model/fields/verwaist.yaml': 'field: verwaist\nkind: text\n',
  'model/kinds/rest.yaml': 'kind: rest\non: text\noptions: { max: 3 }\n',
  'model/kits/leer.yaml': 'kit: leer\nfields:\n  fussnote: { kind: text }\n',
  'model/types/uhr.yaml': `type: uhr
kits: [leer]
fields:
  name: { kind: text, localized: true, max: 500 }
  zustand: { kind: text }
  land: { kind: choice, choices: [${many(25, (number) => `l${number}, `)}l99] }
  ort: { kind: text }
  strasse: { kind: text }
  plz: { kind: text, pattern: "^[0-9]{5}$" }
  nie: { kind: text }
  immer: { kind: boolean }
  teile: { kind: text, many: true }
  wohin: { kind: reference, to: [uhr, werk, turm, museum, sonnenuhr] }
  art: { kind: term, taxonomy: art }
  tief: { kind: term, taxonomy: tief }
  mehr: { kind: text }
  breite: { kind: text }
  gewicht: { kind: integer }
  neben: { kind: reference, to: museum, many: true }
`,
  ...Object.fromEntries(
    ['turm', 'museum'].map((name) => [
      `model/types/${name}.yaml`,
      `type: ${name}\nfields:\n  ort: { kind: text }\n  strasse: { kind: text }\n  plz: { kind: text, pattern: "^[0-9]{5}$" }\n  hoehe: { kind: integer }\n${name === 'museum' ? '  macher: { kind: text, label: Erbauer }\n' : ''}`,
    ]),
  ),
  'model/types/sonnenuhr.yaml': `type: sonnenuhr\nfields:\n${many(9, (number) => `  f${number}: { kind: integer, required: true }\n`)}`,
  'model/types/werk.yaml':
    'type: werk\nfields:\n  hersteller: { kind: text, label: Erbauer }\n  prüfer: { kind: reference, to: pruefung, required: true }\n'.replace(
      'prüfer',
      'pruefer',
    ),
  'model/types/pruefung.yaml':
    'type: pruefung\nfields:\n  macher: { kind: text, label: Erbauer }\n  werk: { kind: reference, to: werk, required: true }\n',
  'model/types/blatt.yaml': `type: blatt\nfields:\n${[
    'titel: Titel des Blatts',
    'jahr: Jahr des Drucks',
    'ort: Druckort',
    'format: Format in Zentimetern',
    'bvb: Blatt vom Buch',
    'kunde: Maßstab',
  ]
    .map((one) => `  ${one.replace(': ', ': { kind: json, label: ')} }\n`)
    .join('')}`,
  'model/types/insel.yaml': 'type: insel\nfields:\n  text: { kind: longText }\n',
  'model/taxonomies/art.yaml': 'taxonomy: art\nterms: [pendel, unruh, sand, wasser, feuer]\n',
  'model/taxonomies/tief.yaml':
    'taxonomy: tief\nterms: [{ term: a, terms: [{ term: b, terms: [{ term: c, terms: [{ term: d, terms: [e] }] }] }] }]\n',
  'content/alle.ndjson': [
    ...Array.from({ length: 40 }, (_, number) => ({
      id: `u${number}`,
      type: 'uhr',
      name: { de: `Uhr ${number}` },
      zustand: number % 2 ? 'gut' : 'schlecht',
      immer: true,
      teile: ['eins'],
      art: 'pendel',
      gewicht: number % 4 ? number : 'schwer',
      breite: `${number % 7},5 cm`,
      neben: ['a', 'b'].slice(0, 1 + (number % 2)),
    })),
    { id: 'i', type: 'insel', text: 'Allein.' },
  ]
    .map((one) => `${JSON.stringify(one)}\n`)
    .join(''),
};

/** One that is as it should be. */
const good = {
  'lumbrik.yaml': 'workspace: Uhren\n',
  'model/types/uhr.yaml':
    'type: uhr\ntitled: name\nabout: An instrument that tells the time.\nfields:\n  name: { kind: text, required: true, max: 60 }\n  gebaut: { kind: date }\n  von: { kind: reference, to: meister }\n  art: { kind: choice, choices: [pendel, unruh] }\n  note: { kind: text, help: What is remarkable., max: 80 }\n',
  'model/types/meister.yaml': 'type: meister\ntitled: name\nfields:\n  name: { kind: text, required: true, max: 60 }\n',
  ...Object.fromEntries(
    Array.from({ length: 30 }, (_, number) => [
      `content/uhr/u${number}.yaml`,
      `name: Uhr Nummer ${number}, aus Messing\ngebaut: 18${10 + number}-01-01\nvon: m${number % 3}\nart: ${number % 2 ? 'pendel' : 'unruh'}\nnote: ${number} wurde sie zuletzt gereinigt, sagt man\n`,
    ]),
  ),
  ...Object.fromEntries([0, 1, 2].map((number) => [`content/meister/m${number}.yaml`, `name: Meister ${number}\n`])),
};

describe('advice on the model [J4]', () => {
  test('a bad model: every piece of the shelf is given, with where, what speaks for it and what to do', async () => {
    const { advice } = await result(workspace(bad), ['advice']);
    const given = new Set(advice.map((one: { advice: string }) => one.advice));
    expect(shelf.map(({ name }) => name).filter((name) => !given.has(name))).toEqual([]);
    const said = Object.fromEntries(
      advice.map(({ advice: name, at, says }: { advice: string; at: string; says: string }) => [`${name} ${at}`, says]),
    );
    expect(said).toMatchObject({
      'text-is-choice uhr.zustand': '40 texts are only 2 different ones, such as “gut” and “schlecht”',
      'never-filled uhr.nie': 'none of 40 places for it has a value',
      // Of a field that a kit brings, all types are counted together.
      'never-filled leer.fussnote': 'none of 40 places for it has a value',
      'always-the-same uhr.immer': 'all 40 entries have true',
      'list-of-one uhr.teile': '40 lists, and none has more than one item',
      'far-limit uhr.name': 'the longest of 40 texts has 6 characters, and 500 are allowed',
      'choice-is-taxonomy uhr.land': 'it offers 26 choices',
      'repeated-fields museum.ort': 'ort, strasse and plz stand in museum, turm and uhr, each time the same',
      'types-alike museum': '4 of its 5 fields are in turm too, of the same kinds: ort, strasse, plz and hoehe',
      'loose-reference uhr.wohin': 'it may point at 5 types: uhr, werk, turm, museum and sonnenuhr',
      'required-circle pruefung.werk': 'pruefung.werk and werk.pruefer each need the next one, all the way round',
      'stands-alone insel': 'nothing points at its entries, they point at nothing, and no taxonomy sorts them',
      'stumbling-field uhr.gewicht': '10 of 40 entries have something wrong in it, and it has no help',
      'other-words blatt.kunde': 'authors see “Maßstab”, and programs kunde',
      'endless-list uhr.neben': 'it may point at any number of entries, and the longest of 40 lists has 2 items',
      'terms-unused art:': '4 of 5 terms are used by no entry, such as unruh, sand and wasser',
      'terms-unused art:pendel': '40 of 40 uses are this one term',
      'hierarchy tief:': 'its tree is 5 steps deep',
      'empty-language fr': '0 of 40 places with a value have one in it',
      'unused niemand': 'no type has this kit',
      'unused verwaist': 'no type has this shared field',
      'unused rest': 'no field is of this kind',
      'many-names werk.hersteller': 'museum.macher, pruefung.macher and werk.hersteller have one label and 2 names',
    });
  });

  test('what cannot be read is said, and of one name that most fields have the others are to take it', async () => {
    const folder = workspace({ ...good, 'content/uhr/kaputt.yaml': 'name: [\n' });
    expect((await lumbrik(folder, ['advice'])).out).toContain('1 file or line could not be read as an entry');
    const { advice } = await result(workspace(bad), ['advice']);
    const named = advice.find((one: { advice: string }) => one.advice === 'many-names');
    expect(named.command).toBe('lumbrik rename werk.hersteller macher');
  });

  test('terms that have one entry each', async () => {
    const terms = Array.from({ length: 12 }, (_, number) => `t${number}`);
    const folder = workspace({
      'lumbrik.yaml': 'workspace: W\ncontent: [{ lines: content/a.ndjson, type: uhr }]\n',
      'model/types/uhr.yaml': 'type: uhr\nfields:\n  art: { kind: term, taxonomy: art }\n',
      'model/taxonomies/art.yaml': `taxonomy: art\nterms: [${terms.join(', ')}]\n`,
      'content/a.ndjson': [...terms, ...terms.slice(0, 5), ...terms.slice(0, 5)]
        .map((art, number) => `{"id":"u${number}","art":"${art}"}\n`)
        .join(''),
    });
    const { advice } = await result(folder, ['advice']);
    expect(advice.filter((one: { advice: string }) => one.advice === 'terms-unused')).toMatchObject([
      { at: 'art:', says: '7 of 12 terms are used by one entry at most, such as t5, t6 and t7' },
    ]);
  });

  test('many types that are all alike are told once, and a long list of names is not', async () => {
    const fields = many(12, (number) => `  feld${number}: { kind: text, max: ${number + 5} }\n`);
    const types = Array.from({ length: 30 }, (_, number) => [
      `model/types/art${number}.yaml`,
      `type: art${number}\nfields:\n${fields}`,
    ]);
    const folder = workspace({ 'lumbrik.yaml': 'workspace: Arten\n', ...Object.fromEntries(types) });
    const said = (await result(folder, ['advice'])).advice.map(({ says }: { says: string }) => says);
    expect(said).toContain(
      '12 of its 12 fields are in art1, art10, art11 and 26 more too, of the same kinds: feld0, feld1, feld2, feld3 and feld4',
    );
    expect(said.filter((one: string) => one.includes('of the same kinds'))).toHaveLength(1);
    expect(said).toContain(
      'feld0, feld1, feld2, feld3, feld4, feld5, feld6, feld7 and 4 more stand in art0, art1, art10, art11, art12 and 25 more, each time the same',
    );
  });

  test('a good one: nothing', async () => {
    const { out, code } = await lumbrik(workspace(good), ['advice']);
    expect([code, out]).toEqual([0, '✓ Nothing to advise: 2 types, 6 fields and 33 entries\n']);
  });

  test('what it names can be asked about, and it fits a hundred columns', async () => {
    const folder = workspace(bad);
    const { out } = await lumbrik(folder, ['advice']);
    expect(Math.max(...out.split('\n').map(({ length }) => length))).toBeLessThanOrEqual(100);
    const { advice } = await result(folder, ['advice']);
    for (const command of new Set(advice.flatMap((one: { command?: string }) => one.command ?? []))) {
      const [, ...args] = String(command).split(' ');
      if (args[0] === 'add') continue;
      expect([command, (await lumbrik(folder, args)).code]).toEqual([command, args[0] === 'check' ? 1 : 0]);
      // A command that renames is taken back, so that the next one finds what it asks for.
      if (args[0] === 'rename') write(folder, bad);
    }
  });

  test('what is declined for good is left out, and told with its reason where somebody asks', async () => {
    const folder = workspace(good);
    write(folder, { 'content/uhr/x.yaml': 'name: X\n' });
    edit(folder, 'model/types/uhr.yaml', 'about: An instrument that tells the time.\n', '');
    expect((await lumbrik(folder, ['advice'])).out).toContain('Unexplained');
    edit(
      folder,
      'lumbrik.yaml',
      'workspace: Uhren\n',
      'workspace: Uhren\nadvice:\n  declined:\n    - { advice: unexplained, at: uhr, because: Everybody knows. }\n    - { advice: long-form, at: uhr, because: Once it was. }\n',
    );
    expect((await lumbrik(folder, ['advice'])).out).toContain('2 pieces of advice declined');
    const { out } = await lumbrik(folder, ['advice', '--declined']);
    expect(out).toContain('Everybody knows.');
    expect(out).toContain('would not be given any more');
    edit(folder, 'lumbrik.yaml', 'advice: long-form', 'advice: long-from');
    expect(await lumbrik(folder, ['advice'])).toMatchObject({ code: 2, err: expect.stringContaining('`long-from`') });
  });
});
