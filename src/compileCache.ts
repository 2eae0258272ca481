import { createHash } from 'node:crypto';
import fs from 'node:fs';
import Module, { createRequire } from 'node:module';
import path from 'node:path';
import { cachedDataVersionTag } from 'node:v8';
import { Script } from 'node:vm';
import { isMainThread } from 'node:worker_threads';
import { build } from './workspace/build.ts';
import { isRunning } from './workspace/isRunning.ts';
import { Memory } from './workspace/memory/memory.ts';
import { writeUnflushed } from './workspace/memory/writeUnflushed.ts';
import { ownPlace } from './workspace/ownPlace.ts';

/**
 * Compiling our own modules takes a third of a short call. What V8 made of them is kept between calls, in the folder for
 * what programs can make anew (XDG Base Directory Specification), apart for each build and each engine. It is code: the memory
 * recalls it only with our mark, and every other module is compiled as ever. An engine that crashes on it crashes once:
 * each process marks the folder until it ends, and a mark without its process has the folder deleted.
 */

/** So many builds are remembered; what older ones left is deleted. */
const buildsKept = 4;

/** Node's own way to compile a module; it is there by this name since its first versions, and types leave it out. */
interface Compiler {
  _compile: (this: NodeJS.Module, content: string, file: string) => unknown;
}

/**
 * Has the modules below a folder taken from earlier compiled code.
 *
 * @returns what keeps those that were compiled anew, to be called once most of the work is done
 */
export function recallCompiled(modules: string): () => void {
  const folder = folderOfBuild();
  // Which lines ran is reported only of modules that Node compiles itself.
  if (folder === undefined || process.env.NODE_V8_COVERAGE) return nothing;

  // Later versions of Node do all of this themselves.
  const { enableCompileCache } = Module as { enableCompileCache?: (folder: string) => unknown };
  if (enableCompileCache) {
    enableCompileCache(folder);
    return nothing;
  }

  const use = isMainThread ? beginUse(folder) : nothing;
  if (!use) return nothing;

  const [memory, space] = [memoryOf(folder), path.basename(folder)];
  const { prototype } = Module as unknown as { prototype: Compiler };
  const compile = prototype._compile;
  const scripts = new Map<string, Script>();
  let isAllKnown = true;

  prototype._compile = function (content, file) {
    if (!file.startsWith(modules)) return compile.call(this, content, file);

    const cachedData = memory.recall(space, path.basename(file));
    const script = new Script(Module.wrap(content), { filename: file, ...(cachedData && { cachedData }) });
    if (!cachedData || script.cachedDataRejected) isAllKnown = false;
    scripts.set(path.basename(file), script);
    return script
      .runInThisContext()
      .call(this.exports, this.exports, createRequire(file), this, file, path.dirname(file));
  };

  return () => {
    use();
    // The functions that a call did not need are not compiled yet: another selection of modules is another call.
    const call = hashOf([...scripts.keys()].sort().join());
    if (!isAllKnown || !memory.recall(space, call)) keep(folder, call, scripts);
  };
}

const nothing = () => undefined;

/** The folder of compiled modules of this build; `undefined` where the build is unknown, or no folder may be kept. */
function folderOfBuild(): string | undefined {
  try {
    const place = ownPlace('cache');
    if (build && 'folder' in place) return path.join(place.folder, `${build}-${engine()}`);
    return undefined;
  } catch {
    return undefined;
  }
}

/** A name for the engine that runs. V8 gives two versions of Node one tag, though neither can run the other's code. */
function engine(): string {
  const { size, mtimeMs } = fs.statSync(process.execPath);
  const { version, platform, arch } = process;
  return hashOf([version, platform, arch, size, mtimeMs, cachedDataVersionTag()].join()).slice(0, 16);
}

const inUse = 'in-use-';

/**
 * Marks the folder of compiled modules as used by this process. Deletes the folder where a process ended and left its mark.
 * @returns a function that removes the mark; nothing where no mark can be written, and the folder must not be used.
 */
function beginUse(folder: string): (() => void) | undefined {
  try {
    if (!fs.existsSync(folder)) return nothing;

    const users = fs.readdirSync(folder).filter((name) => name.startsWith(inUse));
    if (users.some((name) => !isRunning(Number(name.slice(inUse.length))))) {
      fs.rmSync(folder, { recursive: true, force: true });
      return nothing;
    }

    const mark = path.join(folder, `${inUse}${process.pid}`);
    fs.writeFileSync(mark, '');
    return () => fs.rmSync(mark, { force: true });
  } catch {
    return undefined;
  }
}

/** Keeps compiled code now, and that this call was seen. Where nothing can be kept, the next call compiles anew. */
function keep(folder: string, call: string, scripts: ReadonlyMap<string, Script>): void {
  const [memory, space] = [memoryOf(folder), path.basename(folder)];
  const isNew = !fs.existsSync(folder);
  for (const [name, script] of scripts) if (!memory.keep(space, name, script.createCachedData())) return;
  memory.keep(space, call, Buffer.alloc(0));
  if (isNew) dropOlder(path.dirname(folder));
}

/** The compiled modules of all builds, each build in a space to itself; only their owner can read them. */
const memoryOf = (folder: string): Memory => {
  const root = path.dirname(folder);
  return new Memory({
    read: (file) => fs.readFileSync(path.join(root, file)),
    write: (file, content) => writeUnflushed(path.join(root, file), content, { folder: 0o700, file: 0o600 }),
    names: (space) => fs.readdirSync(path.join(root, space)),
    remove: (place) => fs.rmSync(path.join(root, place), { recursive: true, force: true }),
  });
};

const hashOf = (text: string): string => createHash('sha256').update(text).digest('hex');

function dropOlder(folder: string): void {
  try {
    const builds = fs
      .readdirSync(folder)
      .map((name) => path.join(folder, name))
      .sort((a, other) => fs.statSync(other).mtimeMs - fs.statSync(a).mtimeMs);
    for (const old of builds.slice(buildsKept)) fs.rmSync(old, { recursive: true, force: true });
  } catch {
    // Another process drops them at this moment.
  }
}
