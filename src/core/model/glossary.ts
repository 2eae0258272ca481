/** Our words, and the field's words as we use them, that are not part of the model language itself. */
export const glossary: Readonly<Record<string, string>> = {
  workspace: 'The folder with lumbrik.yaml: the model, the entries, and the records of both.',
  model: 'The definition of the content: types, fields, kits, taxonomies and rules. Files in model/.',
  entry:
    'One piece of content: a file in content/<type>/, a line, a row, or an item of a JSON file. Its address is its type and identifier: lighthouse/skerry-point.',
  identifier:
    'The name of an entry, a term or a choice: one line of text without a slash. An entry takes it from its file, or from its key `id`.',
  address:
    'How you point at something: a type (lighthouse), a field (lighthouse.height), a taxonomy (region:), a term (region:north), an entry (lighthouse/skerry-point), a value (lighthouse/skerry-point#/keepers/0). Quote an identifier that starts with a double quote or ends with #.',
  status:
    'The state of an entry: draft, published (the default) or archived. `required: published` applies to published entries only.',
  publicFrom:
    'The day or moment (with its distance to UTC) from which readers see a published entry. Before it, references to the entry lead nowhere for them.',
  publicUntil: 'The day or moment until which readers see a published entry.',
  builtIn:
    'The facts that every entry has: id, type, status, created, changed, publicFrom, publicUntil. `builtIn` in lumbrik.yaml gives them other keys ({ status: state }), or none (false).',
  languages:
    'The languages of the content (BCP 47), in lumbrik.yaml. The first is the main language. A `localized` field has one value per language.',
  default:
    'A value for new entries only: `default` of a field. No existing entry changes. A migration step fills those.',
  empty:
    'No value: nothing, an empty text, an empty list, or a group without keys. With `mayBeEmpty`, only nothing counts as empty.',
  body: 'The text of a Markdown file below its front matter: the value of the markdown field with `body: true`.',
  asset: 'A file in assets/ that entries use, such as a picture or a document. Also the kind of field that names one.',
  expect: 'The condition of a rule, in CEL over `entry`. If it fails, the check shows `say` at the field `at`.',
  cel: 'The Common Expression Language of rules, conditions and computed values: entry.height > 10.0. See lumbrik explain functions and lumbrik try.',
  kit: 'Fields that are defined once and used in many types. Files in model/kits/.',
  titled: 'The field that names an entry in lists and pages: `titled` of a type.',
  store:
    'Where entries live: a folder, lines of a file, rows of a table, items of a JSON file. `content` in lumbrik.yaml lists the stores.',
  reader: 'A person or program that uses the published content.',
  revision: 'A recorded model: numbered, versioned, hashed, never changed. Files in revisions/.',
  seal: 'To record the model as the next revision. The version number follows from the changes since the last one.',
  version:
    'Three numbers: the first grows when a change breaks readers, the second when readers may notice or entries need a migration, the third otherwise.',
  obey: 'Entries obey the revision that they were last migrated to; content/revision.yaml records it. A migration starts there.',
  migration: 'The steps from one model to another, in a file that you read, answer, rehearse, run and take back.',
  step: 'One move of a migration: add, drop, rename, move, convert, change and others.',
  draft:
    'To write the migration for a changed model: lumbrik migration draft. Also the status of an entry that is not published yet.',
  open: 'A question in a migration that only you can answer; its key `open` stands in the step. Also a taxonomy to which authors add terms.',
  proved: 'The steps of a migration, applied to the old model, give exactly the new model.',
  rehearse: 'To run a migration on the real entries without writing. It shows changes, losses and remaining errors.',
  run: 'To carry out a migration: all of it or nothing. Undo takes it back byte for byte.',
  undo: 'To take back the last run: every file that it wrote gets its old bytes.',
  lost: 'A value that a step drops or replaces. It is listed before anything is written, and kept in the journal.',
  journal: 'The record that a run writes before it begins: the plan and the original files. Folder .lumbrik/runs/.',
  trace: 'To walk the references of an entry in both directions.',
  profile: 'How fields are used: filled values, lengths, languages, frequent values.',
  advice: 'What a review of the model suggests, with evidence. Never a rule.',
  finding: 'One problem that a check reports: its name, its place, and what to do.',
  fix: 'A change that mends a finding by machine. lumbrik check --fix writes the sure ones and asks about the rest.',
  baseline:
    'Known findings, in baseline.ndjson. A check reports only new ones, and removes mended ones. lumbrik check --baseline writes it.',
  declined: 'A finding or a piece of advice that is right as it is: listed in lumbrik.yaml with a reason.',
  learn: 'To make a model from existing entries, with the evidence for each guess.',
  starter: 'The files that a new workspace begins with: lumbrik new --starter.',
  rating: 'The effect of a change: on entries (valid, migrate, lose) and on readers (unaffected, notice, break).',
};
