import { describe, expect, test } from 'vitest';
import { lumbrik, read, workspace } from './support/program.ts';
import { hasTerminal, keys, onTerminal } from './support/terminal.ts';

const { enter, down } = keys;
const path = { PATH: process.env.PATH ?? '' };

const cellar = () =>
  workspace({
    'model/types/wein.yaml': 'type: wein\ntitled: name\nfields:\n  name: { kind: text }\n  jahr: { kind: integer }\n',
    ...Object.fromEntries(
      Array.from({ length: 60 }, (_, number) => [
        `content/wein/w${String(number).padStart(2, '0')}.yaml`,
        `name: Wein Nummer ${number}\njahr: ${1960 + number}\n`,
      ]),
    ),
  });

describe.skipIf(!hasTerminal)('a list to walk through [J1]', () => {
  test('with arrow keys; an entry that is opened and saved stands there as it is by then', async () => {
    const folder = cellar();
    const { code, screen } = await onTerminal(
      folder,
      ['list', 'wein', '--walk', '--sort', 'jahr'],
      [
        ['Enter opens the entry', down + down + enter],
        ['Wein Nummer zwei', 'q'],
      ],
      { ...path, EDITOR: 'sed -i "s/Nummer 2/Nummer zwei/"' },
    );
    expect(code).toBe(0);
    expect(screen).toContain('60 entries  wein');
    expect(screen).toMatch(/1 of 60/u);
    expect(read(folder, 'content/wein/w02.yaml')).toBe('name: Wein Nummer zwei\njahr: 1962\n');
  });

  test('a word is looked for, and what is found is walked through', async () => {
    const folder = cellar();
    const { screen } = await onTerminal(
      folder,
      ['list', 'wein', '--walk'],
      [
        ['Enter opens the entry', '/'],
        ['/ 60 found', 'nummer 4'],
        ['/nummer 4 11 found', enter],
        ['/nummer 4 11 found', down + enter],
        ['Wein Nummer 40!', '/'],
        ['found', '\u001b'],
        ['60 entries', 'q'],
      ],
      { ...path, VISUAL: 'sed -i "s/Nummer 40/Nummer 40!/"' },
    );
    expect(screen).toContain('Wein Nummer 40!');
  });

  test('without an editor that is said, and in a pipe it is a text', async () => {
    const folder = cellar();
    const { code, screen } = await onTerminal(folder, ['list', 'wein', '--walk'], [['Enter opens the entry', enter]], {
      ...path,
      EDITOR: '',
      VISUAL: '',
    });
    expect([code, screen]).toEqual([2, expect.stringContaining('Nobody said which editor opens an entry')]);
    const piped = await lumbrik(folder, ['list', 'wein', '--walk']);
    expect([piped.code, piped.out]).toEqual([0, expect.stringContaining('and 10 more (--limit 0 lists all)')]);
  });
});

describe.skipIf(!hasTerminal)('what is longer than the terminal is read page by page [J1]', () => {
  test('by the program that PAGER names, and only then', async () => {
    const folder = cellar();
    const shown = async (args: readonly string[], pager: string) =>
      (await onTerminal(folder, args, [], { ...path, PAGER: pager })).screen;
    expect(await shown(['list', 'wein'], 'sed "s/^/page: /"')).toMatch(/page: +wein\/w00/u);
    expect(await shown(['explain'], 'sed "s/^/page: /"')).toContain('page: ');
    expect(await shown(['show'], 'sed "s/^/page: /"')).not.toContain('page: ');
    for (const none of ['', 'cat', '/nowhere/pager'])
      expect(await shown(['list', 'wein'], none)).toMatch(/^ +wein\/w00/mu);
    // Whoever leaves before the end has seen enough.
    expect(await shown(['explain'], 'head -3')).not.toContain('EPIPE');
  });
});
