/** Words of ours, and of the field, that stand in outputs and files and are no part of the model language themselves. */
export const glossary: Readonly<Record<string, string>> = {
  workspace:
    'The folder with lumbrik.yaml: a model, the entries, what is recorded of both. A name for it is all that the file has to say.',
  model:
    'What an organisation keeps and what each piece is made of: types, fields, kits, taxonomies, rules. Files in model/.',
  entry:
    'One piece of content: a file of content/<type>/, or a line of a file. Its address is its type and identifier: lighthouse/skerry-point.',
  identifier:
    'What an entry, a term or a choice is called: one line of text without a slash. An entry has that of its file, unless it says `id`.',
  address:
    'How anything is pointed at: a type (lighthouse), a field (lighthouse.height), a taxonomy (region:), a term (region:north), an entry (lighthouse/skerry-point), a value in it (lighthouse/skerry-point#/keepers/0). An identifier that starts with a double quote, or ends with #, stands in double quotes.',
  status:
    'Where an entry stands: draft, published or archived; published if it does not say. What is required `published` is asked of published entries alone.',
  publicFrom:
    'From when a published entry is there for readers: a day, or a moment with its distance to UTC. Before that, references to it lead nowhere for them.',
  publicUntil: 'Until when a published entry is there for readers.',
  builtIn:
    'In lumbrik.yaml: under which keys stand what every entry has of itself, where its content has fields of these names: { status: state }; false where there is none.',
  languages:
    'The languages that content is written in (BCP 47), in lumbrik.yaml; the first is the main one. A `localized` field has a value in each.',
  empty:
    'What counts as no value: nothing, an empty text, an empty list, a group without keys. With `mayBeEmpty`, only nothing does.',
  body: 'The text of a Markdown file below its front matter: the value of the field of kind markdown that says `body: true`.',
  asset:
    'A file below assets/ that entries use: a picture, a sound, a document. Also: the kind of field that names one.',
  expect:
    'The condition of a rule, in CEL over `entry`; where it does not hold, `say` is shown, at the field named by `at`.',
  cel: 'The Common Expression Language, in which rules, conditions and computed values are written: entry.height > 10.0. See: lumbrik explain functions, lumbrik try.',
  revision:
    'The model as it was recorded, numbered, with a version and a hash, and never changed again. Files in revisions/.',
  seal: 'To record the model as the next revision. The version follows from what changed since the last one.',
  version:
    'Three numbers that say what a change asks of readers: the first grows where something breaks for them, the second where they may notice, the third else.',
  obey: 'Entries obey the revision whose model they were last brought to; content/revision.yaml says which. A migration runs from there.',
  migration: 'The steps from one model to another, in a file that is read, answered, rehearsed, run and taken back.',
  draft:
    'To write the migration that the changed model asks for: lumbrik migration draft. Also: the status of an entry that is not published yet.',
  open: 'A question in a migration that only a person can answer: it is answered beside it, by `answer: yes` or what the comment above says. Also: a taxonomy that authors add terms to.',
  proved: 'That the steps of a migration, applied to the older model, give exactly the newer one.',
  rehearse:
    'To run a migration on the real entries without writing: what it does, what is lost, what would still be wrong.',
  run: 'To carry a migration out: all or nothing, and taken back byte for byte by undo.',
  undo: 'To take the last run back: every file is again what it was, byte for byte.',
  lost: 'A value that a step cannot carry on, or puts another in the place of. It is listed before anything is written, and kept in the journal after.',
  journal: 'What a run is about to change, and what was there, written down before it begins: .lumbrik/runs/.',
  trace:
    'To walk the references of an entry: what it points at, what points at it, what to publish first, what would dangle.',
  fix: 'How a machine can mend a finding: another value in the place of the one that is wrong, or another name for a key. lumbrik check --fix does what is sure, and asks for the rest.',
  baseline:
    'Findings that are known, in baseline.ndjson: a check tells only what is new, and takes out what is gone. Written by lumbrik check --baseline.',
  declined: 'A finding that is so on purpose, in `findings` of lumbrik.yaml with the reason, which the check repeats.',
  rating: 'What a change means: for entries valid, migrate or lose; for readers unaffected, notice or break.',
};
