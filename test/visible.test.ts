import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { visible } from '../src/core/plain/visible.ts';
import { lumbrik, read, result, workspace, write } from './support/program.ts';

const sequences = '\u001b[2K\rOK\u001b]0;title\u0007\u001b]8;;https://a.example\u001b\\';
const hostile = `A${sequences}\u009b31m\u202e\u2066\u200f\u0008B`;
/** Everything that a terminal would obey, but for line ends and the colours that are ours. */
const obeyed = {
  exec: (text: string): readonly string[] | undefined => {
    const bare = text.replace(new RegExp(`${String.fromCodePoint(0x1b)}\\[[0-9]{1,2}m`, 'gu'), '');
    const found = bare.match(/[\p{Cc}\p{Bidi_Control}]/gu)?.find((letter) => letter !== '\n' && letter !== '\t');
    return found === undefined ? undefined : [found];
  },
  test: (text: string): boolean => obeyed.exec(text) !== undefined,
};

const yaml = (value: unknown): string => JSON.stringify(value);

describe('nothing that somebody else wrote reaches the terminal as a command [M2]', () => {
  const everywhere = (): string =>
    workspace({
      'lumbrik.yaml': `workspace: ${yaml(`Sound ${hostile}`)}\nlanguages: [en]\n`,
      'model/types/light.yaml': `type: light\nlabel: { one: ${yaml(`Light ${hostile}`)}, many: ${yaml(`Lights ${hostile}`)} }\nabout: ${yaml(hostile)}\ntitled: name\nfields:\n  name: { kind: text, max: 10, label: ${yaml(hostile)}, help: ${yaml(hostile)} }\n  pace: { kind: choice, choices: [{ choice: easy, label: ${yaml(hostile)} }] }\n  topics: { kind: term, taxonomy: topic, many: true }\n  next: { kind: reference, to: light }\nrules:\n  - { expect: "entry.name != 'x'", say: ${yaml(hostile)} }\n`,
      'model/taxonomies/topic.yaml': `taxonomy: topic\nopen: true\nlabel: ${yaml(hostile)}\n`,
      'content/topic.terms.yaml': `taxonomy: topic\nterms: [{ term: birds, label: ${yaml(hostile)} }]\n`,
      'content/light/a.yaml': `name: ${yaml(hostile)}\npace: ${yaml(hostile)}\n${yaml(`key ${hostile}`)}: 1\ntopics: [birds, ${yaml(hostile)}]\nnext: ${yaml(hostile)}\n`,
      'content/light/b.yaml': 'name: b\nnext: a\n',
      [`content/light/${hostile.replaceAll('/', '')}.yaml`]: 'name: x\n',
      [`assets/${hostile.replaceAll('/', '')}.txt`]: 'x',
    });

  test('from values, keys, labels, file names, the workspace and seal messages, in every command', async () => {
    const folder = everywhere();
    const shown: string[] = [];
    for (const args of [
      [],
      ['check'],
      ['list', 'light'],
      ['list', 'light', '--columns', hostile],
      ['list', hostile],
      ['profile'],
      ['profile', 'light.name'],
      ['map'],
      ['map', '--around', hostile],
      ['report'],
      ['advice', '--declined'],
      ['show'],
      ['show', 'light'],
      ['show', 'light.pace'],
      ['show', 'light/a'],
      ['show', 'topic:'],
      ['terms'],
      ['terms', 'topic'],
      ['terms', 'topic', '--alike'],
      ['terms', 'topic:birds'],
      ['trace'],
      ['trace', 'light/a'],
      ['seal', '-m', `message ${hostile}`],
      ['history'],
      ['add', 'type', hostile],
      ['add', 'field', 'light', `f ${hostile}`, '--kind', 'text'],
      ['add', 'term', 'topic', 'x', '--label', hostile],
      ['entry', 'new', 'light', '--title', hostile],
      ['entry', 'new', hostile],
      ['entry', 'revision', hostile],
      ['diff'],
      ['diff', hostile],
      ['migration', 'draft', '--name', hostile],
      ['migration', 'rehearse'],
      ['migration', 'rehearse', hostile],
      ['migration', 'list'],
      ['text', 'light/a#/name', '--to', 'plain'],
      ['text', hostile, '--to', 'html'],
      ['explain', hostile],
      ['schemas', `--${hostile}`],
      [hostile],
      ['show', '--workspace', hostile],
      ['show', '--format', hostile],
      ['new', `/nowhere/${hostile}`],
    ]) {
      for (const more of [[], ['--color'], ['--debug']]) {
        const { out, err } = await lumbrik(folder, [...args, ...more]);
        expect([args, obeyed.exec(out + err)?.[0]]).toEqual([args, undefined]);
        shown.push(out + err);
      }
    }
    expect(shown.join('').split('\\u001b').length).toBeGreaterThan(40);
  });

  test('forms for other programs are exact in a pipe, and harmless on a terminal', async () => {
    const folder = everywhere();
    const before = process.stdout.isTTY;
    for (const args of [
      ['list', 'light', '--format', 'csv'],
      ['list', 'light', '--format', 'markdown'],
      ['map', '--format', 'svg'],
      ['map', '--format', 'dot'],
      ['map', '--format', 'mermaid'],
      ['report', '--format', 'html'],
      ['check', '--format', 'markdown'],
      ['check', '--format', 'lines'],
    ])
      try {
        process.stdout.isTTY = true;
        const { out } = await lumbrik(folder, args);
        expect([args, obeyed.exec(out)?.[0]]).toEqual([args, undefined]);
      } finally {
        process.stdout.isTTY = before;
      }
    const { out } = await lumbrik(folder, ['list', 'light', '--format', 'csv']);
    expect(out).toContain(hostile.replaceAll('"', '""'));
  });

  test('JSON keeps values as they are', async () => {
    const folder = everywhere();
    const { findings } = await result(folder, ['check']);
    expect(findings.some(({ value }: { value?: unknown }) => value === hostile)).toBe(true);
    await lumbrik(folder, ['seal', '-m', `message ${hostile}`]);
    expect((await result(folder, ['history'])).revisions[0].message).toBe(`message ${hostile}`);
  });

  test('a value cannot pass for a line of ours, nor a comment of a draft for a step', async () => {
    const forged = 'x\n✓ All fine: 9 entries against 1 type and 0 taxonomies\n';
    const folder = workspace({
      'model/types/light.yaml': 'type: light\nfields:\n  name: { kind: text }\n  old: { kind: json }\n',
      'content/light/a.yaml': `name: A\n${yaml(forged)}: 1\nold: ${yaml({ a: 'x\n  - drop: light.name\n' })}\n`,
    });
    const { out } = await lumbrik(folder, ['check']);
    expect(out.split('\n').filter((line) => /^\W*All fine/u.test(line))).toEqual([]);
    await lumbrik(folder, ['seal', '-m', forged]);
    expect((await lumbrik(folder, ['history'])).out.split('\n').filter((line) => /^\W*All fine/u.test(line))).toEqual(
      [],
    );
    write(folder, { 'model/types/light.yaml': 'type: light\nfields:\n  name: { kind: text }\n' });
    const { file } = await result(folder, ['migration', 'draft']);
    expect(read(folder, file).match(/^ *- drop:.*$/gmu)).toEqual(['  - drop: light.old']);
  });

  test('text that is read from right to left stays as it is', async () => {
    const name = 'מגדלור הסלעים — منارة الصخرة 🏴󠁧󠁢󠁥󠁮󠁧󠁿 👩‍🔧';
    const folder = workspace({
      'model/types/light.yaml': 'type: light\ntitled: name\nfields:\n  name: { kind: text }\n',
      'content/light/a.yaml': `name: ${name}\n`,
    });
    expect((await lumbrik(folder, ['show', 'light/a'])).out).toContain(name);
    expect(visible(name)).toBe(name);
  });

  test('whatever the text is', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 30 }), (text) => {
        expect(obeyed.test(visible(text))).toBe(false);
        expect(visible(text).includes('\n')).toBe(false);
        expect(visible(visible(text))).toBe(visible(text));
      }),
      { numRuns: 2000 },
    );
  });
});
