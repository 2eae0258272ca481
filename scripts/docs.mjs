#!/usr/bin/env node
// Writes docs/model.md from the definitions themselves, through the built program, and docs/needs.md from the needs and
// the tests that name them. With --check it only tells whether
// the file is up to date.
import { spawnSync } from 'node:child_process';
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { stringify } from 'yaml';
import { needs } from './needs.mjs';

const program = fileURLToPath(new URL('../dist/cli.js', import.meta.url));
const tests = fileURLToPath(new URL('../test', import.meta.url));

const { topics } = JSON.parse(
  spawnSync(process.execPath, [program, 'explain', '--format', 'json'], { encoding: 'utf8' }).stdout,
);
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

Everything that a model can say. This page is written by \`npm run docs\` from the definitions in the code; the same is on
the terminal: \`lumbrik explain <word>\`.

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

${of('workspace')[2].about} A type may live in several of them, and several may keep theirs in one file of JSON, each in a list or map of its own (\`at\`); a second entry of the same address is a duplicate wherever it is.
What is kept in lines is checked, migrated and taken back like anything else: only what changes in a line changes.

${options(of('workspace')[2])}
${whole(of('workspace')[2])}
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
### What counts as no value

Nothing, an empty text, an empty list and a group without keys are no value, wherever it is asked: by what is \`required\`, by
\`has()\` and every other part of an expression, by conversions and by counts. A field that says \`mayBeEmpty: true\` is always
there and may be empty: for it, only nothing (\`null\`, or an absent key) is none. What counts as none is held to no limit.

### Fields that apply to some entries alone

\`when: entry.form == "tower"\` lets a field apply where that holds. Elsewhere it has to be absent; \`required\` is asked only
there. Where the condition cannot be told, since a value that it asks for is missing, the field does not apply.

### One alone, or a list

\`many: true\` makes a list of a field, \`many: { orOne: true }\` lets one value stand alone too: expressions see a list either
way. A map (kind \`map\`) holds values under keys that are data themselves.

## Names and addresses

Types, taxonomies, kits and kinds are named \`likeThis\`. Fields are named as the content has them: letters, digits, \`_\`, \`$\`
and \`-\`; in expressions, what is no letter or digit is written \`_\`. Identifiers of entries, terms and choices are one line of
text without a slash, up to 200 characters; a folder keeps what a file system cannot hold percent-encoded (\`a:b\` lies in
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

An identifier stands in it as it is; one that starts with a double quote, or ends with \`#\`, stands in double quotes as in
JSON. An inherited field has the address of the type that defines it.

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

## Words

| word | |
| --- | --- |
${of('word')
  .map(({ name, about }) => `| \`${name}\` | ${cell(about)} |`)
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
      return found.length > 0 ? [`[${name.replace('.test.ts', '')}](../test/${name})`] : [];
    });
}

const needsText = `# What it is for

What a content architect needs, each with the tag that names it in tests, and the tests that hold it. Those without a test
are still to come. This page is written by \`npm run docs\`.

${Object.entries(needs)
  .map(
    ([title, all]) =>
      `## ${title}\n\n| | | tests |\n| --- | --- | --- |\n${Object.entries(all)
        .map(([tag, says]) => `| ${tag} | ${cell(says)} | ${testsOf(tag).join(', ')} |`)
        .join('\n')}\n`,
  )
  .join('\n')}`;

const biome = fileURLToPath(new URL('../node_modules/@biomejs/biome/bin/biome', import.meta.url));

/** Writes a page, or tells that it is not up to date. */
function page(name, text) {
  const file = fileURLToPath(new URL(`../docs/${name}`, import.meta.url));
  const formatted =
    spawnSync(process.execPath, [biome, 'format', `--stdin-file-path=docs/${name}`], { input: text, encoding: 'utf8' })
      .stdout || text;
  if (!process.argv.includes('--check')) writeFileSync(file, formatted);
  else if (readFileSync(file, 'utf8') !== formatted) process.exitCode = 1;
}

page('model.md', text);
page('needs.md', needsText);
