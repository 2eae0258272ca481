import { type ChildProcess, fork } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, test } from 'vitest';
import { parseDocument } from 'yaml';
import { Random } from '../support/random.ts';
import { mutate } from './mutate.ts';
import {
  beside,
  contentOf,
  copyScene,
  everything,
  hours,
  howMany,
  makeScene,
  removeScene,
  type Scene,
  sceneIn,
  seed,
} from './scene.ts';

const worker = fileURLToPath(new URL('./worker.mjs', import.meta.url));
const patience = 10_000;
const mostMegabytes = 1_000;
/** So many tries a process: what one of them leaves in memory is not held against those that follow. */
const triesPerProcess = 400;

interface Ended {
  readonly code: number;
  readonly out: string;
  readonly err: string;
  readonly thrown?: string;
}
interface Report {
  readonly ended: readonly Ended[];
  readonly megabytes: number;
}

const commands: readonly (readonly string[])[] = [
  ['check'],
  ['check'],
  ['check'],
  ['check', '--fix'],
  ['check', '--fix', '--yes'],
  ['check', '--since', '1'],
  ['check', 'keeper', '--format', 'sarif'],
  ['check', '--baseline'],
  ['list', 'light', '--sort', 'id desc'],
  ['list', '--format', 'csv'],
  ['profile'],
  ['map', '--format', 'svg'],
  ['report', '--format', 'html'],
  ['advice'],
  ['show'],
  ['show', 'light'],
  ['show', 'light/a'],
  ['history'],
  ['diff'],
  ['terms', 'topic', '--alike'],
  ['trace', 'light/a'],
  ['text', 'story.html', '--to', 'tree'],
  ['text', 'light/b#/story', '--to', 'html'],
  ['seal', '-m', 'three'],
  ['add', 'field', 'light', 'range', '--kind', 'integer'],
  ['terms', 'topic', '--add', 'list.txt'],
  ['entry', 'new', 'light', '--title', 'Z'],
  ['entry', 'revision'],
  ['schemas'],
  ['migration', 'list'],
  ['migration', 'draft'],
  ['migration', 'rehearse'],
  ['migration', 'run'],
  ['migration', 'run'],
  ['migration', 'undo'],
  ['migration', 'undo'],
];

/** A process that tries things, ended from outside where one does not come back. */
class Tried {
  #child: ChildProcess | undefined;
  #tries = 0;

  async try(scene: Scene, calls: readonly (readonly string[])[]): Promise<Report | string> {
    if (this.#tries >= triesPerProcess) this.end();
    this.#tries += 1;
    this.#child ??= fork(worker, {
      execArgv: ['--max-old-space-size=1024'],
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
    });
    const child = this.#child;
    return new Promise((resolve) => {
      const settle = (report: Report | string): void => {
        clearTimeout(timer);
        child.removeAllListeners();
        if (typeof report === 'string') this.end();
        resolve(report);
      };
      const timer = setTimeout(
        () => settle(`it did not come back within ${patience / 1000} seconds`),
        patience * calls.length,
      );
      child.on('message', (report) => settle(report as Report));
      child.on('exit', (code, signal) => settle(`it ended by itself: ${code ?? signal}`));
      child.send({ folder: scene.workspace, env: scene.env, calls });
    });
  }

  end(): void {
    this.#child?.removeAllListeners();
    this.#child?.kill('SIGKILL');
    this.#child = undefined;
    this.#tries = 0;
  }
}

/** Whether a file is broken whatever it is for: what no parser takes can be neither a model nor an entry that is fine. */
function isBroken(file: string): boolean {
  const stat = fs.lstatSync(file, { throwIfNoEntry: false });
  if (!stat?.isFile() || (stat.mode & 0o400) === 0) return false;
  const bytes = fs.readFileSync(file);
  let text: string;
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return true;
  }
  if (file.endsWith('.json')) return !isJson(text);
  if (file.endsWith('.yaml') && text.length < 20_000)
    return parseDocument(text, { logLevel: 'silent' }).errors.length > 0;
  return false;
}

function isJson(text: string): boolean {
  try {
    JSON.parse(text);
    return true;
  } catch {
    return false;
  }
}

const isRead = (file: string): boolean => /^(?:lumbrik\.yaml|model\/|content\/)/u.test(file);
const isKept = (file: string): boolean => /^\.lumbrik\/runs\/[^/]+\/[0-9a-f]{64}$/u.test(file);

/** What went wrong in one try; nothing where all was as it should be. */
function judge(
  scene: Scene,
  of: { file: string; args: readonly string[]; before: string; old: string },
  report: Report,
): string | undefined {
  const [ended] = report.ended;
  if (!ended) return 'nothing came back';
  const { code, out, err, thrown } = ended;
  if (thrown !== undefined) return `it threw: ${thrown}`;
  if (![0, 1, 2, 3].includes(code)) return `exit code ${code}: ${(out + err).slice(0, 2000)}`;
  if (report.megabytes > mostMegabytes) return `${report.megabytes} MB`;
  const [command, sub] = of.args;
  if (command === 'check' && code === 0 && isRead(of.file) && isBroken(path.join(scene.workspace, of.file)))
    return `it said that all is fine:\n${out}`;
  // An undo that says it is done has brought back every byte of what was there before the run, and nothing else.
  if (command === 'migration' && sub === 'undo' && code === 0 && isKept(of.file) && contentOf(scene) !== of.old)
    return 'it took back something else than what was there';
  const refused = code === 2 || code === 3;
  if (refused && command === 'migration' && (sub === 'run' || sub === 'undo') && contentOf(scene) !== of.before)
    return 'it refused, and changed the content';
  return undefined;
}

const tries = howMany(20_000, 150);

test(
  `${tries} mutations of every kind of file: no fault, no hang, nothing outside touched, nothing called fine that cannot be read [M2]`,
  async () => {
    const scene = makeScene();
    const undone = copyScene(scene);
    const tried = new Tried();
    await tried.try(undone, [['migration', 'undo']]);
    const old = contentOf(undone);
    tried.end();
    removeScene(undone);
    const files = [...everything(scene.workspace).entries()]
      .filter(([name, what]) => !name.endsWith('/') && !what.startsWith('link '))
      .map(([name]) => name);
    expect(files.filter((name) => name.startsWith('.lumbrik/runs/')).length).toBeGreaterThan(8);
    const own = files.filter((name) => name.startsWith('.lumbrik/') || name.startsWith('revisions/'));
    const outside = beside(scene);
    const failures: string[] = [];
    const codes = new Map<number, number>();
    let most = 0;
    let next = 0;
    const lane = async (number: number): Promise<void> => {
      const tried = new Tried();
      const copy = sceneIn(`${scene.top}-copy-${number}`);
      while (next < tries && failures.length < 20) {
        const index = next;
        next += 1;
        const random = new Random(seed + index);
        fs.rmSync(copy.top, { recursive: true, force: true });
        fs.cpSync(scene.top, copy.top, { recursive: true, verbatimSymlinks: true });
        // Many of the tries go to what the tool itself keeps and trusts.
        const { file, what } = mutate(copy.workspace, random.next() < 0.4 ? own : files, random);
        const args = random.pick(commands);
        const before = contentOf(copy);
        const report = await tried.try(copy, [args]);
        const wrong = typeof report === 'string' ? report : judge(copy, { file, args, before, old }, report);
        const touched = beside(copy) === outside ? undefined : 'something outside the workspace was touched';
        if (wrong !== undefined || touched !== undefined)
          failures.push(`SEED=${seed} try ${index}: ${file}, ${what}; lumbrik ${args.join(' ')}: ${wrong ?? touched}`);
        if (typeof report === 'string') continue;
        const code = report.ended[0]?.code ?? -1;
        codes.set(code, (codes.get(code) ?? 0) + 1);
        most = Math.max(most, report.megabytes);
      }
      tried.end();
      removeScene(copy);
    };
    await Promise.all([lane(1), lane(2)]);
    console.log(
      `${tries} mutations, seed ${seed}: exit codes ${JSON.stringify([...codes].sort())}, ${Math.round(most)} MB at most`,
    );
    expect(failures).toEqual([]);
    // The tries are no good where hardly any of them met something.
    expect(codes.get(0) ?? 0).toBeGreaterThan(tries / 20);
    expect((codes.get(1) ?? 0) + (codes.get(2) ?? 0) + (codes.get(3) ?? 0)).toBeGreaterThan(tries / 10);
  },
  hours,
);
