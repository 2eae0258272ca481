import { describe, expect, test } from 'vitest';
import { edit, lumbrik, read, workspace } from './support/program.ts';
import { hasTerminal, keys, onTerminal } from './support/terminal.ts';

const { enter, down, back, stop } = keys;

const trust = () =>
  workspace({
    'model/types/light.yaml':
      'type: light\nabout: A lamp in a tower.\ntitled: name\nfields:\n  name: { kind: text, max: 20 }\n  pace: { kind: choice, choices: [slow, quick] }\n',
    'model/types/keeper.yaml': 'type: keeper\nabout: Who looks after a light.\nfields:\n  name: { kind: text }\n',
    'content/light/a.yaml': 'name: A\npace: slwo\n',
    'content/keeper/k.yaml': 'name: K\n',
  });

describe.skipIf(!hasTerminal)('questions on a terminal [H3]', () => {
  test('a name that cannot be is said to be none while it is typed, and what was answered is told as a call', async () => {
    const folder = trust();
    const { code, screen } = await onTerminal(
      folder,
      ['add', 'type'],
      [
        ['What is its name in the singular?', '!!'],
        ['no name can be made from that', `${enter}${back}${back}Fog 'n' bell`],
        ["Fog 'n' bell", enter],
        ['What is its name in the plural?', enter],
        ['How do you describe it', `Sounds.${enter}`],
      ],
    );
    expect(code).toBe(0);
    expect(screen).toContain(`the same without questions: lumbrik add type 'Fog '\\''n'\\'' bell' --about Sounds.`);
    expect(read(folder, 'model/types/fogNBell.yaml')).toContain('about: Sounds.\n');
  });

  test('choices are found by their names before what they are about, and taken with Enter', async () => {
    const folder = trust();
    const { code } = await onTerminal(
      folder,
      ['add', 'field'],
      [
        ['To what is it added?', `${down}${enter}`],
        ['What do authors call it?', `Height${enter}`],
        ['Of which kind is it?', 'deci'],
        ['› decimal', enter],
        ['When must it have a value?', enter],
      ],
    );
    expect(code).toBe(0);
    expect(read(folder, 'model/types/light.yaml')).toContain('  height: { kind: decimal, required: true }\n');
  });

  test('what is typed ahead of the screen is what is taken, and a kind is asked for what it cannot do without', async () => {
    const folder = trust();
    const { code, screen } = await onTerminal(
      folder,
      ['add', 'field', 'light'],
      [
        ['What do authors call it?', `Sort${enter}`],
        ['Of which kind is it?', `choice${enter}`],
        ['What can be chosen', `fixed, flashing${enter}`],
        ['When must it have a value?', `${down}${down}${enter}`],
      ],
    );
    expect([code, screen]).toEqual([0, expect.stringContaining(`--kind choice --with 'choices=["fixed","flashing"]'`)]);
    expect(read(folder, 'model/types/light.yaml')).toContain('sort: { kind: choice, choices: [ fixed, flashing ] }');
  });

  test.each([
    ['reference', 'To entries of which type', enter, 'to: keeper'],
    ['slug', 'From which text field', `name${enter}`, 'from: name'],
  ])('a %s asks for what it leads to or comes from', async (kind, question, answer, expected) => {
    const folder = trust();
    const { code } = await onTerminal(
      folder,
      ['add', 'field', 'light'],
      [
        ['What do authors call it?', `More${enter}`],
        ['Of which kind is it?', `${kind}${enter}`],
        [question, answer],
        ['When must it have a value?', `${down}${down}${enter}`],
      ],
    );
    expect(code).toBe(0);
    expect(read(folder, 'model/types/light.yaml')).toContain(`more: { kind: ${kind}, ${expected} }`);
  });

  test('an entry of a type, by its title', async () => {
    const folder = trust();
    const { screen } = await onTerminal(
      folder,
      ['entry', 'new'],
      [
        ['Of which type is it?', `${down}${enter}`],
        ['What is it called?', `North${enter}`],
      ],
    );
    expect(screen).toContain('the same without questions: lumbrik entry new light --title North');
    expect(read(folder, 'content/light/north.yaml')).toContain('name: North\n');
  });

  test('what a migration asks, from the first answer to the last', async () => {
    const folder = trust();
    await lumbrik(folder, ['seal', '-m', 'One']);
    edit(folder, 'model/types/light.yaml', 'name: { kind: text, max: 20 }', 'title: { kind: text, max: 20 }');
    edit(folder, 'model/types/light.yaml', 'titled: name', 'titled: title');
    edit(folder, 'model/types/keeper.yaml', 'fields:', 'fields:\n  since: { kind: integer, required: true }');
    await lumbrik(folder, ['migration', 'draft']);
    const { screen } = await onTerminal(
      folder,
      ['migration', 'answer'],
      [
        ['Is this a rename?', enter],
        ['What does the entry without a value get?', `${down}${enter}`],
        ['The value, as YAML', `1900${enter}`],
      ],
    );
    expect(screen).toContain('the same without questions: lumbrik migration answer 1 --step 1 --yes');
    expect(screen).toContain('No question is open');
  });

  test('a fix that is only probable; without a yes nothing is written', async () => {
    const folder = trust();
    const asked = ['Write it?', enter] as const;
    await onTerminal(folder, ['check', '--fix', '--ask'], [asked]);
    expect(read(folder, 'content/light/a.yaml')).toContain('slwo');
    await onTerminal(folder, ['check', '--fix', '--ask'], [['Write it?', `${down}${enter}`]]);
    expect(read(folder, 'content/light/a.yaml')).toContain('pace: slow\n');
    // One of two: each reads as it is.
    edit(folder, 'model/types/light.yaml', 'fields:\n', 'fields:\n  lasted: { kind: duration }\n');
    edit(folder, 'content/light/a.yaml', 'name: A\n', 'name: A\nlasted: 1:30\n');
    const { screen } = await onTerminal(
      folder,
      ['check', '--fix'],
      [
        ['1:30 → PT1M30S', `${down}${enter}`],
        ['Write it?', `${down}${enter}`],
      ],
    );
    expect(screen).not.toContain('u001b');
    expect(read(folder, 'content/light/a.yaml')).toContain('lasted: PT1M30S\n');
  });

  test('Ctrl-C ends it, with nothing written and in words', async () => {
    const folder = trust();
    const { code, screen } = await onTerminal(
      folder,
      ['add', 'type'],
      [['What is its name in the singular?', `Fog${stop}`]],
    );
    expect(code).toBe(130);
    expect(screen).toContain('Stopped, as you asked');
    expect(screen).not.toMatch(/ExitPrompt|at .*js:/u);
  });
});

test('a call that asks nobody says what is missing [H3]', async () => {
  const folder = trust();
  for (const [args, missing] of [
    [['add', 'type'], 'add type needs to know more: <name> is missing'],
    [['add', 'field', 'light'], 'add field needs to know more: <name> is missing'],
    [['entry', 'new'], 'entry new needs to know more: <type> is missing'],
  ] as const) {
    const { code, err } = await lumbrik(folder, [...args, '--no-ask']);
    expect([code, err.toLowerCase()]).toEqual([2, expect.stringContaining(missing)]);
  }
});
