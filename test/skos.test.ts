import fs from 'node:fs';
import path from 'node:path';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { parse } from 'yaml';
import type { Branch, TaxonomyDoc, TermDoc } from '../src/core/definition/taxonomy.ts';
import { humanize } from '../src/core/plain/words.ts';
import { taxonomyFromSkos } from '../src/core/skos/fromSkos.ts';
import { prefixes, resourceKey, type Statement } from '../src/core/skos/statement.ts';
import { conceptsIn, schemesOf, ThingsSoFar } from '../src/core/skos/things.ts';
import { skosOf } from '../src/core/skos/toSkos.ts';
import { statementsIn } from '../src/rdf/read.ts';
import { syntaxes } from '../src/rdf/syntaxes.ts';
import { rdfText } from '../src/rdf/write.ts';
import { thingsIn } from '../src/tasks/terms/from.ts';
import { lumbrik, read, result, root, temporary, workspace, write } from './support/program.ts';

/** A made-up thesaurus of clocks, with all that SKOS knows. */
const clocks = `@prefix skos: <http://www.w3.org/2004/02/skos/core#> .
@prefix dct: <http://purl.org/dc/terms/> .
@prefix owl: <http://www.w3.org/2002/07/owl#> .
@prefix xsd: <http://www.w3.org/2001/XMLSchema#> .
@prefix c: <https://uhren.example/werk/> .

<https://uhren.example/werk> a skos:ConceptScheme ; dct:title "Werke"@de, "Mouvements"@fr ; dct:creator "Das Archiv" ;
  skos:hasTopConcept c:pendel .
c:pendel a skos:Concept ; skos:inScheme <https://uhren.example/werk> ; skos:prefLabel "Pendel"@de, "Pendule"@fr, "pendulum"@en ;
  skos:altLabel "Perpendikel"@de, "Schwinger"@de, "balancier"@fr ; skos:hiddenLabel "Pendl"@de ;
  skos:definition "Was schwingt."@de ; skos:scopeNote "Nicht für Drehpendel."@de ; skos:notation "P" ;
  skos:exactMatch <https://other.example/42> ; skos:narrower c:sekunden, c:halb .
c:sekunden a skos:Concept ; skos:inScheme <https://uhren.example/werk> ; skos:prefLabel "Sekundenpendel"@de ; skos:broader c:pendel ;
  skos:related c:feder ; skos:notation "17"^^xsd:integer .
c:halb a skos:Concept ; skos:broader c:feder, c:pendel ; skos:inScheme <https://uhren.example/werk> ; skos:prefLabel "Halb"@de .
c:feder a skos:Concept ; skos:topConceptOf <https://uhren.example/werk> ; skos:prefLabel "Feder"@de .
c:alt a skos:Concept ; skos:inScheme <https://uhren.example/werk> ; owl:deprecated true ; dct:isReplacedBy c:feder ; skos:prefLabel "Alt"@de .
<https://uhren.example/other#x%20y> a skos:Concept ; skos:inScheme <https://uhren.example/werk> ; skos:prefLabel "Anderswo"@de ;
  skos:note [ skos:prefLabel "an einem Ort ohne Adresse" ] .
c:gruppe a skos:OrderedCollection ; skos:prefLabel "Nach Größe"@de ; skos:memberList ( c:sekunden c:halb ) .
<https://uhren.example/wer> a <http://xmlns.com/foaf/0.1/Person> .
`;

const uhren = { 'lumbrik.yaml': 'workspace: Uhren\nlanguages: [de, fr]\n' };

const madeOf = async (files: Readonly<Record<string, string>>, ...args: readonly string[]) => {
  const folder = workspace({ ...uhren, ...files });
  return { folder, made: await result(folder, ['terms', 'werk', ...args]) };
};

describe('a taxonomy from SKOS', () => {
  test('with what it has words for, what it keeps as facts, and what it cannot keep said', async () => {
    const { folder, made } = await madeOf({ 'werk.ttl': clocks }, '--from', 'werk.ttl');
    expect(made).toEqual({
      lumbrik: 1,
      command: 'terms',
      what: 'made',
      taxonomy: 'werk',
      file: 'model/taxonomies/werk.yaml',
      terms: 6,
      collections: 1,
      lost: [
        {
          says: 'skos:note leads to things without an address',
          count: 1,
          example: 'https://uhren.example/other#x%20y',
        },
        { says: 'things that are no concepts', count: 2, example: expect.any(String) },
      ],
      code: 0,
    });
    expect(parse(read(folder, 'model/taxonomies/werk.yaml'))).toEqual({
      taxonomy: 'werk',
      label: { de: 'Werke', fr: 'Mouvements' },
      facts: { 'dct:creator': ['Das Archiv'] },
      iri: 'https://uhren.example/werk/',
      collections: [
        {
          iri: 'https://uhren.example/werk/gruppe',
          label: { de: 'Nach Größe' },
          ordered: true,
          members: ['sekunden', 'halb'],
        },
      ],
      terms: [
        {
          term: 'pendel',
          label: { de: 'Pendel', fr: 'Pendule' },
          about: { de: 'Was schwingt.' },
          synonyms: { de: ['Perpendikel', 'Schwinger'], fr: ['balancier'] },
          facts: {
            'skos:prefLabel': [{ text: 'pendulum', language: 'en' }],
            'skos:hiddenLabel': [{ text: 'Pendl', language: 'de' }],
            'skos:scopeNote': [{ text: 'Nicht für Drehpendel.', language: 'de' }],
            'skos:notation': ['P'],
            'skos:exactMatch': [{ iri: 'https://other.example/42' }],
          },
          terms: [
            {
              term: 'sekunden',
              label: { de: 'Sekundenpendel' },
              facts: {
                'skos:related': [{ iri: 'https://uhren.example/werk/feder' }],
                'skos:notation': [{ text: '17', type: 'xsd:integer' }],
              },
            },
            { also: 'halb' },
          ],
        },
        { term: 'feder', label: { de: 'Feder' }, terms: [{ term: 'halb', label: { de: 'Halb' } }] },
        { term: 'alt', label: { de: 'Alt' }, retired: { use: 'feder' } },
        { term: 'anderswo', label: { de: 'Anderswo' }, iri: 'https://uhren.example/other#x%20y' },
      ],
    });
    expect((await lumbrik(folder, ['check'])).code).toBe(0);
    const shown = (await lumbrik(folder, ['terms', 'werk:'])).out;
    expect(shown).toContain('Sekundenpendel');
  });

  test('read aloud: what is not in it, before what is', async () => {
    const { folder } = await madeOf({ 'werk.ttl': clocks });
    expect((await lumbrik(folder, ['terms', 'werk', '--from', 'werk.ttl'])).out).toMatch(
      /^▲ What is not in it\n {2}skos:note leads to things without an address · 1, such as https:\/\/uhren.example\/other#x%20y\n {2}things that are no concepts · 2, such as \S+\n\n✓ werk: is new in model\/taxonomies\/werk.yaml: 6 terms and 1 collection\n/u,
    );
  });

  test('terms by their labels, where their addresses say nothing', async () => {
    const numbers = clocks.replaceAll('c:pendel', 'c:4711').replaceAll('c:feder', 'c:4712');
    const { folder } = await madeOf({ 'werk.ttl': numbers }, '--from', 'werk.ttl', '--by-label');
    const { terms } = parse(read(folder, 'model/taxonomies/werk.yaml'));
    expect(terms.slice(0, 2)).toMatchObject([
      { term: 'pendel', iri: 'https://uhren.example/werk/4711' },
      { term: 'feder', iri: 'https://uhren.example/werk/4712' },
    ]);
    const out = await lumbrik(folder, ['export', 'skos', 'werk', '--as', 'n-triples']);
    expect(out.out).toContain(
      '<https://uhren.example/werk/halb> <http://www.w3.org/2004/02/skos/core#broader> <https://uhren.example/werk/4712> .',
    );
  });

  test('words that are in no language of the workspace, or not in its main one, are one text and kept', async () => {
    for (const languages of ['[en]', '[en, de]', '[it, fr, de]']) {
      const folder = workspace({ 'lumbrik.yaml': `workspace: Clocks\nlanguages: ${languages}\n`, 'werk.ttl': clocks });
      expect(await result(folder, ['terms', 'werk', '--from', 'werk.ttl'])).toMatchObject({ terms: 6, code: 0 });
      const was = read(folder, 'model/taxonomies/werk.yaml');
      const [pendulum, spring] = parse(was).terms;
      expect(pendulum.terms[0].label).toBe('Sekundenpendel');
      expect(spring).toMatchObject({
        facts: { 'skos:prefLabel': [{ text: 'Feder', language: 'de' }] },
      });
      await lumbrik(folder, ['export', 'skos', 'werk', '--out', 'out.ttl']);
      fs.rmSync(path.join(folder, 'model/taxonomies/werk.yaml'));
      await lumbrik(folder, ['terms', 'werk', '--from', 'out.ttl']);
      expect(parse(read(folder, 'model/taxonomies/werk.yaml'))).toEqual(parse(was));
    }
  });

  test('a hierarchy that goes round is opened, and said', async () => {
    const round = clocks.replace('c:pendel a skos:Concept ;', 'c:pendel a skos:Concept ; skos:broader c:sekunden ;');
    const { folder, made } = await madeOf({ 'werk.ttl': round }, '--from', 'werk.ttl');
    expect(made.lost[0]).toEqual({
      says: 'the hierarchy goes round, and the step that closes the circle is left out',
      count: 1,
      example: 'pendel → sekunden → pendel',
    });
    expect((await lumbrik(folder, ['check'])).code).toBe(0);
  });

  test('labels that are things of their own are words, and what else they say is told', async () => {
    const labels = clocks
      .replace('skos:prefLabel "Feder"@de', 'xl:prefLabel c:l1, [ xl:literalForm "Ressort"@fr ] ; xl:altLabel c:l2')
      .replace(
        'skos:prefLabel "Alt"@de',
        'xl:prefLabel [ a xl:Label ; xl:literalForm "Alt"@de ] ; skos:prefLabel "Alt"@de',
      );
    const text = `@prefix xl: <http://www.w3.org/2008/05/skos-xl#> .\n${labels}
      c:l1 a xl:Label ; xl:literalForm "Feder"@de .
      c:l2 a xl:Label ; xl:literalForm "Zugfeder"@de ; dct:created "1900" ; xl:labelRelation c:l1 .\n`;
    const { folder, made } = await madeOf({ 'werk.ttl': text }, '--from', 'werk.ttl');
    expect(made.lost[0]).toEqual({
      says: 'what labels say beside their words (SKOS-XL)',
      count: 1,
      example: 'https://uhren.example/werk/l2',
    });
    expect(made.lost).toHaveLength(3);
    const terms = parse(read(folder, 'model/taxonomies/werk.yaml')).terms as { term: string }[];
    expect(terms.find(({ term }) => term === 'feder')).toMatchObject({
      label: { de: 'Feder', fr: 'Ressort' },
      synonyms: { de: ['Zugfeder'] },
    });
    expect(read(folder, 'model/taxonomies/werk.yaml')).not.toContain('skos-xl');
  });

  test('what only concepts lead to is one; of things without a preferred label the label is that', async () => {
    const text = `@prefix skos: <http://www.w3.org/2004/02/skos/core#> .
      @prefix rdfs: <http://www.w3.org/2000/01/rdf-schema#> .
      <urn:a:eins> skos:broader <urn:a:oben> ; rdfs:label "Eins!"@de, "One"@en .
      <urn:a:oben> rdfs:label "Ganz oben"@de .
      <urn:a:anders> rdfs:label "Etwas anderes"@de .`;
    const { folder, made } = await madeOf({ 'werk.ttl': text }, '--from', 'werk.ttl');
    expect(made.lost).toEqual([{ says: 'things that are no concepts', count: 1, example: 'urn:a:anders' }]);
    expect(parse(read(folder, 'model/taxonomies/werk.yaml')).terms).toEqual([
      {
        term: 'oben',
        label: { de: 'Ganz oben' },
        terms: [{ term: 'eins', label: { de: 'Eins!' }, facts: { 'rdfs:label': [{ text: 'One', language: 'en' }] } }],
      },
    ]);
  });

  test('of several schemes one has to be named', async () => {
    const two = `${clocks}<https://uhren.example/ort> a skos:ConceptScheme ; skos:prefLabel "Orte"@de .\nc:bern a skos:Concept ; skos:inScheme <https://uhren.example/ort> ; skos:prefLabel "Bern"@de .\n`;
    const { folder } = await madeOf({ 'werk.ttl': two });
    const { code, err } = await lumbrik(folder, ['terms', 'werk', '--from', 'werk.ttl']);
    expect([code, err]).toEqual([
      2,
      expect.stringMatching(/uhren\.example\/werk, Werke, 6 concepts[\s\S]*the end of it: --scheme werk\n/u),
    ]);
    const made = await result(folder, ['terms', 'ort', '--from', 'werk.ttl', '--scheme', 'ort']);
    expect((await lumbrik(folder, ['terms', 'x', '--from', 'werk.ttl', '--scheme', 'rt'])).err).toContain(
      'no such scheme',
    );
    expect(made).toMatchObject({ terms: 1, code: 0 });
    expect(made.lost).toContainEqual({ says: 'concepts of other schemes', count: 6, example: expect.any(String) });
  });
});

describe('a taxonomy from what people write', () => {
  test.each([
    ['list.txt', 'North\n  Skerries\n  holm-bay: Holm, Bay\nSouth\n'],
    ['table.csv', 'term,label,under\nnorth,,\nskerries,,north\nholm-bay,"Holm, Bay",north\nsouth,,\n'],
    ['paths.csv', 'term,label,path\n,,North / Skerries\nholm-bay,"Holm, Bay",North > Holm Bay\n,,South\n'],
    [
      'a.json',
      '["North", {"id":"x"}, "South"]'.replace(
        '"North", {"id":"x"}',
        '{"name":"North","children":["Skerries",{"id":"holm-bay","name":"Holm, Bay"}]}',
      ),
    ],
    ['b.json', '{"north":["Skerries",{"term":"holm-bay","label":"Holm, Bay"}],"south":{}}'],
  ])('%s', async (name, text) => {
    const { folder, made } = await madeOf({ [name]: text }, '--from', name);
    expect(made).toMatchObject({ terms: 4, lost: [] });
    expect(parse(read(folder, 'model/taxonomies/werk.yaml')).terms).toEqual([
      { term: 'north', terms: [{ term: 'skerries' }, { term: 'holm-bay', label: 'Holm, Bay' }] },
      { term: 'south' },
    ]);
  });
});

describe('out and in again gives the same taxonomy', () => {
  const words = fc.oneof(
    fc.constantFrom('Pendel', 'a "b" \\ c', 'zwei\nZeilen', '<&>', 'é😀', ' x '),
    fc
      .string({ minLength: 1, maxLength: 8 })
      // biome-ignore lint/suspicious/noControlCharactersInRegex: XML has none of these.
      .filter((text) => !/[\u0000-\u0008\u000b-\u001f\ufffe\uffff]|\p{Surrogate}/u.test(text)),
  );
  const wording = (languages: readonly string[]) =>
    languages.length === 1
      ? words
      : fc.oneof(
          words,
          fc.record(Object.fromEntries(languages.map((one) => [one, words])), {
            requiredKeys: [languages[0] ?? ''],
            noNullPrototype: true,
          }),
        );
  const facts = fc.constantFrom<TermDoc['facts']>(
    undefined,
    { 'skos:notation': ['A1', { text: '7', type: 'xsd:integer' }] },
    {
      'skos:exactMatch': [{ iri: 'https://other.example/a b'.replace(' ', '%20') }],
      'https://own.example/p': [{ text: 'x', language: 'en-GB' }],
    },
  );
  const names = ['a', 'b-c', 'Ümlaut', '12', 'x y', 'd'];
  const taxonomy = fc.constantFrom(['de'], ['de', 'fr']).chain((languages) =>
    fc
      .record({
        label: fc.option(wording(languages), { nil: undefined }),
        about: fc.option(wording(languages), { nil: undefined }),
        iri: fc.constantFrom(undefined, 'https://uhren.example/werk/', 'https://uhren.example/werk#'),
        facts,
        parents: fc.array(fc.tuple(fc.nat(5), fc.nat(5)), { minLength: names.length, maxLength: names.length }),
        terms: fc.array(
          fc.record({
            label: fc.option(wording(languages), { nil: undefined }),
            about: fc.option(wording(languages), { nil: undefined }),
            facts,
            retired: fc.constantFrom<TermDoc['retired']>(undefined, undefined, true),
          }),
          { minLength: names.length, maxLength: names.length },
        ),
        ordered: fc.constantFrom<true | undefined>(true, undefined),
      })
      .map(({ parents, terms, ordered, ...said }) => {
        const below = new Map<number, Branch[]>();
        const branch = (index: number): Branch => {
          const inside = below.get(index) ?? [];
          return { term: names[index] ?? '', ...(inside.length > 0 ? { terms: inside } : {}) };
        };
        // From the last to the first, each below one that comes before it; some in a second place too.
        const roots: number[] = [];
        const inner = new Map<number, number[]>();
        for (const [index, [first]] of parents.entries())
          if (index === 0 || first >= index) roots.push(index);
          else inner.set(first, [...(inner.get(first) ?? []), index]);
        for (let index = names.length - 1; index >= 0; index -= 1)
          below.set(index, (inner.get(index) ?? []).map(branch));
        const definition = JSON.parse(
          JSON.stringify({
            ...said,
            collections: [{ members: ['a', '12'], ordered, iri: 'https://uhren.example/g' }],
            terms: Object.fromEntries(names.map((name, index) => [name, terms[index]])),
            tree: roots.map(branch),
          }),
        ) as TaxonomyDoc;
        return { languages, definition };
      }),
  );

  test.each(syntaxes)('as $name', async ({ name, endings }) => {
    const folder = temporary();
    const file = path.join(folder, `a${endings[0]}`);
    await fc.assert(
      fc.asyncProperty(taxonomy, async ({ languages, definition }) => {
        const lost: string[] = [];
        fs.writeFileSync(
          file,
          rdfText([...skosOf({ name: 'werk', definition, languages })], name, {
            head: 'x -- y',
            lost: (says) => lost.push(says),
          }),
        );
        const soFar = new ThingsSoFar();
        for await (const statement of statementsIn(file)) soFar.add(statement);
        const again = taxonomyFromSkos(soFar.done().things, { name: 'werk', languages, names: 'address' });
        expect([lost, again.lost]).toEqual([[], []]);
        expect(plain(again.definition)).toEqual(plain(definition));
      }),
      { numRuns: Number(process.env.RUNS ?? 60) },
    );
  });

  /** A label that goes without saying is the same as none. */
  const plain = (definition: TaxonomyDoc): unknown => ({
    ...definition,
    label: definition.label ?? 'Werk',
    terms: Object.fromEntries(
      Object.entries(definition.terms).map(([term, doc]) => [term, { ...doc, label: doc.label ?? humanize(term) }]),
    ),
  });

  test('by the program, in every syntax, and the file is kept up to date', async () => {
    const { folder } = await madeOf({ 'werk.ttl': clocks }, '--from', 'werk.ttl');
    const was = parse(read(folder, 'model/taxonomies/werk.yaml'));
    for (const { endings } of syntaxes) {
      const file = `out${endings[0]}`;
      expect((await lumbrik(folder, ['export', 'skos', 'werk', '--out', file])).code).toBe(0);
      expect((await lumbrik(folder, ['export', 'skos', 'werk', '--out', file, '--check'])).code).toBe(0);
      expect((await lumbrik(folder, ['export', 'skos', '--out', file])).code).toBe(0);
      const other = workspace(uhren);
      const made = await result(other, ['terms', 'werk', '--from', path.join(folder, file)]);
      expect(made).toMatchObject({ terms: 6, collections: 1, lost: [], code: 0 });
      expect(parse(read(other, 'model/taxonomies/werk.yaml'))).toEqual(was);
    }
  });

  test('terms that entries alone have are told, since nothing is written down of them', async () => {
    const folder = workspace({
      'model/taxonomies/topic.yaml': 'taxonomy: topic\nopen: true\nterms:\n  - { term: light, label: Light }\n',
      'model/types/note.yaml': 'type: note\nfields:\n  topics: { kind: term, taxonomy: topic, many: true }\n',
      'content/note/a.yaml': 'topics: [light, fog]\n',
      'content/note/b.yaml': 'topics: [fog, tide]\n',
    });
    const { lost, text } = await result(folder, ['export', 'skos', 'topic']);
    expect(lost).toEqual([
      {
        says: 'a term of topic that is not written down, which entries alone have: lumbrik terms topic',
        count: 2,
      },
    ]);
    expect(text).not.toContain('fog');
    write(folder, { 'model/taxonomies/topic.yaml': 'taxonomy: topic\nterms: [light, fog, tide]\n' });
    expect((await result(folder, ['export', 'skos', 'topic'])).lost).toBeUndefined();
  });
});

describe('vocabularies that others publish come in and go out again, and what does not is told', () => {
  const { skos, rdfs, rdf } = prefixes;
  const statementsOf = async (file: string): Promise<Statement[]> => {
    const all: Statement[] = [];
    for await (const statement of statementsIn(file)) all.push(statement);
    return all;
  };
  /** What a statement says, whichever way round: what is above or below, and which scheme something is in. */
  const meant = ({ subject, predicate, object }: Statement): string => {
    const said = 'text' in object ? JSON.stringify(object) : resourceKey(object);
    const about = resourceKey(subject);
    if (predicate === `${skos}narrower`) return `${said} broader ${about}`;
    if (predicate === `${skos}broader`) return `${about} broader ${said}`;
    return `${about} ${predicate} ${said}`;
  };

  test.each([
    ['features of the land', 'gn', 'T', 98],
    ['branches of science', 'discipline', undefined, 130],
  ])('%s', async (_, name, scheme, least) => {
    const file = path.join(root, `node_modules/@vocabulary/${name}/${name}.nq`);
    const folder = workspace({ 'lumbrik.yaml': 'workspace: W\nlanguages: [en, fr, ru]\n' });
    const options = scheme === undefined ? [] : ['--scheme', scheme];
    const made = await result(folder, ['terms', 'werk', '--from', file, ...options]);
    expect(made.terms).toBeGreaterThanOrEqual(least);
    expect((await lumbrik(folder, ['check'])).code).toBe(0);
    expect((await lumbrik(folder, ['export', 'skos', 'werk', '--out', 'out.nt'])).code).toBe(0);

    const soFar = new ThingsSoFar();
    const source = await statementsOf(file);
    for (const one of source) soFar.add(one);
    const { things } = soFar.done();
    const concepts = new Set(
      [...conceptsIn(things)].filter(
        (key) => scheme === undefined || schemesOf(things, key).some((one) => one.endsWith(`#${scheme}`)),
      ),
    );
    expect(concepts.size).toBe(made.terms);
    const out = new Set((await statementsOf(path.join(folder, 'out.nt'))).map(meant));
    const gone = source.filter((one) => {
      const { subject, predicate, object } = one;
      if (!concepts.has(resourceKey(subject)) || out.has(meant(one))) return false;
      // A label stands as the preferred one where there is none.
      return !(predicate === `${rdfs}label` && out.has(meant({ subject, predicate: `${skos}prefLabel`, object })));
    });
    const told = made.lost.reduce((sum: number, one: { says: string; count: number }) => {
      return (
        sum + (one.says.startsWith('a broader or narrower') || one.says.startsWith('the hierarchy') ? one.count : 0)
      );
    }, 0);
    expect(gone.map(({ predicate }) => predicate).filter((one) => one !== `${rdf}type`)).toHaveLength(told);

    // And in again: the same, whatever way it went.
    const other = workspace({ 'lumbrik.yaml': 'workspace: W\nlanguages: [en, fr, ru]\n' });
    const again = await result(other, ['terms', 'werk', '--from', path.join(folder, 'out.nt')]);
    expect(again).toMatchObject({ terms: made.terms, lost: [] });
    const taxonomy = 'model/taxonomies/werk.yaml';
    expect(parse(read(other, taxonomy))).toEqual(parse(read(folder, taxonomy)));
  });
});

/** A concept of RDF/XML with a label, behind a declaration. */
const xml = (label: string, doctype = ''): string =>
  `<?xml version="1.0"?>\n${doctype}<rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#" xmlns:skos="http://www.w3.org/2004/02/skos/core#"><skos:ConceptScheme rdf:about="urn:s"/><skos:Concept rdf:about="urn:c/a"><skos:inScheme rdf:resource="urn:s"/><skos:prefLabel>${label}</skos:prefLabel></skos:Concept></rdf:RDF>`;
const nestedNodes = (depth: number): string =>
  `x</skos:prefLabel>${'<skos:note><rdf:Description>'.repeat(depth)}${'</rdf:Description></skos:note>'.repeat(depth)}<skos:prefLabel>y`;

test('entities that refer to other ones are what those say [K2]', async () => {
  const entities = `<!ENTITY f 'fo"o'><!-- ] --><!ENTITY e "&f;&f; &amp; &#65;"><!ENTITY f "other">`;
  const folder = workspace({ ...uhren, 'a.rdf': xml('&e;', `<!DOCTYPE rdf:RDF [ ${entities} ]>`) });
  const { code } = await result(folder, ['terms', 'werk', '--from', 'a.rdf']);
  expect(code).toBe(0);
  expect(parse(read(folder, 'model/taxonomies/werk.yaml')).terms[0].label).toBe('fo"ofo"o & A');
});

describe('what cannot be read is refused, and nothing is written', () => {
  const laughs = `<?xml version="1.0"?><!DOCTYPE x [${Array.from({ length: 12 }, (_, index) => `<!ENTITY a${index} "${index === 0 ? 'ha' : `&a${index - 1};`.repeat(10)}">`).join('')}]><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="urn:x"><rdf:value>&a11;</rdf:value></rdf:Description></rdf:RDF>`;
  test.each([
    ['a.ttl', `${clocks}\nc:x skos:broader ;;; "`, /cannot be read as RDF.*a\.ttl:23/u],
    ['a.ttl', '', /no concepts of SKOS/u],
    ['a.ttl', '@prefix a: <urn:a> . a:b a:c a:d .', /no concepts of SKOS/u],
    ['a.nt', '<urn:a> <urn:b> .', /cannot be read as RDF.*a\.nt:1/u],
    [
      'a.rdf',
      '<rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description>',
      /ends in the middle/u,
    ],
    ['a.rdf', laughs, /its entities multiply without bound/u],
    ['a.rdf', xml('', '<!DOCTYPE rdf:RDF SYSTEM "http://network.example/x.dtd">'), /nothing outside is read/u],
    ['a.rdf', xml('', '<!DOCTYPE rdf:RDF PUBLIC "-//X//EN" "http://network.example/x.dtd" [ ]>'), /nothing outside/u],
    [
      'a.rdf',
      xml('&e;', '<!DOCTYPE rdf:RDF [<!ENTITY e SYSTEM "file:///etc/hostname">]>'),
      /entity e lies in another/u,
    ],
    [
      'a.rdf',
      xml('', '<!DOCTYPE rdf:RDF [<!ENTITY % p SYSTEM "http://network.example/p"> %p;]>'),
      /parameter entities/u,
    ],
    ['a.rdf', xml('&a;', '<!DOCTYPE rdf:RDF [<!ENTITY a "&b;"><!ENTITY b "&a;">]>'), /entity a holds itself/u],
    ['a.rdf', xml(nestedNodes(30_000)), /more than 500 deep/u],
    [
      'a.jsonld',
      `{"@context":{"n":"urn:n"},"@id":"urn:a",${'"n":{'.repeat(30_000)}"n":1${'}'.repeat(30_000)}}`,
      /more than 500 deep/u,
    ],
    [
      'a.jsonld',
      '{"@context": "https://network.example/context.jsonld", "@id": "urn:a"}',
      /leans on https:\/\/network.example\/context.jsonld, and nothing is fetched/u,
    ],
    ['a.jsonld', '{"@context": {}', /cannot be read as RDF|no concepts/u],
    ['a.json', '{"a": 7', /is no JSON/u],
    ['a.json', '[[1]]', /where a term is expected/u],
    ['a.csv', 'term,under\na,b\n', /puts a under “b”/u],
    ['a.pdf', '%PDF', /what \.pdf files hold is not known/u],
    ['missing.ttl', undefined, /no file missing\.ttl/u],
  ] as const)('%s: %s', async (name, text, says) => {
    const folder = workspace(uhren);
    if (text !== undefined) write(folder, { [name]: text });
    const { code, err } = await lumbrik(folder, ['terms', 'werk', '--from', name]);
    expect([code, err.replace(/\n\s+/gu, ' ')]).toEqual([2, expect.stringMatching(says)]);
    expect(fs.existsSync(path.join(folder, 'model/taxonomies'))).toBe(false);
  });

  test('more things than memory may hold', async () => {
    const folder = workspace({
      'b.nt': Array.from({ length: 40 }, (_, at) => `_:b${at} <https://uhren.example/p> _:b${at + 1} .\n`).join(''),
    });
    const file = path.join(folder, 'b.nt');
    expect((await thingsIn(file, 40)).things.size).toBe(40);
    await expect(thingsIn(file, 39)).rejects.toMatchObject({
      code: 'too-large',
      message: 'it describes more than 39 things',
      where: { file },
    });
  });

  test('a name that is taken, or none', async () => {
    const { folder } = await madeOf({ 'werk.ttl': clocks }, '--from', 'werk.ttl');
    expect((await lumbrik(folder, ['terms', 'werk', '--from', 'werk.ttl'])).code).toBe(3);
    expect((await lumbrik(folder, ['terms', '--from', 'werk.ttl'])).err).toContain('lumbrik terms region --from');
    expect((await lumbrik(folder, ['export', 'skos', 'werk', '--as', 'csv'])).err).toContain('Say --as turtle');
    expect(await lumbrik(workspace(uhren), ['export', 'skos'])).toMatchObject({ code: 2, out: '' });
  });
});
