import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, onTestFinished, test } from 'vitest';
import { hasBrowser } from './support/browser.ts';
import { git } from './support/git.ts';
import {
  coast,
  edit,
  lumbrik,
  plainEnv,
  program,
  type Ran,
  read,
  result,
  snapshot,
  started,
  temporary,
  workspace,
} from './support/program.ts';

const model = {
  'model/types/note.yaml': 'type: note\nfields:\n  name: { kind: text }\n',
  'content/note/a.yaml': 'name: A\n',
};

describe('line ends that version control makes its own [M2]', () => {
  test('a workspace that git gives out with two characters at each line end works as before', async () => {
    const folder = workspace(model);
    const call = async (...args: readonly string[]) => {
      const ran = await lumbrik(folder, args);
      expect([args, ran.code, ran.err]).toEqual([args, 0, '']);
    };
    await call('seal', '-m', 'one');
    edit(folder, 'model/types/note.yaml', 'name: { kind: text }', 'title: { kind: text }');
    await call('migration', 'draft', '--renamed', 'note.name=title');
    await call('migration', 'rehearse', '1');
    await call('migration', 'run', '1');
    await call('seal', '-m', 'two');
    await call('schemas');
    await call('export', 'typescript', '--out', 'content.ts');
    await call('check', '--baseline');
    git(folder, 'init', '-q');
    git(folder, 'add', '-A');
    git(folder, 'commit', '-qm', 'all');

    const other = temporary();
    git(other, '-c', 'core.autocrlf=true', 'clone', '-q', folder, 'clone');
    const clone = path.join(other, 'clone');
    for (const file of ['revisions/0001.json', 'content.ts', 'model/types/note.yaml', 'schemas/entries/note.json'])
      expect([file, read(clone, file)]).toEqual([file, expect.stringContaining('\r\n')]);

    const { revisions } = await result(clone, ['history']);
    expect(revisions).toMatchObject([{ sound: true }, { sound: true }]);
    expect(await result(clone, ['diff'])).toMatchObject({ changes: [] });
    expect(await result(clone, ['check'])).toMatchObject({ findings: [] });
    for (const args of [
      ['schemas', '--check'],
      ['export', 'typescript', '--out', 'content.ts', '--check'],
    ])
      expect([args, (await lumbrik(clone, args)).code]).toEqual([args, 0]);
    edit(clone, 'model/types/note.yaml', 'title: { kind: text }', 'title: { kind: text, max: 20 }');
    expect((await lumbrik(clone, ['seal', '-m', 'three'])).code).toBe(0);
    expect(read(clone, 'revisions/0003.json').endsWith('}\n')).toBe(true);
  });

  test('any other byte of a revision that is another one is told all the same', async () => {
    const folder = workspace(model);
    await lumbrik(folder, ['seal', '-m', 'one']);
    const whole = read(folder, 'revisions/0001.json');
    for (const altered of [
      whole.trimEnd(),
      `${whole}\n`,
      `${whole.trimEnd()}\r`,
      whole.replace('note', 'node'),
      ` ${whole}`,
    ]) {
      fs.writeFileSync(path.join(folder, 'revisions/0001.json'), altered);
      expect((await lumbrik(folder, ['diff'])).err).toContain('0001.json was altered');
    }
  });
});

describe("a home that is none, or no place for what is one person's own [M2]", () => {
  const fields = 'fields:\n  name: { kind: text }\n';
  /** A workspace with a migration that waits for its rehearsal, and how it is called with a home. */
  const waiting = async (home: string) => {
    const folder = workspace(model);
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/note.yaml', fields, 'fields:\n  title: { kind: text }\n');
    await lumbrik(folder, ['migration', 'draft', '--renamed', 'note.name=title']);
    const env = { HOME: home, XDG_STATE_HOME: '', XDG_CACHE_HOME: 'cache' };
    return { folder, call: (...args: readonly string[]) => started(folder, args, { env }) };
  };
  const inRepository = (): string => {
    const folder = temporary();
    git(folder, 'init', '-q');
    return path.join(folder, 'home');
  };

  test.each([
    ['empty', () => '', 'HOME names no folder by its whole path'],
    ['relative', () => 'home', 'HOME names no folder by its whole path'],
    ['in a repository', inRepository, 'is a repository'],
    ['that cannot be made', () => '/proc/none', 'cannot be written to'],
  ])(
    '%s: nothing is kept, a rehearsal says what that means, and the run can be taken back',
    async (_what, home, why) => {
      const { folder, call } = await waiting(home());
      const before = fs.readdirSync(folder).sort();
      const oneLine = (text: string): string => text.replace(/\s+/gu, ' ');
      for (const args of [
        ['rehearse', '1'],
        ['run', '1'],
      ]) {
        const { code, out } = call('migration', ...args);
        expect([code, oneLine(out)]).toEqual([0, expect.stringContaining('ask for --from-elsewhere')]);
        expect(oneLine(out)).toContain(why);
      }
      const refused = call('migration', 'undo');
      expect([refused.code, oneLine(refused.err)]).toEqual([3, expect.stringContaining(why)]);
      expect(call('migration', 'undo', '--from-elsewhere').code).toBe(0);
      expect(read(folder, 'content/note/a.yaml')).toBe('name: A\n');
      expect(fs.readdirSync(folder).sort()).toEqual(before);
    },
  );

  test.runIf(process.getuid?.() === 0)(
    'an account that the system does not know, and that has none, checks all the same',
    () => {
      const folder = workspace(model);
      fs.chmodSync(folder, 0o755);
      const env = { XDG_STATE_HOME: '', XDG_CACHE_HOME: '' };
      for (const args of [['--version'], ['check']])
        expect([args, started(folder, args, { uid: 54_321, env })]).toMatchObject([args, { code: 0, err: '' }]);
    },
  );

  test('as it should be: nothing is said of it', async () => {
    const { call } = await waiting(temporary());
    expect(call('migration', 'rehearse', '1').out).not.toContain('--from-elsewhere');
    expect(call('migration', 'run', '1').out).not.toContain('--from-elsewhere');
    expect(call('migration', 'undo').code).toBe(0);
  });
});

describe('what would stop a run is found before it begins [H4, M2]', () => {
  /** A workspace with a migration of three entries that was rehearsed. */
  const rehearsed = async (): Promise<string> => {
    const folder = workspace({ ...model, 'content/note/b.yaml': 'name: B\n', 'content/note/c.yaml': 'name: C\n' });
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/note.yaml', 'name: { kind: text }', 'title: { kind: text }');
    await lumbrik(folder, ['migration', 'draft', '--renamed', 'note.name=title']);
    expect((await lumbrik(folder, ['migration', 'rehearse'])).code).toBe(0);
    return folder;
  };
  /** As it is refused: by the rehearsal, by the run, and with nothing changed that a check or a further run would meet. */
  const refusedBy = async (
    folder: string,
    call: (...args: readonly string[]) => Promise<Ran> | Ran,
    says: string,
  ): Promise<void> => {
    const before = snapshot(folder);
    const rehearsal = await call('migration', 'rehearse', '--format', 'json');
    expect([rehearsal.code, JSON.parse(rehearsal.out).hindered.says]).toEqual([1, expect.stringContaining(says)]);
    expect((await call('migration', 'rehearse')).out).toContain('A run would be refused');
    const run = await call('migration', 'run', '--format', 'json');
    expect([run.code === 0, JSON.parse(run.out).error.says]).toEqual([false, expect.stringContaining(says)]);
    expect(snapshot(folder)).toEqual(before);
    const checked = await call('check', '--format', 'json');
    expect([checked.code, JSON.parse(checked.out).standing.state]).toEqual([1, 'behind']);
  };

  test('a folder that may not be written to; of an undo too', async () => {
    const folder = await rehearsed();
    const isRoot = process.getuid?.() === 0;
    const nobody = 65534;
    if (isRoot) spawnSync('chown', ['-R', String(nobody), folder]);
    const asNobody = isRoot ? { uid: nobody } : {};
    const call = (...args: readonly string[]) => started(folder, args, asNobody);
    const notes = path.join(folder, 'content/note');
    fs.chmodSync(notes, 0o555);
    await refusedBy(folder, call, 'content/note may not be');
    fs.chmodSync(notes, 0o755);
    expect(call('migration', 'run').code).toBe(0);
    fs.chmodSync(notes, 0o555);
    expect(call('migration', 'undo', '--from-elsewhere').err).toContain('content/note may not be');
    fs.chmodSync(path.join(folder, 'model/types'), 0o555);
    expect(call('rename', 'note.title', 'heading').err).toContain('model/types may not be');
    for (const place of [notes, path.join(folder, 'model/types')]) fs.chmodSync(place, 0o755);
    expect(call('migration', 'undo', '--from-elsewhere').code).toBe(0);
    expect(read(folder, 'content/note/a.yaml')).toBe('name: A\n');
  });

  test('a disk with too little space', async () => {
    const folder = await rehearsed();
    const { statfsSync } = fs;
    fs.statfsSync = ((place: string) => ({ ...statfsSync(place), bavail: 1, bsize: 16 })) as typeof statfsSync;
    onTestFinished(() => void Object.assign(fs, { statfsSync }));
    await refusedBy(folder, (...args) => lumbrik(folder, args), 'the disk has 16 B free');
  });

  test('a file whose name leaves no room for the one that it has on its way', async () => {
    const folder = await rehearsed();
    fs.renameSync(path.join(folder, 'content/note/c.yaml'), path.join(folder, `content/note/${'c'.repeat(245)}.yaml`));
    await refusedBy(folder, (...args) => lumbrik(folder, args), 'takes no name as long');
  });

  test('what fails in the middle all the same is taken back at once', async () => {
    const folder = await rehearsed();
    const before = snapshot(folder);
    const { renameSync } = fs;
    let left = 2;
    fs.renameSync = (from, to) => {
      if (String(to).includes('content/note') && left-- === 0)
        throw Object.assign(new Error('EACCES: permission denied'), { code: 'EACCES' });
      renameSync(from, to);
    };
    onTestFinished(() => void Object.assign(fs, { renameSync }));
    const { code, err } = await lumbrik(folder, ['migration', 'run']);
    expect([code, err]).toEqual([2, expect.stringContaining('may not be read or written')]);
    expect(snapshot(folder)).toEqual(before);
    expect((await result(folder, ['check'])).standing).toMatchObject({ state: 'behind', revision: 1 });
    expect((await lumbrik(folder, ['migration', 'run'])).code).toBe(0);
    expect(read(folder, 'content/note/c.yaml')).toBe('title: C\n');
  });
});

describe('where output goes [I4, M2]', () => {
  const wrong = { ...model, 'content/note/a.yaml': 'nam: A\n', 'content/note/b.yaml': 'name: [B]\n' };
  const inShell = (folder: string, line: string) => {
    const { status, stderr } = spawnSync('bash', ['--norc', '-c', `set -o pipefail; ${line}`], {
      cwd: folder,
      encoding: 'utf8',
      env: { ...plainEnv, LUMBRIK: `${process.execPath} ${program}` },
    });
    return { code: status, err: stderr };
  };

  test('a full disk is told, and is no fault of ours', () => {
    const folder = workspace(model);
    for (const call of ['check --format json', 'show', '--version'])
      expect([call, inShell(folder, `$LUMBRIK ${call} > /dev/full`)]).toEqual([
        call,
        {
          code: 2,
          err: '✗ The output could not be written: the disk is full\n  Send it somewhere else, then try again.\n',
        },
      ]);
    expect(inShell(folder, '$LUMBRIK check > /dev/full 2> /dev/full').code).toBe(2);
  });

  test('what was found decides, whoever went on to listen', () => {
    const [folder, fine] = [workspace(wrong), workspace(model)];
    for (const call of ['check', 'check --format json'])
      expect([call, inShell(folder, `$LUMBRIK ${call} | true`).code]).toEqual([call, 1]);
    expect(inShell(fine, '$LUMBRIK check --format json | true').code).toBe(0);
    expect(inShell(fine, '$LUMBRIK check nowhere | true').code).toBe(2);
    expect(inShell(workspace(wrong), '$LUMBRIK check 2> /dev/full > /dev/null').code).toBe(1);
  });
});

test('an older Node is told which one is needed', () => {
  const version = path.join(temporary(), 'older.cjs');
  fs.writeFileSync(version, "Object.defineProperty(process.versions, 'node', { value: '12.22.12' });\n");
  const { code, out, err } = started(temporary(), ['check'], { node: ['--require', version] });
  expect([code, out]).toEqual([2, '']);
  expect(err).toBe(
    '✗ Lumbrik needs Node.js 20.19 or newer, and this is 12.22.12\n  Install a newer one, then try again.\n',
  );
  // What came into the language after such an old one is not in the file that it reads.
  expect(fs.readFileSync(program, 'utf8')).not.toMatch(/\?\.|\?\?|\bimport\b|\basync\b/u);
});

describe('names that no system takes, or that are no text [M2]', () => {
  /** The program in a folder whose name is bytes, called with words that are bytes. */
  const inBytes = (folder: Buffer, ...words: readonly Buffer[]) => {
    const hex = (text: Buffer): string => [...text].map((byte) => `\\x${byte.toString(16).padStart(2, '0')}`).join('');
    const line = [Buffer.from(process.execPath), Buffer.from(program), ...words]
      .map((one) => `$'${hex(one)}'`)
      .join(' ');
    const { status, stdout, stderr } = spawnSync('bash', ['--norc', '-c', `cd $'${hex(folder)}' && ${line}`], {
      encoding: 'utf8',
      env: plainEnv,
    });
    return { code: status, out: stdout, err: stderr };
  };
  const bytes = (text: string): Buffer => Buffer.from(text, 'latin1');

  test('a folder, and a word of the call, that is no UTF-8 is refused, and nothing is written beside it', () => {
    const folder = temporary();
    const strange = Buffer.concat([Buffer.from(`${folder}/caf`), Buffer.from([0xe9])]);
    fs.mkdirSync(strange);
    const before = fs.readdirSync(folder, 'buffer').map(String);
    for (const ran of [
      inBytes(strange, bytes('new'), bytes('w')),
      inBytes(Buffer.from(folder), bytes('new'), bytes('caf\xe9/w')),
      inBytes(Buffer.from(folder), bytes('check'), bytes('--workspace'), bytes('caf\xe9')),
    ])
      expect([ran.code, ran.err]).toEqual([2, expect.stringContaining('is not UTF-8')]);
    expect(fs.readdirSync(folder, 'buffer').map(String)).toEqual(before);
    expect(fs.readdirSync(strange)).toEqual([]);
  });

  test('entries in a file or a folder whose name is no UTF-8 are not passed over', async () => {
    const folder = workspace(model);
    const inside = (name: string): Buffer => Buffer.concat([Buffer.from(`${folder}/content/note/`), bytes(name)]);
    fs.writeFileSync(inside('caf\xe9.yaml'), 'name: B\n');
    fs.mkdirSync(inside('th\xe9'));
    fs.writeFileSync(inside('th\xe9/c.yaml'), 'name: C\n');
    const { findings, code } = await result(folder, ['check']);
    expect([code, findings.map(({ says }: any) => says)]).toEqual([1, Array(2).fill('has a name that is not UTF-8')]);
  });

  test.each([3900, 4000, 4060, 4094])(
    'a folder of %i characters becomes a workspace whole, or not at all',
    async (length) => {
      let folder = temporary();
      const root = folder;
      while (folder.length + 201 < length) folder += `/${'d'.repeat(200)}`;
      folder += `/${'e'.repeat(length - folder.length - 1)}`;
      const { code, err } = await lumbrik(temporary(), ['new', folder, '--starter', 'lighthouses']);
      if (code === 0) expect((await lumbrik(folder, ['check'])).code).toBe(0);
      else {
        expect([code, err]).toEqual([2, expect.stringContaining('no name as long')]);
        expect(fs.readdirSync(root)).toEqual([]);
      }
    },
  );

  test.each(['NFC', 'NFD'] as const)('an address in the other normal form than %s names the same', async (form) => {
    const other = form === 'NFC' ? 'NFD' : 'NFC';
    const [here, typed] = ['café'.normalize(form), 'café'.normalize(other)];
    const folder = workspace({
      'model/types/note.yaml': 'type: note\nfields:\n  name: { kind: text }\n  at: { kind: term, taxonomy: place }\n',
      'model/taxonomies/place.yaml': `taxonomy: place\nterms: [{ term: ${here} }]\n`,
      'lumbrik.yaml': 'workspace: W\nlanguages: [en]\ncontent: [{ lines: content/notes.ndjson, type: note }]\n',
      'content/notes.ndjson': `${JSON.stringify({ id: here, name: 'A', at: here })}\n`,
    });
    for (const args of [
      ['show', `note/${typed}`],
      ['trace', `note/${typed}`],
      ['list', `place:${typed}`],
      ['terms', `place:${typed}`],
      ['show', `place:${typed}`],
      ['try', 'entry.name', `note/${typed}`],
    ])
      expect([args, (await lumbrik(folder, args)).code]).toEqual([args, 0]);
    expect(await result(folder, ['check', `note/${typed}`])).toMatchObject({ entries: 1 });
    expect((await lumbrik(folder, ['show', 'note/cafe'])).code).toBe(2);
  });
});

describe('where temporary files belong [M2]', () => {
  const inTemporary = (TMPDIR: string, args: readonly string[]) => started(coast(), args, { env: { TMPDIR } });

  test('a folder that is not there is told', () => {
    expect(inTemporary('/nowhere/at/all', ['map', '--format', 'png'])).toMatchObject({
      code: 2,
      err: expect.stringContaining('Say another one in TMPDIR'),
    });
    expect(inTemporary('/nowhere/at/all', ['check']).code).toBe(0);
  });

  test.runIf(hasBrowser)('a folder with signs that mean something in addresses is as good as any', () => {
    const folder = path.join(temporary(), 'a#b?c%20');
    fs.mkdirSync(folder);
    const workspaceFolder = coast();
    const [usual, strange] = [temporary(), folder].map((TMPDIR) =>
      spawnSync(process.execPath, [program, 'map', '--format', 'png'], {
        cwd: workspaceFolder,
        env: { ...plainEnv, TMPDIR },
        maxBuffer: 1 << 28,
      }),
    );
    expect([usual?.status, strange?.status]).toEqual([0, 0]);
    expect(strange?.stdout.length).toBeGreaterThan(100_000);
    // Two pictures of one page may differ in a few bytes, in their width and height they do not.
    const sizeOf = (picture: Buffer = Buffer.alloc(0)): Buffer => picture.subarray(16, 24);
    expect(sizeOf(strange?.stdout)).toEqual(sizeOf(usual?.stdout));
    const share = (strange?.stdout.length ?? 0) / (usual?.stdout.length ?? 0);
    expect(Math.abs(share - 1)).toBeLessThan(0.05);
  });
});

test('what is told is the same in every time zone', async () => {
  const folder = workspace({
    'model/types/note.yaml':
      'type: note\nfields:\n  name: { kind: text }\n  at: { kind: dateTime, offset: optional, min: "2026-03-01T00:00:00Z" }\n  r: { kind: reference, to: note }\n',
    // The first has a moment that says no zone: what is wrong with it is told, and nothing follows from it.
    'content/note/a.yaml': 'name: A\nat: 2026-02-28T23:30:00\npublicFrom: 2026-03-01T00:30:00\n',
    'content/note/b.yaml': 'name: B\nr: a\n',
    'content/note/c.yaml': 'name: C\npublicUntil: 2026-03-01\n',
    'content/note/d.yaml': 'name: D\npublicFrom: 2026-03-01T00:30:00+14:00\n',
  });
  const { TZ } = process.env;
  onTestFinished(() => {
    if (TZ === undefined) delete process.env.TZ;
    else process.env.TZ = TZ;
  });
  for (const call of [
    'check',
    'list note',
    'export entries --as ndjson --public',
    'trace note/b --publishing',
    'profile note',
  ]) {
    const inZone = (zone: string) => {
      process.env.TZ = zone;
      return lumbrik(folder, call.split(' '));
    };
    const here = await inZone('UTC');
    expect(here.err).toBe('');
    for (const zone of ['America/Los_Angeles', 'Asia/Tokyo', 'Pacific/Kiritimati'])
      expect(await inZone(zone)).toEqual(here);
    expect(new Date(0).getTimezoneOffset()).not.toBe(0);
    if (call.startsWith('export')) expect(here.out.match(/"id":"."/gu)).toEqual(['"id":"b"', '"id":"d"']);
  }
});

describe('a whole change of the model, there and back, wherever it is made [H5, M2]', () => {
  const steps = [
    'new coast --starter lighthouses',
    'seal -m one',
    'rename lighthouse.range reach',
    'migration draft',
    'migration rehearse',
    'migration run',
    'migration undo',
    'rename lighthouse.reach range',
  ];
  const played = (before: string, env: Readonly<Record<string, string>> = {}) => {
    const folder = temporary();
    const lines = steps.map((step, index) => `$LUMBRIK ${step}${index === 0 ? ' && cd coast' : ''}`);
    const { status, stdout, stderr } = spawnSync('bash', ['--norc', '-c', `set -e; ${before}; ${lines.join('; ')}`], {
      cwd: folder,
      encoding: 'utf8',
      env: { ...plainEnv, LUMBRIK: `${process.execPath} ${program}`, ...env },
    });
    const said = stderr.replace(/^bash: warning: setlocale.*\n/gmu, '');
    return { ran: { status, stdout, stderr: said }, files: snapshot(path.join(folder, 'coast')), folder };
  };

  test('under every mask of rights, in every language of the system, with and without colours', () => {
    const usual = played('true');
    expect([usual.ran.status, usual.ran.stderr]).toEqual([0, '']);
    const others = { LC_ALL: 'tr_TR.UTF-8', TERM: 'dumb', CI: 'true' };
    const { ran, files, folder } = played('umask 077; ulimit -n 64; exec < /dev/null', others);
    expect(ran).toEqual(usual.ran);
    expect(files).toEqual(usual.files);
    expect(fs.statSync(path.join(folder, 'coast/content/revision.yaml')).mode & 0o077).toBe(0);
    // Where the language of the system has none but the letters of ASCII, others stand for the rest.
    const plain = started(path.join(folder, 'coast'), ['check'], { env: { LC_ALL: 'C', LANG: '' } });
    expect([plain.code, /[✓→›]/u.test(plain.out)]).toEqual([0, false]);
  });
});
