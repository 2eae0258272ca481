#!/usr/bin/env node
// Writes the generated pages through the built program: docs/model.md, docs/words.md and the advice in docs/look.md from
// the definitions, docs/commands.md from --help, docs/contributing/needs.md from the needs and the tests that name them.
// With --check it only reports the pages that are not up to date.
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { stringify } from 'yaml';
import { lumbrik } from './call.mjs';
import { needs } from './needs.mjs';

const tests = fileURLToPath(new URL('../test', import.meta.url));

const { topics } = JSON.parse(await lumbrik(process.cwd(), ['explain', '--format', 'json']));
const of = (what) => topics.filter((topic) => topic.what === what);
const flow = (value) => stringify(value, { collectionStyle: 'flow', lineWidth: 0 }).trim();
const cell = (text) => text.replaceAll('|', '\\|');

const options = (topic) =>
  topic.options.length === 0
    ? 'No options of its own.\n'
    : `| option | takes | |\n| --- | --- | --- |\n${topic.options.map(({ name, takes, about, needed }) => `| \`${name}\` | ${cell(takes)}${needed ? ', needed' : ''} | ${cell(about)} |`).join('\n')}\n`;

const whole = (topic) => `\`\`\`yaml\n${stringify(topic.whole, { lineWidth: 110 }).trim()}\n\`\`\`\n`;

const kind = (topic) =>
  `### ${topic.name}\n\n${topic.about}\n\n${options(topic)}\n\`\`\`yaml\nx: ${flow({ kind: topic.name, ...topic.example.options })} # in the model\nx: ${flow(topic.example.value)} # in an entry\n\`\`\`\n`;

const text = `# The model language

Everything that a workspace can say. \`npm run docs\` writes this page from the definitions in the code. \`lumbrik explain <word>\`
shows the same at the terminal.

[Types](#types) · [languages](#languages) · [limits](#limits) · [where entries are](#where-entries-are) ·
[findings](#findings-settings) · [advice](#advice-settings) · [kits and shared fields](#kits-shared-fields-kinds-of-your-own) ·
[fields](#fields) · [addresses](#names-and-addresses) · [kinds](#kinds) · [taxonomies](#taxonomies) ·
[expressions](#expressions) · [steps](#steps-of-a-migration) · [ways of writing](#ways-of-writing) · [findings](#findings)

## Types

${of('type')[0].about} The file says \`type:\` and its name, then:

${options(of('type')[0])}
${whole(of('type')[0])}
Every entry has of itself: \`id\`, \`type\`, \`status\` (draft, published, archived; published if it does not say), \`created\`,
\`changed\`, \`publicFrom\`, \`publicUntil\`. Where the content has a field of such a name, lumbrik.yaml says under which key the
built-in one stands, or that there is none: \`builtIn: { status: state, created: false }\`.

## Languages

${of('workspace')[0].about}

${options(of('workspace')[0])}
${whole(of('workspace')[0])}
## Limits

${of('workspace')[1].about}

${options(of('workspace')[1])}
${whole(of('workspace')[1])}
## Where entries are

${of('workspace')[2].about} A type may have several stores. Several stores may share one JSON file, each with its own list or map (\`at\`). Two entries with one address are duplicates in any store.
Lines are checked, migrated and undone like files; a change touches only its part of a line.

${options(of('workspace')[2])}
${whole(of('workspace')[2])}
## Findings: settings

${of('workspace')[3].about}

${options(of('workspace')[3])}
${whole(of('workspace')[3])}
## Advice: settings

${of('workspace')[4].about}

${options(of('workspace')[4])}
${whole(of('workspace')[4])}
## Kits, shared fields, kinds of your own

${of('kit')[0].about} The file says \`kit:\` and its name, then its \`fields\` and:

${options(of('kit')[0])}
${whole(of('kit')[0])}
A **shared field** is one file in model/fields/: \`field:\` and its name, then its kind and options. A field is made of it by
\`phone: { use: contactPhone }\`, with further options that narrow it. A field that arrives by a kit or a base type is narrowed
by naming it again without a kind: \`shareTitle: { max: 40 }\`.

${of('own kind')[0].about} The file says \`kind:\` and its name, then:

${options(of('own kind')[0])}
${whole(of('own kind')[0])}
## Fields

${of('field')[0].about}

${options(of('field')[0])}
${whole(of('field')[0])}
### Empty values

Nothing, an empty text, an empty list and a group without keys are no value. This holds for \`required\`, \`has()\` and other
expressions, conversions and counts. With \`mayBeEmpty: true\` only nothing (\`null\`, or an absent key) is no value. Limits
do not apply to empty values.

### Conditional fields

With \`when: entry.form == "tower"\` a field applies only if the condition holds; otherwise it must be absent. \`required\`
applies only then. If a value in the condition is missing, the field does not apply.

### One value or a list

\`many: true\` makes a list of a field. \`many: { orOne: true }\` also allows one value without a list; expressions always see
a list. A map (kind \`map\`) holds values under keys that are data.

## Names and addresses

Types, taxonomies, kits and kinds are named \`likeThis\`. Fields are named as the content has them: letters, digits, \`_\`, \`$\`
and \`-\`; in expressions, other signs than letters and digits are written \`_\`. Identifiers of entries, terms and choices are one line
of text without a slash, up to 200 characters; a folder keeps signs that a file system cannot hold percent-encoded (\`a:b\` lies in
\`a%3Ab.yaml\`), and two that some file system takes for one are an error.

| address | points at |
| --- | --- |
| \`lighthouse\` | a type |
| \`lighthouse.height\`, \`lighthouse.hours.opens\` | a field, one inside an object |
| \`lighthouse.character:fixed\` | one value of a choice |
| \`region:\` | a taxonomy |
| \`region:north/skerries\` | a term, with or without those above it |
| \`lighthouse/skerry-point\` | an entry |
| \`lighthouse/skerry-point#/keepers/0\` | a value inside an entry (JSON Pointer, RFC 6901) |

Quote an identifier that starts with a double quote or ends with \`#\`, as in JSON. An inherited field has the address of the type that defines it.

## Kinds

${of('kind').map(kind).join('\n')}
## Taxonomies

${of('taxonomy')[0].about} The file says \`taxonomy:\` and its name, then:

${options(of('taxonomy')[0])}
${whole(of('taxonomy')[0])}
Its \`terms\` are a list. A term is its identifier alone, or \`{ term: north, … }\` with:

${options(of('term')[0])}
${whole(of('term')[0])}
## Expressions

Rules, conditions and computed values are written in CEL, the Common Expression Language, over \`entry\` (a condition on what
a reference may point at: over \`target\`). \`lumbrik try '<expression>' lighthouse\` shows what one gives.

| call | | for example | gives |
| --- | --- | --- | --- |
${of('function')
  .map(
    ({ about, gives }) =>
      `| \`${cell(gives.call)}\` | ${cell(about)} | \`${cell(gives.expression)}\` | \`${cell(flow(gives.gives))}\` |`,
  )
  .join('\n')}

## Steps of a migration

${of('step')
  .map((step) => `### ${step.name}\n\n${step.about}\n\n${options(step)}`)
  .join('\n')}
## Ways of writing

${of('styles')[0].about} \`lumbrik migration draft\` looks at all texts of a field and suggests them.

| style | kinds | texts |
| --- | --- | --- |
${of('styles')[0]
  .options.map(({ name, takes, about }) => `| \`${name}\` | ${cell(takes)} | ${cell(about)} |`)
  .join('\n')}

## Findings

| finding | |
| --- | --- |
${of('finding')
  .map(({ name, about }) => `| \`${name}\` | ${cell(about)} |`)
  .join('\n')}
`;

/** The titles of the tests, and of groups of them, that name a need. */
function testsOf(tag) {
  const titled = /(?:describe|test)(?:\.each[^\n]*)?\(\s*(['`])((?:(?!\1).)*)\1/gu;
  return readdirSync(tests, { recursive: true, encoding: 'utf8' })
    .filter((name) => name.endsWith('.test.ts'))
    .sort()
    .flatMap((name) => {
      const titles = [...readFileSync(path.join(tests, name), 'utf8').matchAll(titled)].map(([, , title]) => title);
      const found = titles.filter((title) => new RegExp(`\\[[^\\]]*\\b${tag}\\b`, 'u').test(title));
      return found.length > 0 ? [`[${name.replace('.test.ts', '')}](../../test/${name})`] : [];
    });
}

const needsText = `# Needs

What a content architect needs: the tag, the need, and the tests that name it. \`npm run docs\` writes this page. A need
without tests is not built yet.

${Object.entries(needs)
  .map(
    ([title, all]) =>
      `## ${title}\n\n| | | tests |\n| --- | --- | --- |\n${Object.entries(all)
        .map(([tag, says]) => `| ${tag} | ${cell(says)} | ${testsOf(tag).join(', ')} |`)
        .join('\n')}\n`,
  )
  .join('\n')}`;

const wordsText = `# Words

Lumbrik uses each of these words with one meaning. \`lumbrik explain <word>\` shows the same.

| word | meaning |
| --- | --- |
${of('word')
  .toSorted((a, b) => (a.name < b.name ? -1 : 1))
  .map(({ name, about }) => `| **${name}** | ${cell(about)} |`)
  .join('\n')}
`;

/* ── commands, from their help ───────────────────────────────────────────────────────────────────────────────── */

/** The help of a command, read once. */
const helps = new Map();
async function helpOf(words) {
  const name = words.join(' ');
  if (!helps.has(name)) helps.set(name, await lumbrik(process.cwd(), [...words, '--help']));
  return helps.get(name);
}

/** The rows of a part of a help text: two columns, each of which may be wrapped. */
function rowsOf(help, title) {
  const [, part = ''] = help.split(`\n${title}:\n`);
  const [block = ''] = part.split(/\n\s*\n/u);
  const lines = block.split('\n').filter(Boolean);
  const starts = lines.map((line) => /^ {2,6}\S.*? {2,}(?=\S)/u.exec(line)?.[0].length).filter(Boolean);
  const column = Math.max(...starts);
  const rows = [];
  for (const line of lines) {
    const [left, right] = [line.slice(0, column).trim(), line.slice(column).trim()];
    const isNew = /^ {2,6}(?:lumbrik|-|[a-z])/u.test(line) && (title !== 'Examples' || left.startsWith('lumbrik'));
    if (isNew) rows.push([left, right]);
    else rows.push(rows.pop().map((text, index) => `${text} ${[left, right][index]}`.trim()));
  }
  return rows;
}

const common = ['--workspace', '--color', '--version', '-h, --help'];

/** A positional or an option as a row of a table: name, what it does, what it takes. */
function row([name, rest]) {
  const notes = [...rest.matchAll(/\[((?:[^[\]]|\[[^\]]*\])+)\]/gu)].map(([, note]) => note);
  const about = rest.replace(/\s*\[(?:[^[\]]|\[[^\]]*\])+\]/gu, '').trim();
  const takes = notes
    .filter((note) => !['boolean', 'string', 'number', 'array', 'default: []'].includes(note))
    .join('; ');
  return `| \`${name}\` | ${cell(about)} | ${cell(takes)} |`;
}

async function commandText(words) {
  const help = await helpOf(words);
  const [usage = '', , about = ''] = help.split('\n');
  const rows = [...rowsOf(help, 'Positionals'), ...rowsOf(help, 'Options')]
    .filter(([name]) => !common.includes(name))
    .filter(([name, rest]) => name !== '--format' || !rest.includes('[choices: "text", "json"]'));
  return [
    `## ${words.join(' ')}\n`,
    `\`${usage.trim()}\`: ${about.trim()}\n`,
    rows.length > 0 ? `| | | takes |\n| --- | --- | --- |\n${rows.map(row).join('\n')}\n` : '',
    ...rowsOf(help, 'Examples').map(([call, says]) => `- \`${call}\`: ${says}`),
  ]
    .filter(Boolean)
    .join('\n');
}

/** The words of all commands, from the help of their groups. */
async function commandsBelow(words) {
  const usages = rowsOf(await helpOf(words), 'Commands').map(([usage]) => usage.replace(/^lumbrik /u, ''));
  const named = usages.map((usage) => usage.split(' ').filter((word) => /^[a-z]/u.test(word)));
  if (named.length === 0) return [words];

  const below = [];
  for (const group of named) below.push(...(await commandsBelow(group)));
  return below;
}

const commands = [];
for (const words of await commandsBelow([])) commands.push(await commandText(words));

const commandsText = `# Commands

\`npm run docs\` writes this page from \`--help\`. Every command also takes \`--workspace <folder>\`, \`--format text|json\`,
\`--no-color\` and \`--help\`. [team.md](team.md#exit-codes) lists the exit codes.

${commands.join('\n\n')}
`;

/* ── pages ───────────────────────────────────────────────────────────────────────────────────────────────────── */

/** Writes a page, or reports that it is not up to date. */
function page(name, text) {
  const file = fileURLToPath(new URL(`../docs/${name}`, import.meta.url));
  if (!process.argv.includes('--check')) writeFileSync(file, text);
  else if (readFileSync(file, 'utf8') !== text) {
    console.error(`docs/${name} is not up to date: npm run docs`);
    process.exitCode = 1;
  }
}

/** Writes what stands between two marks of a page that is otherwise written by hand. */
function between(name, mark, text) {
  const file = fileURLToPath(new URL(`../docs/${name}`, import.meta.url));
  const [before, after] = readFileSync(file, 'utf8').split(
    new RegExp(`(?<=<!-- ${mark} -->\\n)[\\s\\S]*(?=<!-- /${mark} -->)`, 'u'),
  );
  page(name, `${before}\n${text}\n${after}`);
}

const advice = of('advice')
  .map(({ name, about }) => `| \`${name}\` | ${cell(about)} |`)
  .join('\n');

page('model.md', text);
page('words.md', wordsText);
page('commands.md', commandsText);
page('contributing/needs.md', needsText);
between('look.md', 'advice', `| advice | |\n| --- | --- |\n${advice}\n`);
