import path from 'node:path';
import type { Log } from 'sarif';
import { describe, expect, test } from 'vitest';
import { git } from './support/git.ts';
import { lumbrik, result, workspace } from './support/program.ts';

const files = {
  'lumbrik.yaml': 'workspace: W\n',
  'model/types/light.yaml':
    'type: light\nfields:\n  name: { kind: text, max: 5 }\n  range: { kind: integer }\n  near: { kind: reference, to: light }\n',
  'content/light/a.yaml': 'name: A\n',
  'content/light/b.yaml': 'name: "A <b> & \\"c\\", 50% ]]>"\nrange: "7"\nnear: nobody\n',
  'content/light/c,d:e.yaml': 'near: a\nname: "x\\u0001\\u001b[31m y"\nmore: 1\n',
  'content/light/d.yaml': 'name: D\nstatus: draft\n',
  'content/light/e.yaml': 'near: d\n',
};
const report = async (folder: string, format: string): Promise<string> =>
  (await lumbrik(folder, ['check', '--format', format])).out;

describe('a check for other programs [I5]', () => {
  test('as NDJSON: each finding on a line, then the rest', async () => {
    const folder = workspace(files);
    const { findings, code, ...rest } = await result(folder, ['check']);
    const lines = (await report(folder, 'ndjson'))
      .trimEnd()
      .split('\n')
      .map((line) => JSON.parse(line));
    expect(lines.slice(0, -1).map(({ finding }) => finding)).toEqual(findings);
    const { mistakes: _, ...others } = rest;
    expect(lines.at(-1)).toEqual({ result: others });
    expect(code).toBe(1);
  });

  test('as SARIF: rules, places, fixes, and fingerprints that stay while lines move', async () => {
    const folder = workspace(files);
    const log = JSON.parse(await report(folder, 'sarif')) as Log;
    const [run] = log.runs;
    const rules = run?.tool.driver.rules ?? [];
    expect([log.version, log.runs.length]).toEqual(['2.1.0', 1]);
    const { findings } = await result(folder, ['check']);
    expect(run?.results?.length).toBe(findings.length);
    for (const [index, one] of (run?.results ?? []).entries()) {
      expect(rules[one.ruleIndex ?? -1]?.id).toBe(one.ruleId);
      const { region, artifactLocation } = one.locations?.[0]?.physicalLocation ?? {};
      expect(decodeURIComponent(artifactLocation?.uri ?? '')).toBe(findings[index].file);
      expect([region?.startLine, region?.startColumn]).toEqual([findings[index].line, findings[index].column]);
      expect((region?.endColumn ?? 0) >= 1).toBe(true);
    }
    const quoted = run?.results?.find(({ ruleId }) => ruleId === 'number-in-quotes');
    expect(quoted?.fixes?.[0]?.artifactChanges[0]?.replacements[0]).toEqual({
      deletedRegion: { startLine: 2, startColumn: 8, endLine: 2, endColumn: 11 },
      insertedContent: { text: '7' },
    });
    const marks = (one: Log) =>
      one.runs[0]?.results?.map(({ partialFingerprints }) => partialFingerprints?.['lumbrik/v1']);
    expect(new Set(marks(log)).size).toBe(findings.length);
    const moved = workspace({ ...files, 'content/light/b.yaml': `# a line more\n\n${files['content/light/b.yaml']}` });
    expect(marks(JSON.parse(await report(moved, 'sarif')) as Log)).toEqual(marks(log));
  });

  test('as JUnit: well-formed, with the numbers right', async () => {
    const folder = workspace(files);
    const xml = await report(folder, 'junit');
    // Every element that is opened is closed, no value is markup, and no character that XML cannot have is left.
    const open: string[] = [];
    for (const [, closing, name, , self] of xml.matchAll(/<(\/?)([a-z-]+)((?: [a-z]+="[^"<]*")*)(\/?)>/gu))
      if (closing) expect(open.pop()).toBe(name);
      else if (!self) open.push(name ?? '');
    expect(open).toEqual([]);
    // biome-ignore lint/suspicious/noControlCharactersInRegex: these are what it is about.
    expect(xml).not.toMatch(/[\u0000-\u0008\u000b\u000c\u000e-\u001f]/u);
    expect(xml.replace(/<\?xml[^>]*\?>|<\/?[a-z-]+(?: [a-z]+="[^"<]*")*\/?>/gu, '')).not.toMatch(/[<>]/u);
    expect(xml).toContain('<testsuites name="lumbrik check" tests="4" failures="2" errors="0">');
    expect(xml.match(/<failure /gu)?.length).toBe(2);
    expect(xml.match(/<testcase /gu)?.length).toBe(4);
  });

  test('as lines and as annotations: one for each, which no value breaks out of', async () => {
    const folder = workspace({ ...files, 'content/light/f.yaml': 'near: "a\\n::error::forged"\n' });
    const { findings } = await result(folder, ['check']);
    for (const format of ['lines', 'annotations']) {
      const lines = (await report(folder, format)).trimEnd().split('\n');
      expect(lines.length).toBe(findings.length);
      for (const line of lines)
        expect(line).toMatch(
          format === 'lines'
            ? /^content\/.+:\d+:\d+: (?:error|warning): .+\]$/u
            : /^::(?:error|warning) file=[^:]+::[^\n]+$/u,
        );
    }
    expect(await report(folder, 'annotations')).toContain('file=content/light/c%2Cd%3Ae.yaml,');
  });

  test('as Markdown, with nothing that a value could make of it', async () => {
    const text = await report(workspace(files), 'markdown');
    expect(text).toContain('**5 errors**, 1 warning: 5 entries against 1 type.');
    expect(text.match(/^\| `light\//gmu)?.length).toBe(6);
  });

  test('tells mistakes in the model as well, and that all is fine', async () => {
    const broken = workspace({ ...files, 'model/types/light.yaml': 'type: light\nfields:\n  name: { kind: txt }\n' });
    const fine = workspace({
      'lumbrik.yaml': 'workspace: W\n',
      'model/types/light.yaml': files['model/types/light.yaml'],
      'content/light/a.yaml': 'name: A\n',
    });
    for (const format of ['ndjson', 'sarif', 'junit', 'markdown', 'lines', 'annotations']) {
      expect((await lumbrik(broken, ['check', '--format', format])).code).toBe(1);
      const told = await report(broken, format);
      expect([format, told.includes('txt') || told.includes('model/types/light.yaml')]).toEqual([format, true]);
      const { code, out } = await lumbrik(fine, ['check', '--format', format]);
      expect([format, code]).toEqual([format, 0]);
      expect(out).not.toContain('failure type');
    }
    expect((JSON.parse(await report(fine, 'sarif')) as Log).runs[0]?.results).toEqual([]);
  });

  test('names files from the root of the repository, where review tools look for them', async () => {
    const folder = workspace(
      Object.fromEntries(Object.entries(files).map(([name, text]) => [`docs/site/${name}`, text])),
    );
    git(folder, 'init', '-q');
    const inside = path.join(folder, 'docs/site');
    expect(await report(inside, 'lines')).toMatch(/^docs\/site\/content\/light\/b\.yaml:/mu);
    expect(await report(inside, 'sarif')).toContain('"uri":"docs/site/content/light/b.yaml"');
    expect((await result(inside, ['check'])).below).toBe('docs/site/');
  });

  test('a form that there is not is refused by naming those there are', async () => {
    const { code, err } = await lumbrik(workspace(files), ['check', '--format', 'xml']);
    expect([code, err.includes('sarif')]).toEqual([2, true]);
    expect((await lumbrik(workspace(files), ['show', '--format', 'sarif'])).code).toBe(2);
  });
});
