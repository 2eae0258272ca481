import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { stringify } from 'yaml';
import { git } from './support/git.ts';
import { edit, type Files, lumbrik, read, result, snapshot, workspace, write } from './support/program.ts';

const model: Files = {
  'lumbrik.yaml': 'workspace: Talks\n',
  'model/types/talk.yaml': `type: talk
fields:
  name: { kind: text }
  sort: { kind: choice, choices: [lecture, panel] }
  topic: { kind: term, taxonomy: topic, many: true }
  tags: { kind: term, taxonomy: tag, many: true }
  speaker: { kind: reference, to: person }
  at: { kind: object, fields: { hall: { kind: choice, choices: [north, south] } } }
`,
  'model/types/person.yaml': 'type: person\nfields: { name: { kind: text }, age: { kind: integer } }\n',
  'model/taxonomies/topic.yaml': 'taxonomy: topic\nterms: [{ term: sea, terms: [fog] }, land]\n',
  'model/taxonomies/tag.yaml': 'taxonomy: tag\nopen: true\n',
  'content/talk/a.yaml': 'name: A\nsort: lecture\ntopic: [fog]\nspeaker: ada\nat: { hall: north }\n',
  'content/talk/b.yaml': 'name: B\nsort: panel\nspeaker: bo\n',
  'content/person/ada.yaml': 'name: Ada\nage: 40\n',
  'content/person/bo.yaml': 'name: Bo\nage: 20\n',
};

describe('nothing is fine that could not be looked at [M2]', () => {
  test('what a base type, a kit or another target can have is no mistake where the type itself is narrower', async () => {
    const level = '{ kind: choice, choices: [low, mid, high] }';
    const folder = workspace({
      'lumbrik.yaml': 'workspace: Tools\n',
      'model/types/tool.yaml': `type: tool\nfields: { level: ${level}, grip: { kind: text, when: "entry.level == 'high'" } }\nrules: [{ expect: "entry.level != 'high' || has(entry.grip)", say: No. }]\n`,
      'model/types/saw.yaml': 'type: saw\nextends: tool\nfields: { level: { choices: [low, mid] } }\n',
      'model/kits/k.yaml': `kit: k\nfields: { level: ${level} }\nrules: [{ expect: "entry.level != 'high'", say: No. }]\n`,
      'model/types/pot.yaml': 'type: pot\nkits: [k]\nfields: { level: { choices: [low, mid] } }\n',
      'model/types/book.yaml':
        "type: book\nfields: { level: { kind: choice, choices: [red] }, at: { kind: reference, to: [tool, book], eligible: \"target.level in ['high', 'red']\" } }\n",
      'content/tool/a.yaml': 'level: high\ngrip: wood\n',
      'content/saw/b.yaml': 'level: mid\n',
      'content/book/c.yaml': 'level: red\nat: tool/a\n',
    });
    expect((await result(folder, ['check'])).findings).toEqual([]);
    const { rows } = await result(folder, ['list', '--where', "entry.level == 'red' || entry.level == 'high'"]);
    expect(rows.map(({ entry }: { entry: string }) => entry)).toEqual(['book/c', 'tool/a']);
    for (const [where, near] of [
      ["entry.level == 'rad'", 'red'],
      ["entry.level == 'hihg'", 'high'],
    ] as const)
      expect((await lumbrik(folder, ['list', '--where', where])).err).toContain(`Did you mean \`${near}\`?`);
    edit(folder, 'model/types/book.yaml', "'high', 'red'", "'hihg', 'red'");
    expect((await lumbrik(folder, ['check'])).out).toContain('Did you mean `high`?');
  });

  test.each([
    ["entry.sort == 'lectur'", 'none of the choices of `talk.sort`', 'lecture'],
    ["entry.sort in ['panel', 'lectur']", 'none of the choices', 'lecture'],
    ["'lectur' != entry.sort", 'none of the choices', 'lecture'],
    ["entry['sort'] == 'lectur'", 'none of the choices', 'lecture'],
    ["entry.at.hall == 'norht'", 'none of the choices of `talk.at.hall`', 'north'],
    ["entry.status == 'publshed'", 'none of the statuses', 'published'],
    ["entry.type == 'tolk'", 'none of the types', 'talk'],
    ["'fg' in entry.topic", 'none of the terms of `topic`', 'fog'],
    ["entry.topic.exists(t, t == 'fg')", 'none of the terms', 'fog'],
    ["entry.topic.exists(t, t.under('topic:se'))", 'none of the terms', 'sea'],
    ["entry.topic.exists(t, t.under('topc:sea'))", 'none of the taxonomies', 'topic'],
    ["termLabel('topic', 'lnd') == 'Land'", 'none of the terms', 'land'],
    ["entry.sort == (entry.name == 'A' ? 'lectur' : 'panel')", 'none of the choices', 'lecture'],
  ])(
    '%s is a mistake of the expression: in the model, at the command line and in a migration',
    async (wrong, says, near) => {
      const folder = workspace(model);
      for (const call of [
        ['check', '--where', wrong],
        ['list', 'talk', '--where', wrong],
        ['export', 'entries', 'talk', '--as', 'csv', '--where', wrong],
        ['try', wrong, 'talk'],
      ]) {
        const { code, err } = await lumbrik(folder, call);
        expect([call[0], code, err.replaceAll(/\s+/gu, ' ')]).toEqual([call[0], 2, expect.stringContaining(says)]);
        expect(err).toContain(`Did you mean \`${near}\`?`);
      }
      edit(
        folder,
        'model/types/talk.yaml',
        'fields:',
        `rules: [{ expect: ${JSON.stringify(wrong)}, say: so it is }]\nfields:`,
      );
      const { mistakes } = await result(folder, ['check']);
      expect(mistakes.map((one: { says: string }) => one.says).join()).toContain(says);
    },
  );

  test.each([
    "entry.sort == 'lecture'",
    "entry.sort != ''",
    "'whatever' in entry.tags",
    "entry.name == 'lectur'",
    "entry.topic.exists(t, t.under('topic:'))",
    "has(entry.at) && entry.at.hall in ['north', 'south']",
    "entry.status == 'archived'",
  ])('%s is none', async (fine) => {
    expect((await lumbrik(workspace(model), ['check', '--where', fine])).code).toBe(0);
  });

  test('a migration may ask for what entries hold that its model no longer has, and for nothing else', async () => {
    const folder = workspace(model);
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/talk.yaml', 'choices: [lecture, panel]', 'choices: [lecture]');
    const { file } = await result(folder, ['migration', 'draft']);
    const set = (where: string): void => {
      const text = read(folder, file).replace(/\n {2}- set: [\s\S]*$/u, '');
      write(folder, { [file]: `${text.trimEnd()}\n  - set: talk.name\n    value: P\n    where: ${where}\n` });
    };
    await result(folder, ['migration', 'answer', '--yes']);
    set('entry.sort == "panel"');
    expect((await result(folder, ['migration', 'rehearse'])).error).toBeUndefined();
    set('entry.sort == "panl"');
    expect((await result(folder, ['migration', 'rehearse'])).error.says).toContain('“panl” is none of the choices');
  });

  test('a condition that looks into other entries is computed wherever conditions are', async () => {
    const folder = workspace(model);
    const old = "lookUp(entry.speaker, 'person.age') > 30";
    expect((await result(folder, ['try', old, 'talk/a'])).rows[0].value).toBe(true);
    expect((await result(folder, ['check', '--where', old])).entries).toBe(1);
    expect(
      (await result(folder, ['list', 'talk', '--where', old])).rows.map((row: { entry: string }) => row.entry),
    ).toEqual(['talk/a']);
    const { out } = await lumbrik(folder, ['export', 'entries', 'talk', '--as', 'ndjson', '--where', old]);
    expect(
      out
        .trim()
        .split('\n')
        .map((line) => JSON.parse(line).id),
    ).toEqual(['a']);
  });

  test('a condition that no entry meets is told, and is not fine', async () => {
    const folder = workspace(model);
    const { out, code } = await lumbrik(folder, ['check', '--where', "entry.status == 'archived'"]);
    expect(out).not.toContain('All fine');
    expect(out).toContain('No entry meets the condition');
    expect(code).toBe(0);
  });

  test('a condition over all types may name a field that only some have', async () => {
    const folder = workspace(model);
    expect((await result(folder, ['check', '--where', 'entry.age > 30'])).entries).toBe(1);
    const { err } = await lumbrik(folder, ['check', '--where', 'entry.agee > 30']);
    expect(err).toContain('there is no field `agee`');
  });
});

describe('an expression that ends in an error is told, one without a value is not [M2]', () => {
  const place = (more: string): Files => ({
    'lumbrik.yaml': 'workspace: Places\n',
    'model/types/place.yaml': `type: place\nfields:\n  code: { kind: text }\n  beds: { kind: integer }\n  part: { kind: reference, to: place }\n${more}`,
    'content/place/a.yaml': 'code: "12"\nbeds: 2\n',
    'content/place/b.yaml': 'code: twelve\nbeds: 0\n',
    'content/place/c.yaml': 'part: b\n',
  });

  test.each([
    ['a rule', "rules: [{ expect: 'int(entry.code) > 3', say: More. }]\n", ['place/b ']],
    ['a rule at a field', "rules: [{ expect: '10 / entry.beds > 3', say: More., at: beds }]\n", ['place/b /beds']],
    ['a condition', "  note: { kind: text, when: 'int(entry.code) > 3' }\n", ['place/b /note']],
    ['a computed value', "  half: { kind: integer, computed: '10 / entry.beds' }\n", ['place/b /half']],
    ['eligibility', "  next: { kind: reference, to: place, eligible: 'int(target.code) > 3' }\n", ['place/b ']],
  ])('%s', async (_what, more, where) => {
    const folder = workspace(place(more));
    for (const name of ['a', 'b']) edit(folder, `content/place/${name}.yaml`, 'beds', 'half: 5\nnote: x\nbeds');
    const { findings } = await result(folder, ['check']);
    const failed = findings.filter(({ finding }: { finding: string }) => finding === 'expression-failed');
    expect(failed.map(({ entry, pointer }: { entry: string; pointer: string }) => `${entry} ${pointer}`)).toEqual(
      where,
    );
    expect((await lumbrik(folder, ['check'])).out).toContain('cannot be judged by “');
  });

  test('where the value itself is told to be wrong, nothing is said of what fails because of it', async () => {
    const folder = workspace({
      'lumbrik.yaml': 'workspace: Places\n',
      'model/types/place.yaml': `type: place
fields:
  note: { kind: text, when: 'parseDate(entry.opened, "YYYY-MM-DD") != ""' }
  opened: { kind: date }
  rank: { kind: text, computed: 'parseDate(entry.opened, "YYYY-MM-DD")' }
  part: { kind: reference, to: place, eligible: 'target.code != "" && parseDate(target.opened, "YYYY-MM-DD") != ""' }
  code: { kind: text }
rules:
  - { expect: 'parseDate(entry.opened, "YYYY-MM-DD") != ""', say: A day. }
  - { expect: 'lookUp(entry.part, "place.code", "") != parseDate(entry.opened, "YYYY-MM-DD")', say: Another day. }
`,
      'content/place/a.yaml': 'note: x\nopened: 2024-02-31\nrank: y\npart: b\n',
      'content/place/b.yaml': 'part: a\nopened: 2024-02-28\ncode: z\n',
    });
    const { findings } = await result(folder, ['check']);
    const told = findings.map(({ entry, finding }: { entry: string; finding: string }) => `${entry} ${finding}`);
    expect(told.sort()).toEqual(['place/a not-a-date', 'place/b not-eligible']);
  });

  test('what puts several conditions on a target tells once that it cannot be judged', async () => {
    const folder = workspace(
      place("  next: { kind: reference, to: place, eligible: 'target.beds >= 0 && int(target.code) > 3' }\n"),
    );
    const { findings } = await result(folder, ['check']);
    expect(findings.map(({ finding }: { finding: string }) => finding)).toEqual(['expression-failed']);
  });

  test('a key with a hyphen is named whole where it is not there', async () => {
    const { err } = await lumbrik(workspace(place('')), ['check', '--where', 'entry["opening-hours"] == "x"']);
    expect(err).toContain('there is no field `opening-hours`');
  });

  test('a condition on the command line names the entry, and nothing is called fine', async () => {
    const folder = workspace(place(''));
    for (const command of ['check', 'list'])
      expect(await lumbrik(folder, [command, '--where', 'int(entry.code) > 3'])).toMatchObject({
        code: 2,
        err: expect.stringContaining('cannot be judged for place/b'),
      });
    const { rows } = await result(folder, ['list', '--where', 'entry.beds > 1']);
    expect(rows.map(({ entry }: { entry: string }) => entry)).toEqual(['place/a']);
  });

  test.each([
    ['entry.code.startWith("x")', 'there is no function `startWith`', 'Did you mean `startsWith`?'],
    ['entry.code.startsWith(3)', '`startsWith` does not take int on string', '`text.startsWith(part)`'],
    ['wholly(entry.code)', 'there is no function `wholly`', 'lumbrik explain functions'],
    ['lookUp(entry.part) == "x"', '`lookUp` does not take string', '`lookUp(reference, "type.field")`'],
  ])('%s: how the function is called', async (where, problem, mend) => {
    const { code, err } = await lumbrik(workspace(place('')), ['check', '--where', where]);
    expect([code, err.replace(/\s+/gu, ' ')]).toEqual([2, expect.stringContaining(problem)]);
    expect(err).toContain(mend);
  });
});

describe('files behind links of texts are assets [F4]', () => {
  const page: Files = {
    'lumbrik.yaml': 'workspace: Pages\n',
    'model/types/page.yaml':
      'type: page\nfields:\n  text: { kind: markdown }\n  rich: { kind: richText, links: { schemes: [https] } }\n',
    'assets/manual.pdf': '%PDF-1.4\n',
    'assets/plans/deck.pdf': '%PDF-1.4\n',
    'assets/left.pdf': '%PDF-1.4\n',
  };
  const rich = (url: string): string =>
    `rich: { type: root, children: [{ type: paragraph, children: [{ type: link, url: ${JSON.stringify(url)}, children: [{ type: text, value: x }] }] }] }\n`;

  test('one that is not there is found, and one that is linked is used', async () => {
    const folder = workspace({
      ...page,
      'content/page/a.yaml': `text: "[the manual](manual.pdf), [gone](gone.pdf), [a page](other.html), [a site](www.example.com)"\n${rich('plans/deck.pdf')}`,
      'content/page/b.yaml': rich('lost.docx'),
    });
    const { findings } = await result(folder, ['check']);
    const told = findings.map(
      ({ finding, file, pointer }: Record<string, string>) => `${finding} ${file}${pointer ?? ''}`,
    );
    expect(told.toSorted()).toEqual([
      'missing-asset content/page/a.yaml/text',
      expect.stringContaining('missing-asset content/page/b.yaml/rich'),
      expect.stringContaining('unused-asset assets/left.pdf'),
    ]);
  });
});

describe('what changed since a commit, and what is wrong because of it [I2]', () => {
  const files: Files = {
    'lumbrik.yaml': 'workspace: Pages\n',
    'model/types/page.yaml':
      'type: page\nfields:\n  name: { kind: text }\n  pic: { kind: asset }\n  next: { kind: reference, to: page, inverse: { name: before, max: 1 } }\n  count: { kind: integer, computed: { count: page.next } }\n',
    'assets/x.pdf': '%PDF-1.4\n',
    'assets/y.pdf': '%PDF-1.4\n',
    'content/page/a.yaml': 'name: A\npic: { file: x.pdf }\ncount: 1\n',
    'content/page/b.yaml': 'name: B\nnext: a\n',
    'content/page/c.yaml': 'name: C\ncount: 0\npic: { file: y.pdf }\n',
    'content/page/d.yaml': 'name: D\ncount: 7\npic: { file: max.pdf }\n',
  };

  test.each<[name: string, change: (folder: string) => void, told: readonly string[]]>([
    [
      'a file that an entry names is gone',
      (folder) => fs.rmSync(path.join(folder, 'assets/x.pdf')),
      ['missing-asset page/a'],
    ],
    [
      'a reference leads elsewhere: both counts are wrong',
      (folder) => write(folder, { 'content/page/b.yaml': 'name: B\nnext: c\n' }),
      ['not-computed page/a', 'not-computed page/c'],
    ],
    [
      'an entry points where another does already',
      (folder) => write(folder, { 'content/page/e.yaml': 'name: E\nnext: a\n' }),
      ['not-computed page/a', 'too-many-pointing page/e'],
    ],
    ['an entry is gone', (folder) => fs.rmSync(path.join(folder, 'content/page/b.yaml')), ['not-computed page/a']],
    ['a name alone', (folder) => edit(folder, 'content/page/b.yaml', 'name: B', 'name: BB'), []],
  ])('%s', async (_name, change, told) => {
    const folder = workspace(files);
    git(folder, 'init', '-q');
    git(folder, 'add', '-A');
    git(folder, 'commit', '-qm', 'one');
    change(folder);
    const { findings } = await result(folder, ['check', '--changed-since', 'HEAD']);
    expect(findings.map(({ finding, entry }: Record<string, string>) => `${finding} ${entry}`).toSorted()).toEqual(
      told,
    );
  });
});

describe('a rename goes into the texts that expressions compare with values [G2, M2]', () => {
  const files = {
    'lumbrik.yaml': 'workspace: Garden\nlanguages: [en]\n',
    'model/taxonomies/place.yaml': 'taxonomy: place\nterms: [wet, dry]\n',
    'model/types/plant.yaml': stringify({
      type: 'plant',
      fields: {
        kind: { kind: 'choice', choices: ['tree', 'herb'] },
        site: { kind: 'term', taxonomy: 'place', many: true },
        note: { kind: 'text', when: 'entry.kind in ["tree", "herb"]' },
        tall: { kind: 'boolean', computed: { cel: 'has(entry.kind) && (entry.kind == "tree" ? true : false)' } },
        near: { kind: 'reference', to: 'plant', eligible: 'target.kind == "tree" || target.type == "shrub"' },
        parts: {
          kind: 'object',
          many: true,
          fields: {
            form: { kind: 'choice', choices: ['leaf', 'root'] },
            size: { kind: 'integer' },
          },
        },
      },
      rules: [
        {
          expect: '!has(entry.site) || entry.site.exists(s, s == "wet") || entry.site.exists(s, s == "dry")',
          say: 'A.',
        },
        {
          expect: 'entry.parts.all(p, p.form != "leaf" || has(entry.note)) || entry.note == "leaf tree wet"',
          say: 'B.',
        },
      ],
    }),
    'model/types/shrub.yaml':
      'type: shrub\nextends: plant\nfields:\n  dense: { kind: boolean, when: \'entry.kind == "tree" && entry.type == "shrub"\' }\n',
    'content/plant/a.yaml': 'kind: tree\nsite: [wet]\nnote: n\nparts: [{ form: leaf, size: 3 }]\n',
    'content/shrub/b.yaml': 'kind: tree\ndense: true\nnear: plant/a\nnote: n\nparts: [{ form: root }]\n',
  };

  test.each([
    [['plant.kind:tree', 'big tree'], /"tree"/u, ['"big tree"', '"leaf tree wet"']],
    [['place:wet', 'moist'], /"wet"/u, ['s == "moist"', 's == "dry"', '"leaf tree wet"']],
    [['plant.parts.form:leaf', 'needle'], /"leaf"/u, ['p.form != "needle"', '"leaf tree wet"']],
    [['shrub', 'bush'], /"shrub"/u, ['target.type == "bush"', 'entry.type == "bush"']],
  ])('%j', async (args, gone, there) => {
    for (const isSealed of [false, true]) {
      const folder = workspace(files);
      const checked = await result(folder, ['check']);
      expect([checked.mistakes, checked.findings]).toEqual([[], []]);
      if (isSealed) await lumbrik(folder, ['seal', '-m', 'one']);
      expect((await result(folder, ['rename', ...args])).error).toBeUndefined();
      const model = [...snapshot(folder, 'model').values()].map((hex) => Buffer.from(hex, 'hex').toString()).join('');
      expect(model).not.toMatch(gone);
      for (const text of there) expect(model).toContain(text);
      if (isSealed) {
        expect(await result(folder, ['migration', 'draft'])).toMatchObject({ openQuestions: 0 });
        expect(await result(folder, ['migration', 'rehearse', '--prove'])).toMatchObject({ ok: true });
        await lumbrik(folder, ['migration', 'run']);
      }
      expect((await result(folder, ['check'])).ok).toBe(true);
    }
  });
});
