import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { Validator as JsonSchemaValidator } from '@cfworker/json-schema';
import { Validator as OpenApi } from '@seriousme/openapi-schema-validator';
import { Ajv2020 } from 'ajv/dist/2020.js';
import fc from 'fast-check';
import { assertValidSchema, buildSchema } from 'graphql';
import { describe, expect, test } from 'vitest';
import { usualFactKeys } from '../src/core/definition/builtIn.ts';
import { graphql } from '../src/core/export/formats/graphql.ts';
import { link } from '../src/core/model/link.ts';
import { sketch, wholeOf } from './support/anyModel.ts';
import { coast, edit, lumbrik, read, result, root, temporary, workspace, write } from './support/program.ts';
import { zodsOf } from './support/zods.ts';

/** What the real compiler says of some files, in its strictest mode; nothing where it is content. */
function compiled(files: Readonly<Record<string, string>>): string {
  const folder = temporary();
  write(folder, files);
  fs.symlinkSync(path.join(root, 'node_modules'), path.join(folder, 'node_modules'));
  const tsc = path.join(root, 'node_modules/typescript/bin/tsc');
  const strict = [
    '--strict',
    '--noEmit',
    '--exactOptionalPropertyTypes',
    '--noUncheckedIndexedAccess',
    '--target',
    'es2022',
  ];
  // What is exported is looked at, not the declarations of the packages that it takes.
  const around = ['--lib', 'es2022', '--types', '', '--skipLibCheck'];
  const options = [...strict, ...around, '--module', 'esnext', '--moduleResolution', 'bundler'];
  const { stdout } = spawnSync(process.execPath, [tsc, ...options, ...Object.keys(files)], {
    cwd: folder,
    encoding: 'utf8',
  });
  return stdout;
}

const exported = async (folder: string, ...args: readonly string[]): Promise<string> => {
  const { code, out, err } = await lumbrik(folder, ['export', ...args]);
  expect([code, err]).toEqual([0, '']);
  return out;
};

/** Entries as they are stored, as constants of their types. */
async function constants(folder: string): Promise<string> {
  const lines: string[] = [];
  for (const { name } of (await result(folder, ['show'])).types) {
    const { rows } = await result(folder, ['list', name]);
    for (const { values } of rows) {
      const typed = `${name.charAt(0).toUpperCase()}${name.slice(1)}`;
      lines.push(`export const e${lines.length}: c.${typed} = ${JSON.stringify(values)};`);
    }
  }
  return `import type * as c from './content';\n${lines.join('\n')}\n`;
}

/** A model with a field of every form, and names that could be taken for something else. */
const odd = {
  'lumbrik.yaml': 'workspace: "Uhren */ export const owned = 1; /*"\nlanguages: [de, fr]\n',
  'model/types/none.yaml': 'type: none\nfields:\n  id: { kind: text }\n'.replace('id:', 'ident:'),
  'model/types/entryFacts.yaml':
    'type: entryFacts\nabout: "*/ export const owned = 2; /*"\nfields:\n  "data-key": { kind: text, label: "*/ x", help: "a\\nb */", required: true }\n  $ref: { kind: integer }\n',
  'model/types/uhr.yaml': `type: uhr
fields:
  name: { kind: text, localized: true, required: true }
  art: { kind: choice, choices: [{ choice: "it's", label: Eine }, { choice: "b\\\\\\"c" }], required: published }
  grade: { kind: term, taxonomy: grad }
  frei: { kind: term, taxonomy: offen, many: true }
  von: { kind: reference, to: uhr }
  zu: { kind: reference, to: [uhr, none], many: { orOne: true } }
  teile: { kind: object, many: true, fields: { nummer: { kind: integer, required: true }, note: { kind: text } } }
  masse: { kind: map, keys: { kind: text }, value: { kind: decimal } }
  ort: { kind: point }
  bild: { kind: asset, alt: required }
  roh: { kind: json }
  nur: { kind: text, required: true, when: "entry.art == \\"it's\\"" }
  summe: { kind: integer, computed: "1 + 1" }
`,
  'model/taxonomies/grad.yaml': 'taxonomy: grad\nterms: [eins, { term: zwei, terms: [drei] }]\n',
  'model/taxonomies/offen.yaml': 'taxonomy: offen\nopen: true\n',
  'content/uhr/a.yaml':
    'name: { de: A, fr: B }\nart: "it\'s"\ngrade: drei\nfrei: [x]\nvon: a\nzu: none/n\nteile: [{ nummer: 1 }]\nmasse: { hoch: 1.5 }\nort: { lat: 1, lon: 2 }\nroh: [1, { a: null }]\nnur: x\n',
  'content/none/n.yaml': 'ident: n\n',
  'content/entryFacts/e.yaml': '"data-key": x\n$ref: 3\n',
};

describe('a model in TypeScript [K1]', () => {
  test('the entries of the demo are values of its types, by the real compiler', async () => {
    const folder = temporary();
    await lumbrik(folder, ['new', 'coast', '--starter', 'lighthouses']);
    const coast = path.join(folder, 'coast');
    const entries = await constants(coast);
    expect(entries.split('\n').length).toBeGreaterThan(70);
    expect(compiled({ 'content.ts': await exported(coast, 'typescript'), 'entries.ts': entries })).toBe('');
  });

  test('every form of field, in odd names and words that would end a comment', async () => {
    const folder = workspace(odd);
    const content = await exported(folder, 'typescript');
    const use = "import { owned } from './content';\nexport const x = owned;\n";
    expect(compiled({ 'content.ts': content, 'entries.ts': await constants(folder) })).toBe('');
    expect(compiled({ 'content.ts': content, 'use.ts': use })).toContain('owned');
  });

  const wrong = [
    ['a value of another kind', "{ name: { de: 'A' }, roh: undefined }"],
    ['a choice that is none', "{ name: { de: 'A' }, art: 'other' }"],
    ['a term that is none', "{ name: { de: 'A' }, grade: 'vier' }"],
    ['a required field without a value', '{ art: "it\'s" }'],
    ['a language that there is not', "{ name: { de: 'A', it: 'B' } }"],
    ['the main language missing', "{ name: { fr: 'B' } }"],
    ['a reference to a type that is not meant', "{ name: { de: 'A' }, zu: 'entryFacts/e' }"],
    ['a field inside an object missing', "{ name: { de: 'A' }, teile: [{}] }"],
    ['a key that is no field', "{ name: { de: 'A' }, nothing: 1 }"],
    ['the identifier of an entry of another type', "{ name: { de: 'A' }, von: none }"],
    ['a picture without words', "{ name: { de: 'A' }, bild: { file: 'a.png' } }"],
  ] as const;
  test('what is wrong is no value of its type', async () => {
    const files = wrong.map(([, value], at) => [
      `e${at}.ts`,
      `import type { Id, Uhr } from './content';\ndeclare const none: Id<'none'>;\nexport const uhr: Uhr = ${value};\n`,
    ]);
    const said = compiled({
      'content.ts': await exported(workspace(odd), 'typescript'),
      ...Object.fromEntries(files),
    });
    // By the compiler that starts once for all of them.
    expect(wrong.filter((_, at) => !said.includes(`e${at}.ts(3,`)).map(([what]) => what)).toEqual([]);
  });

  test('once published, what is required then is there', async () => {
    const content = await exported(workspace(odd), 'typescript');
    const use = (value: string) =>
      `import type { PublishedEntries } from './content';\nexport const uhr: PublishedEntries['uhr'] = ${value};\n`;
    expect(compiled({ 'content.ts': content, 'use.ts': use("{ name: { de: 'A' }, art: \"it's\" }") })).toBe('');
    expect(compiled({ 'content.ts': content, 'use.ts': use("{ name: { de: 'A' } }") })).toContain("'art' is missing");
  });
});

describe('a model in one JSON Schema [K1]', () => {
  test('takes the entries that a check takes, and says which type is wrong', async () => {
    const folder = workspace(odd);
    const ajv = new Ajv2020({ strict: false, formats: { date: true, 'date-time': true } });
    const schema = JSON.parse(await exported(folder, 'json-schema'));
    const whole = ajv.compile(schema);
    const uhr = ajv.getSchema('type:uhr');
    const { rows } = await result(folder, ['list', 'uhr']);
    for (const { values } of rows) expect([whole(values), uhr?.(values)]).toEqual([true, true]);
    expect(uhr?.({ name: { de: 'A' }, art: 'other' })).toBe(false);
    expect(whole({ nothing: 1 })).toBe(false);
  });
});

describe('a model in OpenAPI [K1]', () => {
  // The validator takes a property of that name for a reference.
  const withoutRef = Object.fromEntries(
    Object.entries(odd).map(([file, text]) => [file, text.replace('$ref:', 'ref:')]),
  );

  test.each([['the demo'], ['odd names']])(
    'is a valid document, whose schemas take what a check takes: %s',
    async (which) => {
      const folder = which === 'the demo' ? coast() : workspace(withoutRef);
      const document = JSON.parse(await exported(folder, 'openapi'));
      expect(await new OpenApi().validate(structuredClone(document))).toMatchObject({ valid: true });
      const ajv = new Ajv2020({ strict: false, formats: { date: true, 'date-time': true } }).addSchema(document, 'api');
      for (const { name } of (await result(folder, ['show'])).types) {
        const validate = ajv.getSchema(`api#/components/schemas/${name.replaceAll('$', '%24')}`);
        for (const { values } of (await result(folder, ['list', name])).rows)
          expect([validate?.(values), validate?.errors]).toEqual([true, null]);
        expect(validate?.({ nothing: 1 })).toBe(false);
      }
    },
  );

  test('a type with one entry has no list, and each operation a name of its own', async () => {
    const { paths } = JSON.parse(await exported(coast(), 'openapi'));
    expect(Object.keys(paths['/home'])).toEqual(['get', 'put']);
    expect(Object.keys(paths['/lighthouse/{id}'])).toEqual(['parameters', 'get', 'put', 'delete']);
    const names = Object.values<any>(paths).flatMap((path) =>
      Object.values<any>(path).flatMap(({ operationId }) => operationId ?? []),
    );
    expect(new Set(names).size).toBe(names.length);
  });
});

test('a second validator agrees with the first about the entries of a model, and about wrong ones [K1]', async () => {
  const folder = coast();
  const schema = JSON.parse(await exported(folder, 'json-schema'));
  const ajv = new Ajv2020({ strict: false, formats: { date: true, 'date-time': true } }).addSchema(schema, 'whole');
  for (const { name } of (await result(folder, ['show'])).types) {
    const first = ajv.getSchema(`type:${name}`);
    const second = new JsonSchemaValidator({ $schema: schema.$schema, ...schema.$defs[name] }, '2020-12', false);
    for (const { values } of (await result(folder, ['list', name])).rows) {
      const wrong = [
        { ...values, neu: 1 },
        ...Object.keys(values).flatMap((key) => [without(values, key), { ...values, [key]: 7.5 }]),
      ];
      for (const one of [values, ...wrong]) expect(second.validate(one).valid).toBe(first?.(one));
      expect(first?.(values)).toBe(true);
    }
  }
});

const without = (values: Readonly<Record<string, unknown>>, key: string): Readonly<Record<string, unknown>> =>
  Object.fromEntries(Object.entries(values).filter(([name]) => name !== key));

test('an editorial guide says what authors need, in words, and nothing that only programs need [K1]', async () => {
  const folder = workspace({
    'lumbrik.yaml': 'workspace: Uhren\nlanguages: [de, fr]\n',
    'model/taxonomies/werk.yaml': 'taxonomy: werk\nterms: [pendel, { term: alt, retired: true }]\n',
    'model/types/uhr.yaml': `type: uhr
label: { one: { de: Uhr, fr: Horloge }, many: { de: Uhren, fr: Horloges } }
about: Was die Zeit misst.
guide: { de: Kurz und genau., fr: Court et exact. }
groups: [Technik]
fields:
  titel: { kind: text, required: true, max: 40, localized: true, help: { de: Wie sie heißt., fr: Son nom }, example: { de: "*Meisterwerk*" } }
  art: { kind: choice, required: published, choices: [{ choice: stand, label: { de: Standuhr, fr: Horloge de parquet } }, wand] }
  hoehe: { kind: decimal, min: 1, max: 300, unit: cm, group: Technik }
  werk: { kind: term, taxonomy: werk, group: Technik, when: entry.art == "stand" }
  teile: { kind: object, many: { max: 3 }, group: Technik, fields: { von: { kind: reference, to: uhr } } }
  summe: { kind: integer, computed: "1 + 1" }
rules: [{ expect: entry.hoehe > 1.0, say: { de: Nicht zu klein., fr: Pas trop petite. } }]
`,
  });
  expect(await exported(folder, 'guide', '--language', 'fr')).toBe(`# Écrire pour Uhren

Pour toutes celles et ceux qui rédigent des fiches. Écrit par \`lumbrik export guide --language fr\`.

## Horloges

Was die Zeit misst.

> Court et exact.

- **Titel** (toujours) Son nom. Une ligne de texte : au plus 40 caractères. En allemand et français. Par exemple : \\*Meisterwerk\\*
- **Art** (avant la publication) Au choix : Horloge de parquet, Wand.

### Technik

- **Hoehe** Un nombre (cm) : de 1 à 300.
- **Werk** (s’il y a lieu) Un terme de Werk : Pendel.
- **Teile** Ensemble (au plus 3) :
  - **Von** Renvoie à : Horloge.

Avant de publier :

- Pas trop petite.
`);
});

test('a guide says every limit there is, in the words of each language that it has; of others in those of the main one [K1]', async () => {
  const languages = ['de', 'en', 'fr', 'es', 'it', 'nl', 'pt-BR'];
  const folder = workspace({
    'lumbrik.yaml': `workspace: "Uhren *W*"\nlanguages: [${languages.join(', ')}]\n`,
    'model/types/uhr.yaml': `type: uhr
fields:
  a: { kind: text, max: 1, pattern: { match: "^[A-Z]", say: { de: Groß beginnen } } }
  b: { kind: integer, min: 1000, max: 1000000 }
  c: { kind: decimal, unit: cm, places: 1 }
  d: { kind: decimal, values: [1, 2.5] }
  e: { kind: date, min: 2020-01-01, max: 2021-01-01 }
  f: { kind: asset, media: [image/png, image/jpeg], maxSize: 2 MB, minWidth: 100, maxHeight: 900, alt: required }
  h: { kind: text, many: { min: 2 }, localized: true }
  i: { kind: duration, max: PT8H }
  l: { kind: object, localized: true, fields: { x: { kind: boolean, required: true } } }
  m: { kind: integer }
  n: { kind: email }
  o: { kind: slug, from: a }
  p: { kind: decimal, min: 0.5 }
`,
  });
  const guides = new Map<string, string>();
  for (const language of languages) guides.set(language, await exported(folder, 'guide', '--language', language));
  const all = 'Auf Deutsch, Englisch, Französisch, Spanisch, Italienisch, Niederländisch und Portugiesisch (Brasilien)';
  expect(guides.get('de')?.split('\n## Uhrs\n\n')[1]).toBe(`- **A** Eine Zeile Text: höchstens 1 Zeichen. Groß beginnen.
- **B** Eine ganze Zahl: 1.000 bis 1.000.000.
- **C** Eine Zahl (cm): höchstens 1 Nachkommastelle.
- **D** Eine Zahl: 1 oder 2,5.
- **E** Ein Tag, etwa 2026-03-01: nicht vor 2020-01-01, nicht nach 2021-01-01.
- **F** Eine Datei des Arbeitsbereichs: image/png oder image/jpeg, höchstens 2 MB, mindestens 100 Pixel breit, höchstens 900 Pixel hoch, mit Alternativtext.
- **H** Eine Zeile Text (mindestens 2). ${all}.
- **I** Eine Dauer, etwa PT1H30M: höchstens PT8H.
- **L** Diese zusammen. ${all}:
  - **X** (immer) Ja oder nein.
- **M** Eine ganze Zahl.
- **N** Eine E-Mail-Adresse.
- **O** Der letzte Teil einer Webadresse, den kein anderer Eintrag hat.
- **P** Eine Zahl: mindestens 0,5.
`);
  expect(guides.get('pt-BR')?.replace(' --language pt-BR', '')).toBe(guides.get('de')?.replace(' --language de', ''));
  expect(guides.get('en')).toContain(
    '- **A** One line of text: up to 1 character. Groß beginnen.\n- **B** A whole number: 1,000 to 1,000,000.',
  );
  // No word of one language is left in another.
  const own = ['Eine Zeile', 'One line', 'Une ligne', 'Una línea', 'Una riga', 'Eén regel'];
  for (const [index, language] of languages.slice(0, 6).entries())
    expect(own.filter((words) => guides.get(language)?.includes(words))).toEqual([own[index]]);
});

describe('a model in Zod [K1]', () => {
  test('takes every entry of the demo, by the real compiler and as it runs', async () => {
    const folder = temporary();
    await lumbrik(folder, ['new', 'coast', '--starter', 'lighthouses']);
    const coast = path.join(folder, 'coast');
    const text = await exported(coast, 'zod');
    const use =
      "import { schemas, type Lighthouse } from './content';\nexport const one: Lighthouse['status'] = 'draft';\n";
    const bad = "import type { Lighthouse } from './content';\nexport const one: Lighthouse['status'] = 'drafted';\n";
    expect(compiled({ 'content.ts': text, 'use.ts': `${use}export const all = Object.keys(schemas);\n` })).toBe('');
    expect(compiled({ 'content.ts': text, 'use.ts': bad })).toContain('\'"drafted"\' is not assignable');
    const schemas = zodsOf(text);
    let seen = 0;
    for (const { name } of (await result(coast, ['show'])).types)
      for (const { id, values } of (await result(coast, ['list', name])).rows) {
        const said = schemas[name]?.safeParse(values);
        expect([name, id, said?.error?.message]).toEqual([name, id, undefined]);
        seen += 1;
      }
    expect(seen).toBeGreaterThan(70);
  });

  test('every form of field, in odd names and words that would end a comment', async () => {
    const folder = workspace(odd);
    const text = await exported(folder, 'zod');
    expect(compiled({ 'content.ts': text })).toBe('');
    const { uhr } = zodsOf(text);
    const [row] = (await result(folder, ['list', 'uhr'])).rows;
    const says = (change: object): readonly string[] =>
      uhr?.safeParse({ ...row.values, ...change }).error?.issues.map(({ path: at }) => at.join('/')) ?? [];
    expect(says({})).toEqual([]);
    expect(says({ nur: null })).toEqual([]);
    expect(says({ name: {} })).toEqual(['name']);
    expect(says({ name: { de: 'A' }, art: '' })).toEqual(['art']);
    expect(says({ art: null, status: 'draft' })).toEqual([]);
    expect(says({ teile: [{ nummer: 1 }, { note: 'x' }] })).toEqual(['teile']);
    expect(says({ masse: { hoch: '1' } })).toEqual(['masse']);
    expect(says({ grade: 'vier' })).toEqual(['grade']);
    expect(says({ other: 1 })).toEqual(['']);
  });

  test.each([
    ['{ status: zustand }', [true, true, false]],
    ['{ status: false }', [true, false, false]],
  ])('what is required once published, with `builtIn: %s`, as a check and as JSON Schema', async (builtIn, fine) => {
    const folder = workspace({
      'lumbrik.yaml': `workspace: Uhren\nlanguages: [de]\nbuiltIn: ${builtIn}\n`,
      'model/types/uhr.yaml':
        'type: uhr\nfields:\n  status: { kind: text }\n  name: { kind: text, required: published }\n',
    });
    const entries = [{ status: 'draft', name: 'A' }, builtIn.includes('zustand') ? { zustand: 'draft' } : {}, {}];
    const { uhr } = zodsOf(await exported(folder, 'zod'));
    const schema = new Ajv2020({ strict: false }).compile(JSON.parse(await exported(folder, 'json-schema')));
    expect(entries.map((entry) => uhr?.safeParse(entry).success)).toEqual(fine);
    expect(entries.map((entry) => schema(entry))).toEqual(fine);
    write(folder, Object.fromEntries(entries.map((entry, at) => [`content/uhr/${at}.json`, JSON.stringify(entry)])));
    const { findings } = await result(folder, ['check']);
    const wrong = findings.flatMap(({ severity, file }: { severity: string; file: string }) =>
      severity === 'error' ? [file] : [],
    );
    expect(fine.map((_, at) => !wrong.includes(`content/uhr/${at}.json`))).toEqual(fine);
  });
});

test('what stores call otherwise is no unknown key: not in TypeScript, Zod or JSON Schema [K1, M1]', async () => {
  const lines = [
    { nr: 'u1', art: 'uhr', stand: 'draft' },
    { nr: 'u2', art: 'uhr', name: 'B', stand: 'published' },
    { nr: 'u3', art: 'uhr', stand: 'published' },
  ];
  const folder = workspace({
    'lumbrik.yaml':
      'workspace: Uhren\nlanguages: [de]\ncontent:\n  - { lines: content/alle.ndjson, keys: { id: nr, type: art, status: stand } }\n',
    'model/types/uhr.yaml': 'type: uhr\nfields:\n  name: { kind: text, required: published }\n',
    'content/alle.ndjson': lines.map((line) => `${JSON.stringify(line)}\n`).join(''),
  });
  const fine = [true, true, false];
  const { findings } = await result(folder, ['check']);
  const wrong = new Set(
    findings.flatMap((one: { severity: string; entry: string }) => (one.severity === 'error' ? [one.entry] : [])),
  );
  expect(lines.map(({ nr }) => !wrong.has(`uhr/${nr}`))).toEqual(fine);
  const { uhr } = zodsOf(await exported(folder, 'zod'));
  const schema = new Ajv2020({ strict: false }).compile(JSON.parse(await exported(folder, 'json-schema')));
  expect(lines.map((line) => uhr?.safeParse(line).success)).toEqual(fine);
  expect(lines.map((line) => schema(line))).toEqual(fine);
  const content = await exported(folder, 'typescript');
  const use = (line: object): string =>
    `import type { PublishedUhr } from './content';\nexport const one: PublishedUhr = ${JSON.stringify(line)};\n`;
  expect(lines.map((line) => compiled({ 'content.ts': content, 'use.ts': use(line) }) === '')).toEqual([
    false,
    true,
    false,
  ]);
});

describe('a model in GraphQL [K1]', () => {
  const schemaOf = async (folder: string) => {
    const schema = buildSchema(await exported(folder, 'graphql'));
    assertValidSchema(schema);
    return schema;
  };
  const says = (schema: Awaited<ReturnType<typeof schemaOf>>, type: string, field: string): string | undefined => {
    const found = schema.getType(type);
    if (!found || !('getFields' in found)) return undefined;
    const one = found.getFields()[field];
    const args = one && 'args' in one ? one.args.map(({ name, type: of }) => `${name}: ${of}`).join(', ') : '';
    return one && `${args === '' ? '' : `(${args}) `}${one.type}`;
  };

  test('of the demo, by the reference implementation: both sides, unions, languages, pages', async () => {
    const folder = temporary();
    await lumbrik(folder, ['new', 'coast', '--starter', 'lighthouses']);
    const schema = await schemaOf(path.join(folder, 'coast'));
    expect(says(schema, 'Lighthouse', 'name')).toBe('(language: Language) String!');
    expect(says(schema, 'Lighthouse', 'keepers')).toBe('[Keeper!]!');
    expect(says(schema, 'Keeper', 'lights')).toBe('(first: Int, after: String) LighthousePage!');
    expect(says(schema, 'Home', 'featured')).toBe('[HomeFeaturedTarget!]!');
    expect(String(schema.getType('HomeFeaturedTarget'))).toBe('HomeFeaturedTarget');
    expect(says(schema, 'Lighthouse', 'region')).toBe('RegionTerm!');
    expect(says(schema, 'Query', 'lighthouse')).toBe('(id: ID!) Lighthouse');
    expect(says(schema, 'Query', 'allLighthouse')).toBe('(first: Int, after: String) LighthousePage!');
    expect(says(schema, 'Query', 'settings')).toBe('Settings');
  });

  test('names that the language cannot have, types that extend others, and names of its own', async () => {
    const schema = await schemaOf(
      workspace({
        ...odd,
        'model/types/query.yaml':
          'type: query\nfields:\n  __typename: { kind: text }\n  true: { kind: text }\n  a-b: { kind: text }\n  wert: { kind: integer, min: 0, max: 9999999999 }\n',
        'model/types/wecker.yaml': 'type: wecker\nextends: uhr\nfields:\n  laut: { kind: boolean, required: true }\n',
        'model/types/wer.yaml':
          'type: wer\nfields:\n  hat: { kind: reference, to: uhr, many: true, inverse: gehört zu }\n',
      }),
    );
    expect(says(schema, 'Wer', 'hat')).toBe('(first: Int, after: String) AnyUhrPage!');
    expect(says(schema, 'Wecker', 'laut')).toBe('Boolean!');
    expect(says(schema, 'Wecker', 'geh_rtZu') ?? says(schema, 'Wecker', 'gehRtZu')).toBe(
      '(first: Int, after: String) WerPage!',
    );
    expect(says(schema, 'Query_', 'a_b')).toBe('String');
    expect(says(schema, 'Query_', '_typename')).toBe('String');
    expect(says(schema, 'Query_', 'wert')).toBe('Float');
    expect(says(schema, 'Query', 'query')).toBe('(id: ID!) Query_');
    expect(says(schema, 'Uhr', 'teile')).toBe('[UhrTeile!]!');
  });

  test('whatever the model is', async () => {
    await fc.assert(
      fc.property(sketch, (drawn) => {
        const model = link(wholeOf(drawn));
        const types = [...model.types.values()];
        const text = graphql.text({
          workspace: 'W',
          model,
          types,
          factKeys: [usualFactKeys],
          call: 'lumbrik export graphql',
        });
        if (types.length > 0) assertValidSchema(buildSchema(text));
      }),
      { numRuns: 200 },
    );
  });
});

describe('a model for people [K1]', () => {
  test('in Markdown, with help, examples and limits, in the language that is asked for', async () => {
    const folder = workspace({
      'lumbrik.yaml': 'workspace: Uhren | Werke\nlanguages: [de, fr]\n',
      'model/types/uhr.yaml':
        'type: uhr\nlabel: { one: Uhr, many: { de: Uhren, fr: Horloges } }\nabout: Was tickt.\nguide: "Erst lesen.\\n\\nDann schreiben."\nfields:\n  name: { kind: text, required: true, max: 9, help: { de: "Kurz | knapp", fr: Court }, example: "a|`b`" }\n  ort: { kind: object, fields: { stadt: { kind: text } } }\n  art: { kind: term, taxonomy: art }\nrules:\n  - { expect: "entry.name != \'x\'", say: Kein x. }\n',
      'model/taxonomies/art.yaml': 'taxonomy: art\nterms: [{ term: pendel, label: Pendeluhr, terms: [wand] }]\n',
    });
    expect(await exported(folder, 'markdown')).toBe(`# Uhren \\| Werke

The content model. Written by \`lumbrik export markdown\`.

## Uhren (\`uhr\`)

Was tickt.

> Erst lesen.
>
> Dann schreiben.

| Field | | Takes | For authors |
| --- | --- | --- | --- |
| \`name\` | Name | text, ≤ 9 characters; required | Kurz \\| knapp · such as \`\` a\\|\`b\` \`\` |
| \`ort\` | Ort | object, \\{ stadt \\} |  |
| \`ort.stadt\` | Stadt | text |  |
| \`art\` | Art | term, of art |  |

Rules:

- Kein x. \`entry.name != 'x'\`

## Taxonomies

### Art (\`art\`)

- Pendeluhr (\`pendel\`)
  - Wand (\`wand\`)
`);
    expect(await exported(folder, 'markdown', '--language', 'fr')).toContain('## Horloges (`uhr`)');
  });
});

describe('a file that is kept up to date [K1]', () => {
  test('is written once, told when it is not what the model says, and written anew', async () => {
    const folder = workspace(odd);
    expect((await lumbrik(folder, ['export', 'typescript', '--out', 'src/content.ts', '--check'])).code).toBe(1);
    expect((await lumbrik(folder, ['export', 'typescript', '--out', 'src/content.ts'])).out).toContain('is written');
    expect((await lumbrik(folder, ['export', 'typescript', '--out', 'src/content.ts', '--check'])).code).toBe(0);
    edit(folder, 'model/types/uhr.yaml', 'roh: { kind: json }', 'roh: { kind: boolean }');
    const before = read(folder, 'src/content.ts');
    const told = await lumbrik(folder, ['export', 'typescript', '--out', 'src/content.ts', '--check']);
    expect([told.code, told.out]).toEqual([
      1,
      expect.stringContaining('lumbrik export typescript --out src/content.ts'),
    ]);
    expect(read(folder, 'src/content.ts')).toBe(before);
    await lumbrik(folder, ['export', 'typescript', '--out', 'src/content.ts']);
    // A changed model is a small difference.
    const now = read(folder, 'src/content.ts').split('\n');
    expect(now.filter((line) => !before.split('\n').includes(line)).length).toBeLessThan(4);
  });

  test('never takes the place of something else, and a wrong call is told', async () => {
    const folder = workspace({ ...odd, 'content.ts': 'export const mine = 1;\n' });
    const refused = await lumbrik(folder, ['export', 'typescript', '--out', 'content.ts']);
    expect([refused.code, read(folder, 'content.ts')]).toEqual([3, 'export const mine = 1;\n']);
    for (const [args, says] of [
      [['typescript', 'urh'], 'Did you mean `uhr`?'],
      [['typescript', '--language', 'it'], 'no language of the workspace'],
      [['typescript', '--check'], '--check'],
      [['cobol'], 'cobol'],
      [['typescript', '--public', '--as', 'csv'], '--as and --public say nothing of typescript'],
      [['skos', '--language', 'fr'], '--language says nothing of skos'],
    ] as const) {
      const { code, err } = await lumbrik(folder, ['export', ...args]);
      expect([code, err]).toEqual([2, expect.stringContaining(says)]);
    }
    expect(fs.existsSync(path.join(folder, 'content.schema.json'))).toBe(false);
  });

  test('the next step is the call that writes the same', async () => {
    const folder = workspace(odd);
    const call = ['export', 'markdown', 'uhr', '--language', 'fr', '--out', 'Modell.md'];
    const { code, out } = await lumbrik(folder, [...call, '--check']);
    expect([code, out]).toEqual([1, expect.stringContaining(`› lumbrik ${call.join(' ')}  writes it anew`)]);
    expect((await lumbrik(folder, call)).code).toBe(0);
    expect((await lumbrik(folder, [...call, '--check'])).code).toBe(0);
  });

  test('some types alone', async () => {
    const text = await exported(workspace(odd), 'typescript', 'none');
    expect(text).toContain('export interface None ');
    expect(text).not.toContain('export interface Uhr ');
  });
});
