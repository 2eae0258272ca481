import { describe, expect, test } from 'vitest';
import { edit, lumbrik, result, workspace, write } from './support/program.ts';

const home = (more = ''): string => `type: home\n${more}fields:\n  title: { kind: text }\n`;

describe('a type that has exactly one entry [B3]', () => {
  test('none is a warning, one is fine, a second one is an error', async () => {
    const folder = workspace({ 'model/types/home.yaml': home('single: true\n') });
    expect(await result(folder, ['check'])).toMatchObject({
      ok: true,
      findings: [{ finding: 'missing-entry', severity: 'warning', file: 'content/home/', mend: 'Write it.' }],
    });
    expect((await lumbrik(folder, ['check'])).out).toContain('has no entry yet, and exactly one home belongs here');
    write(folder, { 'content/home/home.yaml': 'title: Welcome\n' });
    expect((await result(folder, ['check'])).findings).toEqual([]);
    expect((await lumbrik(folder, ['show', 'home'])).out).toContain('exactly one, 1 entry');
    write(folder, { 'content/home/other.yaml': 'title: Welcome too\n' });
    expect((await result(folder, ['check'])).findings).toEqual([
      expect.objectContaining({ finding: 'more-than-one', severity: 'error', entry: 'home/other' }),
    ]);
  });

  test('becoming one is counted, and asks what becomes of the others', async () => {
    const folder = workspace({
      'model/types/home.yaml': home(),
      'content/home/a.yaml': 'title: A\n',
      'content/home/b.yaml': 'title: B\n',
      'content/home/c.yaml': 'title: C\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/home.yaml', 'type: home\n', 'type: home\nsingle: true\n');
    expect((await result(folder, ['diff'])).changes).toEqual([
      expect.objectContaining({
        option: 'single',
        entries: 'migrate',
        readers: 'break',
        impact: expect.objectContaining({ hits: 2, of: 3, says: '2 entries are one too many' }),
      }),
    ]);
    expect((await result(folder, ['migration', 'draft'])).openQuestions).toBe(1);
  });

  test('ceasing to be one asks nothing of entries, and readers have to learn of it', async () => {
    const folder = workspace({ 'model/types/home.yaml': home('single: true\n'), 'content/home/a.yaml': 'title: A\n' });
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/home.yaml', 'single: true\n', '');
    expect((await result(folder, ['diff'])).changes).toEqual([
      expect.objectContaining({ entries: 'valid', readers: 'break' }),
    ]);
  });
});
