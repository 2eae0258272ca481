import fs from 'node:fs';
import path from 'node:path';
import { beforeAll, describe, expect, test } from 'vitest';
import { parse, stringify } from 'yaml';
import { unfitName } from '../src/core/definition/address.ts';
import type { FieldDoc } from '../src/core/definition/field.ts';
import { celOfField } from '../src/core/definition/fieldName.ts';
import { likeFields } from '../src/core/diff/likeFields.ts';
import { fitting } from '../src/core/export/tables/columnType.ts';
import { changesBetween } from '../src/core/migration/entryChanges.ts';
import { linkField } from '../src/core/model/link.ts';
import { compilePattern } from '../src/core/patterns/pattern.ts';
import type { JsonObject } from '../src/core/plain/json.ts';
import { FieldTally } from '../src/core/profile/fieldTally.ts';
import { countAbove, Spread } from '../src/core/profile/spread.ts';
import { distinctOf, ValueCounts } from '../src/core/profile/valueCounts.ts';
import { loadConversion } from '../src/core/text/conversion.ts';
import { toPlain } from '../src/core/text/plain.ts';
import { StepSamples, tellingest } from '../src/passes/stepSamples.ts';
import { type Files, lumbrik, read, result, temporary, workspace, write } from './support/program.ts';

beforeAll(loadConversion);

/** Small changes of the code that no test noticed, each told by what it would have done. */
describe('what no test noticed', () => {
  test('entries with a key that is no word in an expression go to their new type by it', async () => {
    const fields = {
      name: { kind: 'text' },
      site: { kind: 'text' },
      'opening-hours': { kind: 'text', required: true },
    };
    const { 'opening-hours': hours, ...left } = fields;
    const folder = workspace({
      'model/types/place.yaml': stringify({ type: 'place', fields: { ...left, 'opening-hours': { kind: 'text' } } }),
      'content/place/a.yaml': 'name: A\nsite: x\nopening-hours: 9 to 5\n',
      'content/place/b.yaml': 'name: B\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, {
      'model/types/place.yaml': stringify({ type: 'place', fields: left }),
      'model/types/shop.yaml': stringify({
        type: 'shop',
        fields: { name: left.name, site: left.site, 'opening-hours': hours },
      }),
    });
    const { file } = await result(folder, ['migration', 'draft']);
    expect(read(folder, file)).toContain('where: has(entry.opening_hours)');
    const sent = (await result(folder, ['diff'])).changes.find(
      (one: { change: string }) => one.change === 'entries-sent',
    );
    expect([sent.impact.hits, sent.impact.of]).toEqual([1, 2]);
    for (;;) {
      const { questions } = await result(folder, ['migration', 'answer', '--no-ask']);
      if (questions.length === 0) break;
      await result(folder, ['migration', 'answer', '--step', String(questions[0].step), '--yes']);
    }
    expect((await result(folder, ['migration', 'rehearse'])).error).toBeUndefined();
    await lumbrik(folder, ['migration', 'run']);
    expect(read(folder, 'content/shop/a.yaml')).toContain('opening-hours: 9 to 5');
  });

  test('a text inside an object titles entries where none outside does', async () => {
    const trees = Array.from({ length: 12 }, (_, index) => ({
      id: `t${index}`,
      size: { name: 'wide', width: index },
      name: { common: `Tree ${index}`, official: `Arbor ${index}` },
    }));
    const folder = temporary();
    write(folder, { 'content/tree.json': JSON.stringify(trees) });
    const { error } = await result(folder, ['learn', 'content/tree.json']);
    expect(error).toBeUndefined();
    expect(parse(read(folder, 'model/types/tree.yaml')).titled).toBe('name.common');
  });

  test('a rename that names no choice says which there are', async () => {
    const folder = workspace({
      'model/types/plant.yaml': 'type: plant\nfields: { sort: { kind: choice, choices: [oak, elm] } }\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, {
      'model/types/plant.yaml': 'type: plant\nfields: { sort: { kind: choice, choices: [ash, elm] } }\n',
    });
    const { err } = await lumbrik(folder, ['diff', '--renamed', 'plant.sort:oka=ash']);
    expect(err).toContain('Did you mean `oak`?');
    const { error } = await result(folder, ['diff', '--renamed', 'plant.sort:oak=ahs']);
    expect(error.mend).toContain('`ash`');
  });

  test('each finding of a file of lines stands in its own line, one after another and back', async () => {
    const lines = Array.from({ length: 6 }, (_, index) => `{"id":"p${index}","size":${index % 2 ? '"x"' : index}}\n`);
    const folder = workspace({
      'lumbrik.yaml': 'workspace: x\ncontent: [{ lines: content/p.ndjson, type: plant }]\n',
      'model/types/plant.yaml': 'type: plant\nfields: { size: { kind: integer } }\n',
      'content/p.ndjson': lines.join(''),
    });
    const { findings } = await result(folder, ['check']);
    expect(findings.map(({ entry, line, column }: Record<string, unknown>) => [entry, line, column])).toEqual([
      ['plant/p1', 2, 19],
      ['plant/p3', 4, 19],
      ['plant/p5', 6, 19],
    ]);
  });

  test('a finding about the text of a Markdown file ends where the text does', async () => {
    const folder = workspace({
      'model/types/page.yaml': 'type: page\nfields: { text: { kind: markdown, body: true, max: 10 } }\n',
      'content/page/a.md': '---\nstatus: draft\n---\nOne line.\n\nAnd the last',
    });
    const [{ line, column, end }] = (await result(folder, ['check'])).findings;
    expect([line, column, end]).toEqual([4, 1, { line: 6, column: 13 }]);
  });

  test('SQL of some types says which identifiers lead to tables that are not there', async () => {
    const folder = workspace({
      'model/types/plant.yaml': 'type: plant\nfields: { bed: { kind: reference, to: bed } }\n',
      'model/types/bed.yaml': 'type: bed\nfields: { name: { kind: text } }\n',
    });
    const { out } = await lumbrik(folder, ['export', 'sql', 'plant']);
    expect(out).toContain('bed is the identifier of a bed, which has no table here');
    expect((await lumbrik(folder, ['export', 'sql'])).out).not.toContain('has no table here');
  });

  test('a schema in Zod says how long a list or a text has to be', async () => {
    const folder = workspace({
      'model/types/plant.yaml':
        'type: plant\nfields:\n  both: { kind: text, min: 4, max: 7 }\n  least: { kind: text, min: 3 }\n  most: { kind: text, max: 9 }\n',
    });
    const { out } = await lumbrik(folder, ['export', 'zod']);
    for (const says of ["'at least 4, at most 7'", "'at least 3'", "'at most 9'"]) expect(out).toContain(says);
  });

  test('a text is fitted to the field that is named, and to no other', async () => {
    const folder = workspace({
      'model/types/page.yaml':
        'type: page\nfields:\n  wide: { kind: richText, marks: [strong] }\n  narrow: { kind: richText, marks: [emphasis] }\n',
      'in.md': 'A **strong** word and an *emphasised* one.\n',
    });
    const lost = async (field: string) =>
      (await result(folder, ['text', 'in.md', '--to', 'html', '--for', field])).lost.map(
        (one: { what: string }) => one.what,
      );
    const [wide, narrow] = [await lost('page.wide'), await lost('page.narrow')];
    expect(wide).not.toEqual(narrow);
    expect((await result(folder, ['text', 'in.md', '--to', 'html', '--for', 'page.none'])).error.mend).toContain(
      'page.wide',
    );
  });

  test('of several things that an item may have, one that is called alike says less', () => {
    const links = (fields: Record<string, FieldDoc>): FieldDoc =>
      ({ kind: 'object', many: {}, fields }) as unknown as FieldDoc;
    const url: FieldDoc = { kind: 'webAddress' };
    const text: FieldDoc = { kind: 'text' };
    const sure = (is: FieldDoc) => likeFields(['address', url], ['address2', is], () => undefined).sure;
    const [alone, needed, among] = [
      sure(links({ address: url })),
      sure(links({ address: { ...url, required: true }, text })),
      sure(links({ address: url, text })),
    ];
    expect(alone).toBe(needed);
    expect(among).toBeLessThanOrEqual(alone);
    const short = (is: FieldDoc) => likeFields(['address', url], ['links', is], () => undefined).sure;
    expect(short(links({ address: url, text }))).toBeLessThan(short(links({ address: url })));
  });

  test('a term that stays under the same one is likelier the same', async () => {
    const before: Files = {
      'model/taxonomies/place.yaml':
        'taxonomy: place\nterms: [{ term: coast, terms: [{ term: skerrys, label: Skerrys }] }, inland]\n',
    };
    const sureWith = async (after: string): Promise<{ readonly sure: number; readonly reasons: readonly string[] }> => {
      const folder = workspace(before);
      await lumbrik(folder, ['seal', '-m', 'one']);
      write(folder, { 'model/taxonomies/place.yaml': after });
      const { changes } = await result(folder, ['diff']);
      return changes.find((one: { change: string }) => one.change === 'renamed');
    };
    const same = await sureWith(
      'taxonomy: place\nterms: [{ term: coast, terms: [{ term: skerries, label: Skerries }] }, inland]\n',
    );
    const other = await sureWith(
      'taxonomy: place\nterms: [coast, { term: inland, terms: [{ term: skerries, label: Skerries }] }]\n',
    );
    expect(same.reasons).toContain('under the same term');
    expect(other.reasons).not.toContain('under the same term');
    expect(same.sure - other.sure).toBeCloseTo(0.2, 5);
  });

  test('a new element of a list of JSON is written as the others are', async () => {
    const written = async (content: string): Promise<string> => {
      const folder = workspace({
        'lumbrik.yaml': 'workspace: x\ncontent: [{ json: content/all.json }]\n',
        'model/types/plant.yaml': 'type: plant\nfields: { by: { kind: text } }\n',
        'content/all.json': content,
      });
      await lumbrik(folder, ['seal', '-m', 'one']);
      write(folder, {
        'model/types/person.yaml': 'type: person\ntitled: name\nfields: { name: { kind: text } }\n',
        'model/types/plant.yaml': 'type: plant\nfields: { by: { kind: reference, to: person } }\n',
      });
      await result(folder, ['migration', 'draft']);
      await result(folder, ['migration', 'answer', '--yes']);
      expect((await result(folder, ['migration', 'rehearse'])).made).toBe(1);
      await lumbrik(folder, ['migration', 'run']);
      return read(folder, 'content/all.json');
    };
    expect(await written('[\n  { "id": "a", "type": "plant", "by": "Ada" }\n]\n')).toMatch(
      /\n {2}\{ ?"id": ?"ada", ?"type": ?"person", ?"name": ?"Ada" ?\}\n\]/u,
    );
    expect(await written('[\n  {\n    "id": "a",\n    "type": "plant",\n    "by": "Ada"\n  }\n]\n')).toMatch(
      /\{\n {4}"id": "ada",\n {4}"type": "person",\n {4}"name": "Ada"\n {2}\}/u,
    );
  });

  test('terms that a field takes no more, since others stand below them now, are counted and asked about', async () => {
    const folder = workspace({
      'model/types/plant.yaml': 'type: plant\nfields: { at: { kind: term, taxonomy: place, leaves: true } }\n',
      'model/taxonomies/place.yaml': 'taxonomy: place\nterms: [coast, skerries]\n',
      'content/plant/a.yaml': 'at: coast\n',
      'content/plant/b.yaml': 'at: skerries\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, {
      'model/taxonomies/place.yaml': 'taxonomy: place\nterms: [{ term: coast, terms: [skerries] }]\n',
    });
    const { changes } = await result(folder, ['diff']);
    expect(changes).toMatchObject([{ change: 'terms-rearranged', entries: 'migrate', impact: { hits: 1 } }]);
    expect(await result(folder, ['migration', 'draft'])).toMatchObject({ openQuestions: 1 });
  });

  test('a file keeps who may read it, through a run and back', async () => {
    const folder = workspace({
      'model/types/plant.yaml': 'type: plant\nfields: { by: { kind: text } }\n',
      'content/plant/a.yaml': 'by: x\n',
    });
    const file = path.join(folder, 'content/plant/a.yaml');
    const mode = (): number => fs.statSync(file).mode & 0o777;
    await lumbrik(folder, ['seal', '-m', 'one']);
    fs.chmodSync(file, 0o640);
    write(folder, { 'model/types/plant.yaml': 'type: plant\nfields: { for: { kind: text } }\n' });
    await result(folder, ['migration', 'draft', '--renamed', 'plant.by=for']);
    await result(folder, ['migration', 'rehearse']);
    await lumbrik(folder, ['migration', 'run']);
    expect([read(folder, 'content/plant/a.yaml'), mode()]).toEqual(['for: x\n', 0o640]);
    await lumbrik(folder, ['migration', 'undo']);
    expect([read(folder, 'content/plant/a.yaml'), mode()]).toEqual(['by: x\n', 0o640]);
  });

  test('a time that is said for builds and is none does not count', async () => {
    const folder = workspace({ 'model/types/plant.yaml': 'type: plant\nfields: { by: { kind: text } }\n' });
    const { out } = await lumbrik(folder, ['seal', '-m', 'one', '--format', 'json'], { SOURCE_DATE_EPOCH: 'soon' });
    expect(JSON.parse(out).error).toBeUndefined();
    const { revisions } = await result(folder, ['history']);
    expect(Math.abs(Date.now() - Date.parse(revisions[0].date))).toBeLessThan(3_600_000);
  });

  test('a map marks the field that is gone from one type and stands in another, and no other of its name', async () => {
    const height = '  height: { kind: integer, min: 3, max: 40 }\n';
    const type = (name: string, fields: string): Files => ({
      [`model/types/${name}.yaml`]: `type: ${name}\nfields:\n  site: { kind: text }\n${fields}`,
    });
    const bed = '  plant: { kind: reference, to: plant }\n';
    const folder = workspace({ ...type('bed', bed + height), ...type('plant', ''), ...type('tool', height) });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, { ...type('bed', bed), ...type('plant', height), ...type('tool', '') });
    const { boxes } = await result(folder, ['map', '--since', '1']);
    const marks = boxes.flatMap(({ name, groups }: any) =>
      groups.flatMap(({ fields }: any) => fields.map((field: any) => [`${name}.${field.name}`, field.mark])),
    );
    expect(Object.fromEntries(marks)).toMatchObject({
      'bed.height': 'moved',
      'plant.height': 'moved',
      'tool.height': 'removed',
    });
  });

  test('a rename follows into the functions that name a field, and into no other text', async () => {
    const folder = workspace({
      'model/types/plant.yaml':
        'type: plant\nfields:\n  note: { kind: text }\n  height: { kind: integer }\n  by: { kind: reference, to: plant }\nrules:\n  - expect: \'!has(entry.by) || entry.note.startsWith("plant.height") || lookUp(entry.by, "plant.height", 0) > 1\'\n    say: So.\n',
    });
    await lumbrik(folder, ['rename', 'plant.height', 'size']);
    const [rule] = parse(read(folder, 'model/types/plant.yaml')).rules;
    expect(rule.expect).toBe(
      '!has(entry.by) || entry.note.startsWith("plant.height") || lookUp(entry.by, "plant.size", 0) > 1',
    );
  });

  test('a map says what a box was called before, and of no other box', async () => {
    const folder = workspace({
      'model/types/plant.yaml': 'type: plant\nfields: { site: { kind: text } }\n',
      'model/types/tool.yaml': 'type: tool\nfields: { site: { kind: text } }\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    await lumbrik(folder, ['rename', 'plant', 'shrub']);
    const { boxes } = await result(folder, ['map', '--since', '1']);
    expect(boxes.map(({ name, mark, was }: any) => [name, mark, was])).toEqual([
      ['shrub', 'renamed', 'plant'],
      ['tool', undefined, undefined],
    ]);
  });

  test.each([
    ['en', '2020-03-04'],
    ['en-GB', '2020-04-03'],
    ['de', '2020-04-03'],
  ])('a day that nothing proves is read as is usual in %s', async (language, day) => {
    const type = (kind: string): string => `type: note\nfields: { made: { kind: ${kind} } }\n`;
    const folder = workspace({
      'lumbrik.yaml': `workspace: Notes\nlanguages: [${language}]\n`,
      'model/types/note.yaml': type('text'),
      'content/note/a.yaml': 'made: 3/4/2020\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, { 'model/types/note.yaml': type('date') });
    const [{ impact }] = (await result(folder, ['diff'])).changes;
    expect(impact.carried).toBe(`“3/4/2020” as “${day}”`);
  });

  test('a key that stands twice is told before what is wrong further down', async () => {
    const folder = workspace({
      'model/types/note.yaml': 'type: note\nfields: { a: { kind: text } }\n',
      'content/note/a.yaml': 'a: x\na: y\nb: [\n',
    });
    const [{ line, says }] = (await result(folder, ['check'])).findings;
    expect([line, says]).toEqual([2, 'cannot be read: a key stands here twice']);
  });

  test('a value under a key of a map is compared with any text', async () => {
    const folder = workspace({
      'model/types/note.yaml':
        "type: note\nfields: { names: { kind: map, keys: { kind: text }, value: { kind: text } } }\nrules: [{ expect: \"entry.names['en'] != 'x'\", say: No x. }]\n",
      'content/note/a.yaml': 'names: { en: x }\n',
    });
    expect((await result(folder, ['check'])).findings).toMatchObject([{ finding: 'rule-broken' }]);
  });

  test('a value of another kind than its field is shown as it is stored', async () => {
    const folder = workspace({
      'model/types/note.yaml': `type: note
fields:
  body: { kind: richText }
  size: { kind: decimal, unit: cm }
  at: { kind: point }
  sort: { kind: choice, choices: [{ choice: a, label: Ah }] }
  file: { kind: asset }
  parts: { kind: object, fields: { weight: { kind: decimal, unit: kg } } }
`,
      'content/note/a.yaml':
        'body: Plain\nsize: 6 cm\nat: { lat: north }\nsort: { a: 1 }\nfile: { x: 1 }\nparts: { weight: 5 kg, more: 3 }\n',
      'content/note/b.yaml': 'size: 0\nsort: a\nparts: { weight: 5 }\n',
    });
    const shown = async (entry: string): Promise<string> =>
      (await lumbrik(folder, ['show', entry])).out.replace(/ {2,}/gu, ' | ');
    for (const line of ['body | Plain', 'size | 6 cm', 'at | {"lat":"north"}', 'sort | {"a":1}', 'file | {"x":1}'])
      expect(await shown('note/a')).toContain(`${line}\n`);
    expect(await shown('note/a')).toContain('parts | weight 5 kg, more 3\n');
    for (const line of ['size | 0 cm', 'sort | Ah (a)', 'parts | weight 5 kg'])
      expect(await shown('note/b')).toContain(`${line}\n`);
  });

  test('each character is space to a pattern where it is to JavaScript, and nowhere else', () => {
    for (const source of ['^\\s$', '^\\S$']) {
      const compiled = compilePattern(source);
      if (!('value' in compiled)) throw new Error(source);
      const wanted = new RegExp(source, 'u');
      const differing = Array.from({ length: 0x110 * 0x100 }, (_, code) => String.fromCodePoint(code)).filter(
        (letter) => compiled.value.test(letter) !== wanted.test(letter),
      );
      expect([source, differing]).toEqual([source, []]);
    }
  });

  test('too many keys: so many are to go', async () => {
    const folder = workspace({
      'model/types/note.yaml':
        'type: note\nfields: { names: { kind: map, keys: { kind: text }, value: { kind: text }, max: 2 } }\n',
      'content/note/a.yaml': 'names: { a: x, b: x, c: x, d: x, e: x }\n',
    });
    expect((await result(folder, ['check'])).findings).toMatchObject([
      { finding: 'too-many-items', mend: 'Remove 3.' },
    ]);
  });

  test('an identifier of a slug is as long as may be, and not longer', async () => {
    const folder = workspace({
      'model/types/note.yaml': 'type: note\nfields: { name: { kind: text }, at: { kind: slug, from: name } }\n',
      'content/note/a.yaml': `at: ${'a'.repeat(128)}\n`,
      'content/note/b.yaml': `at: ${'a'.repeat(129)}\n`,
    });
    const { findings } = await result(folder, ['check']);
    expect(findings.map(({ entry }: { entry: string }) => entry)).toEqual(['note/b']);
  });

  test('what writes an entry through OpenAPI needs a body', async () => {
    const folder = workspace({ 'model/types/note.yaml': 'type: note\nfields: { name: { kind: text } }\n' });
    await lumbrik(folder, ['export', 'openapi', '--out', 'api.json']);
    const { paths } = JSON.parse(read(folder, 'api.json'));
    expect([paths['/note'].post.requestBody.required, paths['/note/{id}'].put.requestBody.required]).toEqual([
      true,
      true,
    ]);
  });

  test('plurals in English and French are twins of their words', async () => {
    const pairs = ['boat boats', 'box boxes', 'stories story', 'journal journaux', 'lieu lieux', 'glass glas'];
    const folder = workspace({
      'model/taxonomies/tag.yaml': 'taxonomy: tag\nopen: true\n',
      'model/types/note.yaml': 'type: note\nfields: { tags: { kind: term, taxonomy: tag, many: true } }\n',
      'content/note/a.yaml': `tags: [${pairs.join(' ').split(' ').join(', ')}]\n`,
    });
    const found = (await result(folder, ['terms', 'tag', '--alike'])).pairs as {
      merge: { term: string };
      keep: { term: string };
      why: string;
    }[];
    const plurals = found.filter(({ why }) => why === 'one is the plural of the other');
    expect(plurals.map(({ keep, merge }) => [keep.term, merge.term].sort().join(' ')).sort()).toEqual(
      pairs.slice(0, 5).sort(),
    );
  });

  test.each([
    ['min: 0, max: 2147483647', 'Int'],
    ['min: -2147483647, max: 9', 'Int'],
    ['min: 0, max: 2147483648', 'Float'],
    ['min: -2147483648, max: 9', 'Float'],
    ['min: 0', 'Float'],
  ])('a whole number with %s is %s in GraphQL', async (bounds, type) => {
    const folder = workspace({ 'model/types/note.yaml': `type: note\nfields: { n: { kind: integer, ${bounds} } }\n` });
    expect((await lumbrik(folder, ['export', 'graphql'])).out).toMatch(new RegExp(`^ +n: ${type}$`, 'mu'));
  });

  test('terms from JSON keep a synonym that stands alone', async () => {
    const folder = workspace({ 'words.json': '[{ "term": "boat", "aliases": ["ship"] }]' });
    await lumbrik(folder, ['terms', 'craft', '--from', 'words.json']);
    expect(parse(read(folder, 'model/taxonomies/craft.yaml')).terms).toMatchObject([{ synonyms: ['ship'] }]);
  });

  test('a scheme that only its concepts name is counted with all of them', async () => {
    const concept = (name: string, scheme: string): string =>
      `<https://sea.example/${name}> a skos:Concept ; skos:inScheme <https://sea.example/${scheme}> .\n`;
    const folder = workspace({
      'words.ttl': `@prefix skos: <http://www.w3.org/2004/02/skos/core#> .\n${concept('a', 'x')}${concept('b', 'x')}${concept('c', 'y')}`,
    });
    const { err } = await lumbrik(folder, ['terms', 'craft', '--from', 'words.ttl']);
    expect(err.replace(/\s+/gu, ' ')).toMatch(/sea.example\/x.*2.*sea.example\/y.*1/u);
  });

  test('a reference to a character that there cannot be is a mistake of the file', async () => {
    const folder = workspace({
      'words.rdf': `<?xml version="1.0"?>
<!DOCTYPE rdf:RDF [ <!ENTITY odd "&#x110000;"> ]>
<rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#" xmlns:skos="http://www.w3.org/2004/02/skos/core#">
  <skos:Concept rdf:about="https://sea.example/boat"><skos:prefLabel>&odd;</skos:prefLabel></skos:Concept>
</rdf:RDF>
`,
    });
    expect((await lumbrik(folder, ['terms', 'craft', '--from', 'words.rdf'])).code).not.toBe(70);
  });

  test('what was counted of very many different lengths says that it is rounded', async () => {
    const lines = (count: number): string =>
      Array.from({ length: count }, (_, index) => `{"id":"a${index}","n":"${'x'.repeat(index)}"}\n`).join('');
    const median = async (count: number): Promise<unknown> => {
      const folder = workspace({
        'lumbrik.yaml': 'workspace: Notes\ncontent: [{ lines: content/notes.ndjson, type: note }]\n',
        'model/types/note.yaml': 'type: note\nfields: { n: { kind: longText } }\n',
        'content/notes.ndjson': lines(count),
      });
      return (await result(folder, ['profile', 'note.n'])).types[0].fields[0].sizes.isRounded;
    };
    expect([await median(300), await median(4_300)]).toEqual([undefined, true]);
  });

  test('the sign below a long line stands at the place that is wrong', async () => {
    const long = 'x'.repeat(200);
    const folder = workspace({
      'model/types/note.yaml': `type: note\nfields: { a: { kind: text, label: ${long} }, b: { kind: txt } }\n`,
    });
    const { out } = await lumbrik(folder, ['check']);
    const [line = '', sign = ''] = out.split('\n').slice(2, 4);
    expect(line.slice(sign.indexOf('^'))).toMatch(/^(?:kind: )?txt/u);
  });

  test('a taxonomy of which one term has others below is shown with what is below', async () => {
    const folder = workspace({
      'model/taxonomies/tag.yaml': 'taxonomy: tag\nterms: [{ term: sea, terms: [fog] }, land]\n',
    });
    expect((await lumbrik(folder, ['terms', 'tag'])).out).toContain('with below');
  });

  test('no warning at all may be allowed', async () => {
    const folder = workspace({
      'lumbrik.yaml': 'workspace: Notes\nfindings: { maxWarnings: 0 }\n',
      'model/types/note.yaml':
        'type: note\nfields: { a: { kind: text } }\nrules: [{ expect: "entry.a != \'x\'", say: No x. }]\n',
      'content/note/a.yaml': 'status: draft\na: x\n',
    });
    expect((await lumbrik(folder, ['check'])).code).toBe(1);
    write(folder, { 'lumbrik.yaml': 'workspace: Notes\nfindings: { maxWarnings: 1 }\n' });
    expect((await lumbrik(folder, ['check'])).code).toBe(0);
  });

  test('an arrow of a map says on which side there may be several', async () => {
    const folder = workspace({
      'model/types/person.yaml': 'type: person\nfields: { name: { kind: text } }\n',
      'model/types/note.yaml': `type: note
fields:
  a: { kind: reference, to: person, inverse: { name: notes, max: 1 } }
  b: { kind: reference, to: person, many: true, inverse: texts }
  c: { kind: reference, to: person }
`,
    });
    const { arrows } = await result(folder, ['map']);
    const sides = arrows.map(({ field, toMany, fromMany }: any) => [field, toMany, fromMany]);
    expect(sides).toEqual([
      ['a', false, false],
      ['b', true, true],
      ['c', false, true],
    ]);
  });

  test('what is no length of time may be meant as one', async () => {
    const folder = workspace({
      'model/types/note.yaml': 'type: note\nfields: { long: { kind: duration } }\n',
      'content/note/a.yaml': 'long: "1:30"\n',
      'content/note/b.yaml': 'long: soon\n',
    });
    const mends = (await result(folder, ['check'])).findings.map(({ mend }: { mend: string }) => mend);
    expect(mends).toEqual([
      expect.stringMatching(/^Probably PT1H30M .* or PT1M30S/u),
      expect.not.stringContaining('Probably'),
    ]);
  });

  test.each([
    [31, 0],
    [40, 2],
  ])('terms in JSON that are nested %i deep end with %i', async (depth, code) => {
    let terms: object[] = [];
    for (let level = depth; level >= 0; level -= 1) terms = [{ term: `t${level}`, terms }];
    const folder = workspace({ 'words.json': JSON.stringify(terms) });
    const ran = await lumbrik(folder, ['terms', 'craft', '--from', 'words.json']);
    expect([depth, ran.code, ran.err.includes('nested more than 32 deep')]).toEqual([depth, code, code !== 0]);
  });

  test.each([
    [20, false],
    [21, true],
  ])('a guide names twenty terms: whether there are more of %i is %s', async (terms, isMore) => {
    const names = Array.from({ length: terms }, (_, index) => `term-${index}`);
    const folder = workspace({
      'model/taxonomies/tag.yaml': `taxonomy: tag\nterms: [${names.join(', ')}]\n`,
      'model/types/note.yaml': 'type: note\nfields: { tag: { kind: term, taxonomy: tag } }\n',
    });
    const { out } = await lumbrik(folder, ['export', 'guide']);
    expect(out.replace(/\s+/gu, ' ')).toContain('Term 11');
    expect(out.includes(', …')).toBe(isMore);
  });

  test.each([
    [['-z'], 'There is no option -z'],
    [['-z=1'], 'There is no option -z'],
    [['--zzz=1'], 'There is no option --zzz'],
    [['--fx'], 'Did you mean `--fix`?'],
  ])('%j is told as it was typed', async (args, says) => {
    expect((await lumbrik(workspace({}), ['check', ...args])).err).toContain(says);
  });

  test('a field that stands elsewhere is not taken for a new one beside it that is less alike', async () => {
    const height = 'kind: decimal, min: 1, max: 300, unit: cm';
    const plant = (fields: string): Files => ({ 'model/types/plant.yaml': `type: plant\nfields:\n${fields}` });
    const entries = Object.fromEntries(
      Array.from({ length: 5 }, (_, index) => [`content/plant/p${index}.yaml`, `height: ${index + 10}\n`]),
    );
    const folder = workspace({ ...plant(`  height: { ${height} }\n`), ...entries });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, plant(`  size: { kind: object, fields: { height: { ${height} } } }\n  tall: { ${height} }\n`));
    const { changes } = await result(folder, ['diff']);
    expect(changes.map(({ change, address }: any) => `${change} ${address}`).sort()).toEqual([
      'field-added plant.tall',
      'moved plant.height',
    ]);
  });

  test('one damaged journal is told as one', async () => {
    const type = (field: string): Files => ({
      'model/types/note.yaml': `type: note\nfields: { ${field}: { kind: text } }\n`,
    });
    const folder = workspace({ ...type('old'), 'content/note/a.yaml': 'old: x\n' });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, type('new'));
    for (const args of [['draft', '--renamed', 'note.old=new'], ['rehearse'], ['run']])
      await lumbrik(folder, ['migration', ...args]);
    const [run = ''] = fs.readdirSync(path.join(folder, '.lumbrik/runs'));
    write(folder, { [`.lumbrik/runs/${run}/plan.json`]: '{' });
    expect((await lumbrik(folder, ['migration', 'undo'])).err.replace(/\s+/gu, ' ')).toContain(
      '1 journal of a run cannot be read, so that run cannot be finished',
    );
  });

  test('samples of a step show what moves before what only goes', () => {
    const samples = new StepSamples();
    const effect = (change: object) => ({
      changes: [{ path: ['a'], before: 'x', ...change }],
      becomes: undefined,
      losses: 0,
    });
    for (const entry of ['a', 'b', 'c', 'd']) samples.see(effect({}) as never, entry);
    samples.see(effect({ movedTo: ['b'] }) as never, 'e');
    expect(tellingest(samples.held()).map(({ entry }) => entry)).toContain('e');
  });

  test('numbers that were rounded elsewhere are rounded here; above a limit is more than it', () => {
    const [few, many] = [new Spread(), new Spread()];
    few.add(12_345);
    for (let number = 10_000; number < 15_000; number += 1) many.add(number);
    few.take(many.done());
    expect(few.done().isRounded).toBe(true);
    expect(few.done().counts.get(12_345)).toBeUndefined();
    const exact = new Spread();
    for (const number of [1, 2, 2, 3]) exact.add(number);
    expect([0, 1, 2, 3].map((limit) => countAbove(exact.done(), limit))).toEqual([4, 3, 1, 0]);
  });

  test('how many different values there are is exact for few, and an estimate for very many', () => {
    const [few, many] = [new ValueCounts(), new ValueCounts()];
    for (let value = 0; value < 5000; value += 1) {
      few.add(String(value % 3));
      many.add(String(value));
    }
    expect(distinctOf(few.done())).toEqual({ count: 3, isExact: true });
    expect(distinctOf(many.done())).toMatchObject({ isExact: false });
  });

  test('what several counted of a field is added up, status by status', () => {
    const field = linkField({ type: 'light' }, 'name', { kind: 'text' });
    if (!field) throw new Error('no field');
    const tallies = [1, 2, 3].map((times) => {
      const tally = new FieldTally(field);
      for (let time = 0; time < times; time += 1) {
        tally.place('published');
        tally.fill('published');
        tally.language('en');
        tally.value('x'.repeat(times), `light/${times}`);
      }
      return tally;
    });
    const whole = new FieldTally(field);
    for (const tally of tallies) whole.take(tally.done());
    const { of, filled, filledIn, languages, smallest, largest } = whole.done();
    expect([of, filled, [...filledIn], [...languages]]).toEqual([6, 6, [['published', 6]], [['en', 6]]]);
    expect([smallest, largest]).toEqual([
      { size: 1, entry: 'light/1' },
      { size: 3, entry: 'light/3' },
    ]);
  });

  test('a group whose values stand elsewhere moved, each of them to one place alone', () => {
    const moves = (before: JsonObject, fields: JsonObject) =>
      changesBetween(before, { fields, isDeleted: false } as never).map(({ path: from, movedTo }) => [
        from.join('.'),
        movedTo?.join('.'),
      ]);
    expect(moves({ a: { x: 1, y: 1 } }, { left: 1, y: 1 })).toEqual([
      ['a.x', 'left'],
      ['a.y', 'y'],
    ]);
    expect(moves({ a: { x: 1 }, b: { x: 1 } }, { x: 1 })).toEqual([
      ['a.x', 'x'],
      ['b', undefined],
    ]);
    expect(moves({ a: { x: 1, y: 2 } }, { x: 1 })).toEqual([
      ['a', undefined],
      ['x', undefined],
    ]);
  });

  test('a field whose name is a word of expressions stands in brackets there', () => {
    expect(['name', 'opening-hours', 'in', 'true', '2nd'].map(celOfField)).toEqual([
      'entry.name',
      'entry.opening_hours',
      'entry["in"]',
      'entry["true"]',
      'entry["2nd"]',
    ]);
  });

  test('fields may be called what types may not', () => {
    expect([unfitName('field', 'Opening-hours'), unfitName('type', 'Opening-hours')]).toEqual([
      undefined,
      { rule: expect.any(String) },
    ]);
    expect([unfitName('field', 'a b'), unfitName('taxonomy', 'a b')]).toEqual([
      { rule: expect.any(String) },
      { rule: expect.any(String) },
    ]);
  });

  test('columns that tell entries apart best come first', async () => {
    const folder = workspace({
      'model/types/light.yaml':
        'type: light\nfields:\n  side: { kind: text }\n  code: { kind: text }\n  same: { kind: text }\n',
      ...Object.fromEntries(
        Array.from({ length: 12 }, (_, index) => [
          `content/light/l${index}.yaml`,
          `side: ${index % 2 ? 'left' : 'right'}\ncode: c${index}\nsame: x\n`,
        ]),
      ),
    });
    expect((await lumbrik(folder, ['list', 'light'])).out.split('\n')).toContainEqual(
      expect.stringMatching(/Code +Side/u),
    );
  });

  test('structured text says what its parts say', () => {
    const text = (value: string) => ({ type: 'text', value });
    const paragraph = (...children: object[]) => ({ type: 'paragraph', children });
    const root = {
      type: 'root',
      children: [paragraph(text('A '), { type: 'strong', children: [text('b')] }), paragraph(text('c'))],
    };
    expect(toPlain(root as never)).toBe('A b\n\nc');
  });

  test('a term that is retired without another in its place is told as retired', async () => {
    const folder = workspace({
      'model/types/light.yaml': 'type: light\nfields:\n  at: { kind: term, taxonomy: place }\n',
      'model/taxonomies/place.yaml':
        'taxonomy: place\nterms:\n  - { term: old, retired: true }\n  - { term: kept, retired: false }\n',
      'content/light/a.yaml': 'at: old\n',
      'content/light/b.yaml': 'at: kept\n',
    });
    const { out } = await lumbrik(folder, ['terms', 'place']);
    expect(out.match(/retired/gu)).toHaveLength(1);
  });

  test('a table takes values of its columns and no others', () => {
    const takes = (type: string, shape: object) => fitting(type, shape as never);
    expect([1, 1.5, '1', true].map(takes('integer', { is: 'integer' }))).toEqual([true, false, false, false]);
    expect([1, 1.5, '1', true].map(takes('numeric', { is: 'number' }))).toEqual([true, true, false, false]);
    expect([1, 1.5, '1', true].map(takes('boolean', { is: 'boolean' }))).toEqual([false, false, false, true]);
    expect(['x', 'a\u0000'].map(takes('text', { is: 'text' }))).toEqual([true, false]);
  });

  test('two entries in lines with one identifier are told by their lines', async () => {
    const folder = workspace({
      'lumbrik.yaml': 'workspace: W\ncontent: [{ lines: content/log.ndjson, type: light }]\n',
      'model/types/light.yaml': 'type: light\nfields:\n  name: { kind: text }\n',
      'content/log.ndjson': '{"id":"a"}\n{"id":"b"}\n{"id":"a"}\n',
    });
    expect((await lumbrik(folder, ['check'])).out).toContain('content/log.ndjson:1');
  });

  test.each([
    [['check', '--workspace', 'coast'], '✗ coast is no workspace'],
    [['new', 'coast'], '✗ coast is not empty'],
    [['new', 'file'], '✗ file is a file'],
  ])('a message that begins with a name leaves it as it is: %j', async (args, begins) => {
    const folder = temporary();
    write(folder, { 'coast/a.txt': '', file: '' });
    const { err } = await lumbrik(folder, args);
    expect(err.slice(0, begins.length)).toBe(begins);
  });

  test('a term is put under another one by its name or its address, whatever its name', async () => {
    const folder = workspace({
      'model/types/light.yaml': 'type: light\nfields:\n  at: { kind: term, taxonomy: ort }\n',
      'model/taxonomies/ort.yaml': 'taxonomy: ort\nterms:\n  - { term: south coast }\n  - { term: "port:x" }\n',
    });
    for (const [name, under] of [
      ['A', 'south coast'],
      ['B', 'ort:"south coast"'],
      ['C', 'port:x'],
      ['D', 'ort:"port:x"'],
    ] as const)
      expect([under, (await lumbrik(folder, ['add', 'term', 'ort', name, '--under', under])).err]).toEqual([under, '']);
    expect(parse(read(folder, 'model/taxonomies/ort.yaml')).terms).toEqual([
      { term: 'south coast', terms: ['a', 'b'] },
      { term: 'port:x', terms: ['c', 'd'] },
    ]);
  });

  test('a word that names something, and cannot be used, is not tried in another normal form', async () => {
    const [here, other] = ['café'.normalize('NFC'), 'café'.normalize('NFD')];
    const taxonomy = `taxonomy: place\nterms: [{ term: ${here} }, { term: ${other} }, { term: taken }]\n`;
    const folder = workspace({
      'model/types/light.yaml': 'type: light\nfields:\n  at: { kind: term, taxonomy: place }\n',
      'model/taxonomies/place.yaml': taxonomy,
    });
    for (const args of [['taken'], [' ']])
      expect((await lumbrik(folder, ['rename', `place:${here}`, ...args])).code).not.toBe(0);
    expect(read(folder, 'model/taxonomies/place.yaml')).toBe(taxonomy);
  });
});
