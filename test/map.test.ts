import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { hasBrowser } from './support/browser.ts';
import { edit, lumbrik, result, started, workspace, write } from './support/program.ts';

const files = {
  'lumbrik.yaml': 'workspace: "Uhren & <Werke>"\n',
  'model/kits/teilen.yaml': 'kit: teilen\nfields:\n  bild: { kind: text }\n  vorlage: { kind: reference, to: werk }\n',
  'model/types/werk.yaml': 'type: werk\nfields:\n  art: { kind: term, taxonomy: art }\n',
  'model/types/uhr.yaml':
    'type: uhr\nextends: stueck\nkits: [teilen]\ngroups: [Technik]\nfields:\n  werke: { kind: reference, to: werk, many: true, required: true, group: Technik, inverse: { name: steckt in, max: 1 } }\n  selbst: { kind: reference, to: uhr }\n  hersteller: { kind: object, fields: { wer: { kind: reference, to: werk } } }\n',
  'model/types/stueck.yaml': 'type: stueck\nfields:\n  nummer: { kind: text, required: true }\n',
  'model/types/blatt.yaml':
    'type: blatt\nkits: [teilen]\nfields:\n  worueber: { kind: reference, to: [stueck, werk] }\n',
  'model/taxonomies/art.yaml': 'taxonomy: art\nterms: [pendel, unruh]\n',
  'content/werk/a.yaml': 'art: pendel\n',
  'content/werk/b.yaml': 'art: unruh\n',
  'content/uhr/u.yaml': 'nummer: "1"\nwerke: [a, b]\nvorlage: a\nhersteller: { wer: b }\n',
  'content/blatt/x.yaml': 'worueber: uhr/u\nvorlage: b\n',
};

const arrowsOf = async (args: readonly string[] = []) =>
  (await result(workspace(files), ['map', ...args])).arrows.map(
    ({ from, field = '', to, uses }: { from: string; field?: string; to: string; uses?: number }) =>
      `${from} ${field} ${to} ${uses ?? '-'}`,
  );

describe('the model as boxes and arrows [J1]', () => {
  test('what points at what, drawn where it is made, and how often it is used', async () => {
    expect((await arrowsOf()).sort()).toEqual([
      // An entry of a type that extends another counts where that one is pointed at.
      'kit:teilen vorlage type:werk 2',
      'type:blatt  kit:teilen -',
      'type:blatt worueber type:stueck 1',
      'type:blatt worueber type:werk 0',
      'type:uhr  kit:teilen -',
      'type:uhr  type:stueck -',
      'type:uhr hersteller.wer type:werk 1',
      'type:uhr selbst type:uhr 0',
      'type:uhr werke type:werk 2',
      'type:werk art taxonomy:art 2',
    ]);
    const { boxes, arrows } = await result(workspace(files), ['map']);
    const uhr = boxes.find(({ name }: { name: string }) => name === 'uhr');
    expect(uhr).toMatchObject({
      entries: 1,
      groups: [
        { fields: [{ name: 'selbst' }, { name: 'hersteller' }] },
        { group: 'Technik', fields: [{ name: 'werke', many: true, required: true }] },
      ],
    });
    const werke = arrows.find(({ field }: { field?: string }) => field === 'werke');
    expect(werke).toMatchObject({ inverse: 'steckt in', toMany: true, fromMany: false });
  });

  test('kits inside kits and objects, and what two base types pass on, are drawn once, where they are made', async () => {
    const folder = workspace({
      'lumbrik.yaml': 'workspace: W\n',
      'model/kits/geo.yaml': 'kit: geo\nfields:\n  lat: { kind: decimal }\n  bei: { kind: reference, to: ort }\n',
      'model/kits/adresse.yaml': 'kit: adresse\nkits: [geo]\nfields:\n  strasse: { kind: text }\n',
      'model/kits/leer.yaml': 'kit: leer\nfields:\n  nichts: { kind: text }\n',
      'model/types/ort.yaml': 'type: ort\nkits: [adresse]\nfields:\n  name: { kind: text }\n',
      'model/types/haus.yaml': 'type: haus\nextends: ort\nfields:\n  stock: { kind: integer }\n',
      'model/types/villa.yaml':
        'type: villa\nextends: haus\nfields:\n  garten: { kind: object, kits: [geo], fields: { baum: { kind: text } } }\n',
      'content/ort/o.yaml': '{}\n',
      'content/villa/v.yaml': 'bei: o\ngarten: { bei: o }\n',
    });
    const { boxes, arrows } = await result(folder, ['map']);
    const fields = boxes.map(({ name, groups }: any) => [
      name,
      ...groups.flatMap((group: any) => group.fields.map((one: any) => one.name)),
    ]);
    expect(fields.sort()).toEqual([
      ['adresse', 'strasse'],
      ['geo', 'lat', 'bei'],
      ['haus', 'stock'],
      ['leer', 'nichts'],
      ['ort', 'name'],
      ['villa', 'garten'],
    ]);
    expect(arrows.map(({ from, to, uses }: any) => [from, to, uses ?? '-'].join(' ')).sort()).toEqual([
      'kit:adresse kit:geo -',
      'kit:geo type:ort 2',
      'type:haus type:ort -',
      'type:ort kit:adresse -',
      'type:villa kit:geo -',
      'type:villa type:haus -',
    ]);
  });

  test.each<[readonly string[], number]>([
    [['--around', 'art:'], 2],
    [['--around', 'art', '--depth', '2'], 5],
    [['--around', 'blatt', '--depth', '0'], 1],
    [['--around', 'art', '--around', 'blatt', '--depth', '0'], 2],
  ])('a part of it: %j', async (args, boxes) => {
    expect((await result(workspace(files), ['map', ...args])).boxes).toHaveLength(boxes);
  });

  test('as text, within a hundred columns', async () => {
    const { out } = await lumbrik(workspace(files), ['map']);
    expect(out).toContain('4 types, 1 kit and 1 taxonomy');
    expect(out).toMatch(/uhr +werke +→ werk +one to many +steckt in +2/u);
    expect(Math.max(...out.split('\n').map(({ length }) => length))).toBeLessThanOrEqual(100);
  });

  test('as a picture: sound XML with a title, a box for each and a line for each arrow; nothing in it is markup', async () => {
    const hostile = '</text><script>alert(1)</script>&amp;"\'';
    const folder = workspace({
      ...files,
      'model/types/uhr.yaml': files['model/types/uhr.yaml'].replace(
        'type: uhr\n',
        `type: uhr\nlabel: { one: ${JSON.stringify(`${hostile}\u0007`)}, many: x }\n`,
      ),
    });
    const { out } = await lumbrik(folder, ['map', '--format', 'svg']);
    const open: string[] = [];
    for (const [, closing, name = '', , self] of out.matchAll(/<(\/?)([a-zA-Z]+)((?: [a-zA-Z:-]+="[^"<]*")*)(\/?)>/gu))
      if (closing) expect(open.pop()).toBe(name);
      else if (!self) open.push(name);
    expect(open).toEqual([]);
    expect(out.replace(/<\/?[a-zA-Z]+(?: [a-zA-Z:-]+="[^"<]*")*\/?>/gu, '')).not.toMatch(/[<>]/u);
    expect(out).not.toContain('<script');
    expect(out).not.toContain('\u0007');
    expect(out).toContain('<title id="picture-title">The model of Uhren &amp; &lt;Werke&gt;</title>');
    expect(out.match(/<g class="(?:type|kit|taxonomy)"/gu)).toHaveLength(6);
    expect(out.match(/<path class="arrow[^>]*marker-end/gu)).toHaveLength(10 + 4);
    expect(out).not.toContain('NaN');
  });

  test('for other tools: DOT and Mermaid', async () => {
    const folder = workspace(files);
    const { out: dot } = await lumbrik(folder, ['map', '--format', 'dot']);
    expect(dot).toContain('digraph "Uhren & <Werke>" {');
    expect(dot).toContain('"type:uhr" -> "type:werk" [label="werke"];');
    expect(dot).toContain('"type:uhr" -> "type:stueck" [label="extends", arrowhead=empty];');
    const { out: mermaid } = await lumbrik(folder, ['map', '--format', 'mermaid']);
    expect(mermaid.split('\n')[0]).toBe('erDiagram');
    expect(mermaid).toMatch(/b\d+ \|o--o\{ b\d+ : "werke"/u);
    expect(mermaid).toContain('many-reference werke');
  });

  test('what became of it since a revision: new, gone, different, of another name', async () => {
    const folder = workspace(files);
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/uhr.yaml', 'selbst:', 'verwandt:');
    edit(folder, 'model/types/uhr.yaml', 'required: true, group', 'group');
    edit(folder, 'model/types/stueck.yaml', 'nummer: { kind: text, required: true }', 'schild: { kind: integer }');
    fs.rmSync(path.join(folder, 'model/types/blatt.yaml'));
    write(folder, { 'model/types/neu.yaml': 'type: neu\nfields:\n  zu: { kind: reference, to: uhr }\n' });
    const { boxes, arrows, since } = await result(folder, ['map', '--since', '1']);
    expect(since).toEqual({ said: '1', name: 'revision 1' });
    const marks = boxes.flatMap(({ name, mark, groups }: any) => [
      ...(mark ? [`${name} ${mark}`] : []),
      ...groups.flatMap(({ fields }: any) =>
        fields.flatMap((one: any) => (one.mark ? [`${name}.${one.name} ${one.mark} ${one.was ?? ''}`.trim()] : [])),
      ),
    ]);
    expect(marks.sort()).toEqual([
      'blatt removed',
      'neu added',
      'stueck changed',
      'stueck.nummer removed',
      'stueck.schild added',
      'uhr changed',
      'uhr.verwandt renamed selbst',
      'uhr.werke changed',
    ]);
    expect(arrows.filter(({ mark }: any) => mark).map(({ from, field, mark }: any) => [from, field, mark])).toEqual([
      ['type:neu', 'zu', 'added'],
      ['type:blatt', 'worueber', 'removed'],
      ['type:blatt', 'worueber', 'removed'],
      ['type:blatt', undefined, 'removed'],
    ]);
    expect((await lumbrik(folder, ['map', '--since', '1'])).out).toMatch(/^ {2}\+ +neu +zu +→ uhr/mu);
    const { out } = await lumbrik(folder, ['map', '--since', '1', '--format', 'svg']);
    expect(out).toContain('compared with revision 1</title>');
    // No colour says it alone.
    expect(out).toContain('>≈</text>');
    expect(out).toContain('verwandt (was selbst)');
    expect((await lumbrik(folder, ['map', '--since', '7'])).code).toBe(2);
  });

  test('terms that are kept with the content are no change of the model; another label is one', async () => {
    const open = 'taxonomy: art\nopen: true\nterms: [pendel, unruh]\n';
    const terms = 'taxonomy: art\nterms: [sand]\n';
    const folder = workspace({ ...files, 'model/taxonomies/art.yaml': open, 'content/art.terms.yaml': terms });
    await lumbrik(folder, ['seal', '-m', 'one']);
    const marked = async () =>
      (await result(folder, ['map', '--since', '1'])).boxes.flatMap(({ name, mark }: any) => (mark ? [name] : []));
    expect(await marked()).toEqual([]);
    edit(folder, 'model/taxonomies/art.yaml', 'open: true', 'open: true\nlabel: Bauart');
    edit(folder, 'model/types/stueck.yaml', 'type: stueck', 'type: stueck\nabout: Ein Ding.');
    expect((await marked()).sort()).toEqual(['art', 'stueck']);
  });

  test('a field that went into an object, or out of one', async () => {
    const folder = workspace({
      'lumbrik.yaml': 'workspace: W\n',
      'model/types/uhr.yaml':
        'type: uhr\nfields:\n  hersteller: { kind: reference, to: werk }\n  ort: { kind: object, fields: { strasse: { kind: text, max: 31 } } }\n',
      'model/types/werk.yaml': 'type: werk\nfields:\n  name: { kind: text }\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, {
      'model/types/uhr.yaml':
        'type: uhr\nfields:\n  herkunft: { kind: object, fields: { hersteller: { kind: reference, to: werk } } }\n  strasse: { kind: text, max: 31 }\n',
    });
    const { boxes, arrows } = await result(folder, ['map', '--since', '1']);
    const fields = boxes[0].groups.flatMap((group: any) => group.fields);
    expect(fields.map(({ name, mark, was }: any) => [name, mark, was])).toEqual([
      ['herkunft', 'moved', 'hersteller'],
      ['strasse', 'moved', 'ort.strasse'],
    ]);
    expect(arrows).toMatchObject([{ field: 'herkunft.hersteller', mark: 'moved', was: 'hersteller' }]);
    expect((await lumbrik(folder, ['map', '--since', '1', '--format', 'svg'])).out).toContain(
      'herkunft (was hersteller)',
    );
  });

  test('a field that went to another type is marked where it was and where it is', async () => {
    const steine = '  steine: { kind: integer, min: 3, max: 40 }\n';
    const folder = workspace({
      'lumbrik.yaml': 'workspace: W\n',
      'model/types/uhr.yaml': `type: uhr\nfields:\n  werk: { kind: reference, to: werk }\n${steine}`,
      'model/types/werk.yaml': 'type: werk\nfields:\n  name: { kind: text }\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/uhr.yaml', steine, '');
    edit(folder, 'model/types/werk.yaml', 'fields:\n', `fields:\n${steine}`);
    const { boxes } = await result(folder, ['map', '--since', '1']);
    const fields = boxes.flatMap(({ groups }: any) => groups.flatMap((group: any) => group.fields));
    expect(fields.filter(({ mark }: any) => mark)).toMatchObject([
      { name: 'steine', mark: 'moved', now: 'werk.steine' },
      { name: 'steine', mark: 'moved', was: 'uhr.steine' },
    ]);
  });

  test.skipIf(!hasBrowser)('in pixels, by a browser; without one that is said', async () => {
    const folder = workspace(files);
    const { out, err } = started(folder, ['map', '--format', 'png'], { env: { PATH: process.env.PATH ?? '' } });
    expect(err).toBe('');
    expect(out.slice(1, 4)).toBe('PNG');
    const none = await lumbrik(folder, ['map', '--format', 'png'], { LUMBRIK_BROWSER: '/nowhere/browser' });
    expect([none.code, none.err]).toEqual([2, expect.stringContaining('none was found here')]);
    const broken = await lumbrik(folder, ['map', '--format', 'png'], { LUMBRIK_BROWSER: 'true' });
    expect([broken.code, broken.err]).toEqual([2, expect.stringContaining('The browser made no picture of it')]);
  });

  test('of very many types in one long chain: every arrow is drawn, the longest straight', async () => {
    const types = Array.from({ length: 150 }, (_, number) => [
      `model/types/t${number}.yaml`,
      `type: t${number}\nfields:\n  next: { kind: reference, to: t${(number + 1) % 150} }\n  art: { kind: term, taxonomy: art }\n`,
    ]);
    const folder = workspace({
      'lumbrik.yaml': 'workspace: W\n',
      'model/taxonomies/art.yaml': 'taxonomy: art\nterms: [a]\n',
      ...Object.fromEntries(types),
    });
    const { arrows } = await result(folder, ['map']);
    const { out } = await lumbrik(folder, ['map', '--format', 'svg']);
    const drawn = out.match(/<path class="arrow[^>]* d="M[\d.-]+ [\d.-]+[^"]*"[^>]*marker-end/gu) ?? [];
    expect(drawn).toHaveLength(arrows.length + 4);
    expect(out).not.toContain('NaN');
  });

  test('of an empty model', async () => {
    const folder = workspace({ 'lumbrik.yaml': 'workspace: W\n' });
    expect((await lumbrik(folder, ['map'])).out).toContain('Nothing leads from one to another.');
    expect((await lumbrik(folder, ['map', '--format', 'svg'])).out).toMatch(/^<svg [^>]*width="860"/u);
  });

  test.each<[readonly string[], string]>([
    [['--around', 'uhrr'], 'Did you mean `uhr`?'],
    [['--around', 'uhr:'], 'no type, kit or taxonomy'],
    [['--around', 'uhr', '--depth', 'far'], '--depth far is no number'],
    [['--depth', '2'], '--depth says nothing without --around'],
  ])('a wrong call is told: %j', async (args, told) => {
    const { err, code } = await lumbrik(workspace(files), ['map', ...args]);
    expect([code, err]).toEqual([2, expect.stringContaining(told)]);
  });
});
