import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { png } from '../support/pictures.ts';
import { plainEnv } from '../support/plain.ts';
import { program, root, write } from '../support/program.ts';

/** How much of the hostile tests runs: a sample with every build, all of it by `npm run test:hostile`. */
export const isWhole = process.env.HOSTILE === 'whole';
export const seed = Number(process.env.SEED ?? 20_261_125);
/** As long as it takes: what must not take long is measured by each test itself. */
export const hours = 6 * 60 * 60 * 1000;
export const howMany = (whole: number, sample: number): number =>
  Number(process.env.RUNS ?? (isWhole ? whole : sample));

/**
 * A folder that holds a workspace, the state of its owner's account, and things beside it that no command may touch.
 * Everything that a workspace can hold is in it: each kind of model file and of entry, two revisions, the journal of a
 * run, a migration that is ready to run, schemas, assets and terms.
 */
export interface Scene {
  readonly top: string;
  readonly workspace: string;
  readonly env: Readonly<Record<string, string>>;
}

const types = (second: string, third: string): Record<string, string> => ({
  'model/types/light.yaml': `# A light\ntype: light\ntitled: name\nkits: [sharing]\nfields:\n  name: { kind: text, max: 80, required: true }\n  ${second}: { kind: text }\n  ${third}: { kind: integer, min: 0 }\n  topics: { kind: term, taxonomy: topic, many: true }\n  region: { kind: term, taxonomy: region }\n  keeper: { kind: reference, to: keeper, inverse: { name: lights, max: 9 } }\n  photo: { kind: asset, media: [image/*] }\n  price: { kind: euro }\n  phone: { use: contactPhone }\n  hours: { kind: object, many: true, fields: { opens: { kind: time }, note: { kind: text } } }\n  story: { kind: markdown, body: true }\nrules:\n  - { expect: "entry.${third} >= 0 || entry.name.matches('^[A-Z]')", say: Names begin with a large letter. }\n`,
});

const workspaceFiles: Record<string, string | Buffer> = {
  'lumbrik.yaml':
    'workspace: Gannet Sound\nlanguages: [en, { language: fr, fallback: [en] }]\ncontent:\n  - { folder: content }\n  - { lines: content/more.ndjson, type: keeper }\n  - { json: content/more.json, at: keepers, type: keeper }\n  - { csv: content/more.csv, type: keeper }\nfindings:\n  severity: { unread-file: warning }\n  declined: [{ finding: too-long, entry: light/a, because: It is. }]\n  maxWarnings: 40\n',
  'content/more.ndjson': '{"id":"n-1","name":{"en":"N"},"born":"1850-01-01"}\n{"id":"n-2","name":{"en":"M"}}\n',
  'content/more.json': '{\n  "keepers": [\n    { "id": "j-1", "name": { "en": "J" } },\n    { "id": "j-2" }\n  ]\n}\n',
  'content/more.csv': 'id,name.en,born\nc-1,"C, the first",1850-01-01\nc-2,"D",\n',
  ...types('old', 'height'),
  'model/types/keeper.json':
    '{\n  "type": "keeper",\n  "fields": { "name": { "kind": "text", "localized": true }, "born": { "kind": "date" } }\n}\n',
  'model/kits/sharing.yaml': 'kit: sharing\nfields:\n  shareTitle: { kind: text, max: 60 }\n',
  'model/kinds/euro.yaml': 'kind: euro\non: decimal\noptions: { unit: EUR, places: 2 }\n',
  'model/fields/contactPhone.yaml': "field: contactPhone\nkind: text\npattern: '^\\+?[0-9 ]+$'\n",
  'model/taxonomies/topic.yaml': 'taxonomy: topic\nopen: true\n',
  'model/taxonomies/region.yaml': 'taxonomy: region\nterms:\n  - { term: north, terms: [skerries] }\n  - south\n',
  'content/topic.terms.yaml': 'taxonomy: topic\nterms:\n  - { term: birds, label: Birds }\n',
  'content/light/a.yaml':
    '# one\nname: A\nold: x\nheight: 3\ntopics: [birds]\nregion: skerries\nkeeper: ada\nphoto: p.png\nprice: 2.50\nhours:\n  - { opens: "10:00", note: x }\n',
  'content/light/b.md': '---\nname: B # two\nold: "y"\nheight: 4\n---\n\nA *story*.\n',
  'content/light/c.json': '{ "name": "C", "old": "z", "height": 5, "phone": "+1 2" }\n',
  'content/keeper/ada.yaml': 'name: { en: Ada, fr: Ada }\nborn: 1830-01-01\n',
  'assets/p.png': png(2, 2),
  'list.txt': 'Lenses\nLamps\n',
  'story.html': '<p>A <b>story</b></p>\n',
};

/** Makes the scene once; it is copied for every try. */
export function makeScene(): Scene {
  const top = fs.mkdtempSync(path.join(os.tmpdir(), 'lumbrik-hostile-'));
  process.on('exit', () => fs.rmSync(top, { recursive: true, force: true }));
  const scene = sceneIn(top);
  write(scene.workspace, workspaceFiles);
  write(top, { 'outside/a.txt': 'ours', 'outside/deep/b.yaml': 'name: ours\n', x: 'ours too' });
  const run = (...args: string[]): string => {
    const { status, stdout, stderr } = spawnSync(process.execPath, [program, ...args, '--format', 'json'], {
      cwd: scene.workspace,
      env: scene.env,
      encoding: 'utf8',
    });
    if (status !== 0) throw new Error(`${args.join(' ')}: ${stdout}${stderr}`);
    return stdout;
  };
  run('schemas', '--name');
  run('seal', '-m', 'one');
  write(scene.workspace, types('older', 'height'));
  run('schemas', '--name');
  run('migration', 'draft', '--renamed', 'light.old=older');
  run('migration', 'rehearse');
  run('migration', 'run');
  run('seal', '-m', 'two');
  write(scene.workspace, types('older', 'focalHeight'));
  run('schemas', '--name');
  run('migration', 'draft', '--renamed', 'light.height=focalHeight');
  run('migration', 'rehearse');
  return scene;
}

/** The places of a scene in some folder. */
export const sceneIn = (top: string): Scene => ({
  top,
  workspace: path.join(top, 'workspace'),
  env: { ...plainEnv, XDG_STATE_HOME: path.join(top, 'state') },
});

/** A copy of a scene in a folder of its own. */
export function copyScene({ top }: Scene): Scene {
  const copy = fs.mkdtempSync(path.join(os.tmpdir(), 'lumbrik-hostile-'));
  fs.cpSync(top, copy, { recursive: true, verbatimSymlinks: true, preserveTimestamps: true });
  return sceneIn(copy);
}

export const removeScene = ({ top }: Scene): void => fs.rmSync(top, { recursive: true, force: true });

/** Everything below a folder: names, what they are, and bytes. Told from outside the program. */
export function everything(folder: string, skip: (name: string) => boolean = () => false): ReadonlyMap<string, string> {
  const all = new Map<string, string>();
  const walk = (inside: string): void => {
    for (const entry of fs.readdirSync(path.join(folder, inside), { withFileTypes: true })) {
      const name = path.posix.join(inside, entry.name);
      if (skip(name)) continue;
      const full = path.join(folder, name);
      if (entry.isSymbolicLink()) all.set(name, `link ${fs.readlinkSync(full)}`);
      else if (entry.isDirectory()) {
        all.set(`${name}/`, 'folder');
        walk(name);
      } else if (entry.isFile()) all.set(name, fs.readFileSync(full, 'latin1'));
      else all.set(name, 'something else');
    }
  };
  walk('');
  return all;
}

/** What lies beside the workspace. */
export const beside = ({ top }: Scene): string =>
  JSON.stringify([...everything(top, (name) => name === 'workspace')].sort());

/** The content of the workspace: what runs change, and what an undo brings back. */
export const contentOf = ({ workspace }: Scene): string =>
  fs.existsSync(path.join(workspace, 'content'))
    ? JSON.stringify([...everything(path.join(workspace, 'content'))].sort())
    : '';

export const killer = pathToFileURL(path.join(root, 'test/support/killAt.mjs')).href;
