#!/usr/bin/env node
// Writes the recipes of docs/change.md: the changes that architects make most, each played with the built program in a
// folder of its own. With --check it only reports whether they are up to date.
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { lumbrik } from './call.mjs';

const page = fileURLToPath(new URL('../docs/change.md', import.meta.url));

/**
 * A change: the fields of the type `tour` before and after, an entry, what is typed to draft, and the answers to what is
 * asked, by the step.
 */
const changes = [
  {
    title: 'A field gets another name',
    before: 'minutes: { kind: integer, max: 600 }',
    after: 'walkingMinutes: { kind: integer, max: 600 }',
    entry: 'minutes: 90 # at an easy pace',
    answers: { 'rename tour.minutes': ['--yes'] },
  },
  {
    title: 'A limit gets tighter',
    before: 'summary: { kind: longText, max: 60 }',
    after: 'summary: { kind: longText, max: 20 }',
    entry: 'summary: From the bakery to the end of the mole.',
    answers: { 'change tour.summary': ['--cel', "entry.summary.substring(0, 19) + '…'"] },
  },
  {
    title: 'A field is new and required',
    before: 'lights: { kind: integer }',
    after: 'lights: { kind: integer }\nlevel: { kind: choice, choices: [easy, hard], required: true }',
    entry: 'lights: 3',
    answers: { 'add tour.level': ['--cel', "entry.lights > 4 ? 'hard' : 'easy'"] },
  },
  {
    title: 'One becomes several, and is called so',
    before: 'guide: { kind: reference, to: keeper }',
    after: 'guides: { kind: reference, to: keeper, many: true }',
    entry: 'guide: ada-rook',
    answers: { 'rename tour.guide': ['--yes'] },
  },
  {
    title: 'A text becomes a choice',
    before: 'effort: { kind: text }',
    after:
      'effort: { kind: choice, choices: [{ choice: easy, label: An easy walk }, { choice: hard, label: Hard going }] }',
    entry: 'effort: Hard going',
    answers: {},
  },
  {
    title: 'A text was a list all the time',
    before: 'topics: { kind: text }',
    after: 'topics: { kind: text, many: true }',
    entry: 'topics: lamps, ships, storms',
    more: 'topics: birds, fog',
    answers: { 'convert tour.topics': ['--yes'] },
  },
  {
    title: 'A text becomes a reference to what it names',
    before: 'guide: { kind: text }',
    after: 'guide: { kind: reference, to: keeper }',
    entry: 'guide: Ada Rook',
    answers: { 'convert tour.guide': ['--yes'] },
  },
  {
    title: 'Minutes become a length of time',
    before: 'minutes: { kind: integer }',
    after: 'duration: { kind: duration, units: [hours, minutes] }',
    entry: 'minutes: 90',
    more: 'minutes: 45',
    answers: { 'rename tour.minutes': ['--yes'] },
  },
  {
    title: 'Fields belong together',
    before: 'street: { kind: text }\ntown: { kind: text }',
    after: 'start: { kind: object, fields: { street: { kind: text }, town: { kind: text } } }',
    entry: 'street: "Harbour 1" # by the crane\ntown: Gannet',
    answers: { 'move tour.street': ['--yes'], 'move tour.town': ['--yes'] },
  },
  {
    title: 'What looks like a rename is none',
    before: 'name: { kind: text }\nnote: { kind: text }',
    after: 'name: { kind: text }\nnotice: { kind: text }',
    entry: 'name: Harbour Lights\nnote: Ask Ada for the key.',
    answers: { 'rename tour.note': ['--no'], 'drop tour.note': ['--yes'] },
  },
  {
    title: 'A value comes from another entry',
    before: 'guide: { kind: reference, to: keeper }',
    after: 'guide: { kind: reference, to: keeper }\nguideName: { kind: text, required: true }',
    entry: 'guide: ada-rook',
    answers: { 'add tour.guideName': ['--cel', 'lookUp(entry.guide, "keeper.name")'] },
  },
  {
    title: 'Two words for one thing are merged',
    before: 'topics: { kind: term, taxonomy: topic, many: true }',
    after: 'topics: { kind: term, taxonomy: topic, many: true }',
    entry: 'topics: [lamp, ships]',
    draft: ['--merge', 'topic:lamp=lamps'],
    answers: {},
  },
  {
    title: 'A text becomes several fields',
    before: 'start: { kind: text }',
    after: 'startPlace: { kind: text }\nstartTime: { kind: time }',
    entry: 'start: the old pier, 09:30 # by the kiosk',
    more: 'start: Holm Bay, 14:00',
    answers: { 'split tour.start': ['--yes'] },
  },
  {
    title: 'Values become entries of their own',
    before: 'shop: { kind: text }',
    after: 'shop: { kind: reference, to: shop }',
    beside: { 'model/types/shop.yaml': 'type: shop\ntitled: name\nfields:\n  name: { kind: text }\n' },
    entry: 'shop: The Lamp Room',
    more: 'shop: The Lamp Room',
    answers: { 'pull tour.shop': ['--yes'] },
    comes: ['content/shop/the-lamp-room.yaml'],
  },
  {
    title: 'One type becomes two',
    before: 'name: { kind: text }\nkind: { kind: choice, choices: [walk, cruise] }\nboat: { kind: text }',
    after: 'name: { kind: text }',
    beside: {
      'model/types/cruise.yaml': 'type: cruise\nfields:\n  name: { kind: text }\n  boat: { kind: text }\n',
    },
    entry: 'name: Round the Skerries\nkind: cruise\nboat: The Gannet',
    more: 'name: Harbour Lights\nkind: walk',
    answers: { 'send tour': ['--yes'], 'drop tour.kind': ['--yes'] },
    becomes: 'content/cruise/a.yaml',
  },
  {
    title: 'A reference is kept on its other side',
    before: 'name: { kind: text }\nguide: { kind: reference, to: keeper, inverse: tours }',
    after: 'name: { kind: text }',
    beside: {
      'model/types/keeper.yaml':
        'type: keeper\ntitled: name\nfields:\n  name: { kind: text, unique: true }\n  tours: { kind: reference, to: tour, many: true, inverse: guide }\n',
    },
    entry: 'name: Harbour Lights\nguide: ada-rook',
    answers: { 'turn tour.guide': ['--yes'] },
    comes: ['content/keeper/ada-rook.yaml'],
  },
];

const base = {
  'lumbrik.yaml': 'workspace: Gannet Sound\n',
  'model/types/keeper.yaml': 'type: keeper\ntitled: name\nfields:\n  name: { kind: text, unique: true }\n',
  'model/taxonomies/topic.yaml': 'taxonomy: topic\nopen: true\n',
  'content/keeper/ada-rook.yaml': 'name: Ada Rook\n',
};
const typeFile = 'model/types/tour.yaml';
const typeOf = (fields) => `type: tour\nfields:\n${fields.replace(/^/gmu, '  ')}\n`;

const write = (folder, files) => {
  for (const [name, text] of Object.entries(files)) {
    mkdirSync(dirname(join(folder, name)), { recursive: true });
    writeFileSync(join(folder, name), text);
  }
};

/** Plays a change and tells it as a section of the page. */
async function section({ before, after, entry, more, beside = {}, draft = [], answers, ...said }, number) {
  const { title, becomes = 'content/tour/a.yaml', comes = [] } = said;
  const folder = mkdtempSync(join(tmpdir(), 'lumbrik-migrating-'));
  try {
    write(folder, { ...base, [typeFile]: typeOf(before), 'content/tour/a.yaml': `${entry}\n` });
    if (more) write(folder, { 'content/tour/b.yaml': `${more}\n` });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, { [typeFile]: typeOf(after), ...beside });
    await lumbrik(folder, ['migration', 'draft', ...draft]);
    const asked = await answerAll(folder, answers);
    const [file] = readdirSync(join(folder, 'migrations'));
    const steps = readFileSync(join(folder, 'migrations', file), 'utf8').split('steps:\n')[1];
    await lumbrik(folder, ['migration', 'rehearse']);
    await lumbrik(folder, ['migration', 'run']);
    const checked = JSON.parse(await lumbrik(folder, ['check', '--format', 'json']));
    if (!checked.ok) throw new Error(`${title}: the entries are not right afterwards`);
    const now = [becomes, ...comes].map((name) => ({ name, text: readFileSync(join(folder, name), 'utf8') }));
    await lumbrik(folder, ['migration', 'undo']);
    if (readFileSync(join(folder, 'content/tour/a.yaml'), 'utf8') !== `${entry}\n`)
      throw new Error(`${title}: not undone`);
    return told({ title, number, before, after, beside, entry, draft, asked, steps, now });
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Answers everything that is asked, and insists that it is what is expected. */
async function answerAll(folder, answers) {
  const asked = [];
  for (;;) {
    const { questions } = JSON.parse(await lumbrik(folder, ['migration', 'answer', '--format', 'json']));
    const [question] = questions;
    if (!question) break;
    const { step, verb, address, open } = question;
    const said = answers[`${verb} ${address}`];
    if (!said) throw new Error(`nobody answers ${verb} ${address}: ${open}`);
    asked.push({ open, said: ['migration answer', '--step', String(step), ...said] });
    await lumbrik(folder, ['migration', 'answer', '--step', String(step), ...said]);
  }
  if (asked.length !== Object.keys(answers).length) throw new Error(`${JSON.stringify(answers)} was not asked`);
  return asked;
}

const quoted = (word) =>
  /[\s"'|>*?()]/u.test(word) && word !== 'migration answer' ? `"${word.replaceAll('"', '\\"')}"` : word;
const block = (language, text) => `\`\`\`${language}\n${text.trimEnd()}\n\`\`\`\n`;

/** What became of the entry, and of others where there are such; a file is named where it is not the one of before. */
const afterwards = ([first, ...others]) =>
  [first, ...others]
    .map(({ name, text }) => (name === 'content/tour/a.yaml' ? '' : `\`${name}\`:\n\n`) + block('yaml', text))
    .join('\n');

function told({ title, number, before, after, beside, entry, draft, asked, steps, now }) {
  const isModel = before !== after;
  const questions = asked.map(
    ({ open, said }) =>
      `- “${open}”\n\n${block('', `lumbrik ${said.map(quoted).join(' ')}`)
        .replace(/^/gmu, '  ')
        .trimEnd()}`,
  );
  return [
    `### ${number}. ${title}\n`,
    isModel
      ? `The fields of the type, before and after:\n\n${block('yaml', before)}\n${block('yaml', after)}`
      : 'The model stays as it is: the terms of an open taxonomy are content.\n',
    ...Object.entries(beside).map(([name, text]) => `Beside it, \`${name}\`:\n\n${block('yaml', text)}`),
    draft.length > 0 ? `It is drafted with \`lumbrik migration draft ${draft.join(' ')}\`.\n` : '',
    asked.length > 0 ? `What Lumbrik asks, and an answer:\n\n${questions.join('\n\n')}\n` : 'Lumbrik asks nothing.\n',
    `What it writes:\n\n${block('yaml', steps.replace(/^ {2}/gmu, ''))}`,
    `An entry, before and after:\n\n${block('yaml', entry)}\n${afterwards(now)}`,
  ]
    .filter(Boolean)
    .join('\n');
}

const sections = [];
for (const [index, change] of changes.entries()) sections.push(await section(change, index + 1));

const anchorOf = (title) =>
  title
    .toLowerCase()
    .replace(/[^a-z0-9 -]/gu, '')
    .replaceAll(' ', '-');
const contents = changes.map(({ title }, index) => `${index + 1}. [${title}](#${anchorOf(`${index + 1}. ${title}`)})`);
const [head = ''] = readFileSync(page, 'utf8').split('<!-- recipes -->\n');
const text = `${head}<!-- recipes -->\n\n${contents.join('\n')}\n\n${sections.join('\n')}`;
if (!process.argv.includes('--check')) writeFileSync(page, text);
else if (readFileSync(page, 'utf8') !== text) {
  console.error('The recipes of docs/change.md are not what the program does: npm run docs');
  process.exitCode = 1;
}
