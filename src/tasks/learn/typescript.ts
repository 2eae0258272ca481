import { createRequire } from 'node:module';
import path from 'node:path';
import type TS from 'typescript-6';
import type { Unsaid } from '../../core/learn/schemaModel.ts';
import type { JsonObject } from '../../core/plain/json.ts';
import { Trouble } from '../../workspace/trouble.ts';
import { type Compiler, TypeReader } from './typeReader.ts';

/** What types of TypeScript say, as a JSON Schema, and what that cannot say. */
export interface TypesRead {
  readonly schema: JsonObject;
  readonly unsaid: readonly Unsaid[];
}

/**
 * Reads the types that a file of TypeScript exports, through the compiler: what it says of them counts, not how they are
 * written. Nothing in the file is run, and no file but those beside it, below it and the compiler's own is read.
 * @throws {Trouble} where there is no compiler, or it cannot read the file.
 */
export function schemaOfTypes(file: string): TypesRead {
  const ts = compilerFor(file);
  const full = path.resolve(file);
  const options: TS.CompilerOptions = {
    strict: true,
    noEmit: true,
    skipLibCheck: true,
    target: ts.ScriptTarget.ESNext,
    module: ts.ModuleKind.ESNext,
    moduleResolution: ts.ModuleResolutionKind.Bundler,
    allowImportingTsExtensions: true,
    types: [],
  };
  const program = ts.createProgram([full], options, within(ts, path.dirname(full), options));
  const source = program.getSourceFile(full);
  if (!source) throw new Trouble('not-found', `there is no file ${file}`, { mend: 'Look at how it is written.' });

  const [wrong] = program.getSyntacticDiagnostics(source);
  if (wrong) {
    const { line, character } = source.getLineAndCharacterOfPosition(wrong.start ?? 0);
    throw new Trouble('unreadable', `${file} cannot be read: ${sayDiagnostic(ts, wrong)}`, {
      mend: 'Mend it there.',
      where: { file, line: line + 1, column: character + 1 },
    });
  }

  const reader = new TypeReader(ts, program);
  const schema = reader.read(source);
  const unsure = program.getSemanticDiagnostics(source).map((diagnostic) => {
    const { line } = source.getLineAndCharacterOfPosition(diagnostic.start ?? 0);
    return { at: `line ${line + 1}`, says: `is not understood by the compiler: ${sayDiagnostic(ts, diagnostic)}` };
  });

  return { schema, unsaid: [...unsure, ...reader.unsaid] };
}

const sayDiagnostic = (ts: Compiler, { messageText }: TS.Diagnostic): string =>
  ts.flattenDiagnosticMessageText(messageText, ' ').replace(/\.$/u, '');

/** The compiler that belongs to a file: beside it or above, else where the program was called. @throws {Trouble} */
function compilerFor(file: string): Compiler {
  const folders = [path.dirname(path.resolve(file)), process.cwd(), import.meta.dirname];
  for (const folder of folders) {
    try {
      const ts = createRequire(path.join(folder, 'here.js'))('typescript') as Partial<Compiler>;
      if (typeof ts.createProgram === 'function') return ts as Compiler;
    } catch {
      // There is none: the next place is looked at.
    }
  }

  throw new Trouble(
    'no-compiler',
    `${file} is read by the compiler of TypeScript, and there is none for programs here`,
    {
      mend: 'Install it beside the file: npm install --save-dev typescript@6 (version 7 has no interface for programs yet)',
    },
  );
}

/** The files that the compiler may read: those beside the one that is read, below it, and its own. */
function within(ts: Compiler, folder: string, options: TS.CompilerOptions): TS.CompilerHost {
  const host = ts.createCompilerHost(options);
  const libraryFolder = path.dirname(ts.getDefaultLibFilePath(options));

  const isBelow = (name: string, folderAbove: string): boolean => {
    const way = path.relative(folderAbove, name);
    return !way.startsWith('..') && !path.isAbsolute(way);
  };

  const isOpen = (name: string): boolean =>
    [folder, libraryFolder].some((allowed) => isBelow(path.resolve(name), allowed));

  return {
    ...host,
    fileExists: (name) => isOpen(name) && host.fileExists(name),
    readFile: (name) => (isOpen(name) ? host.readFile(name) : undefined),
    getSourceFile: (name, ...rest) => (isOpen(name) ? host.getSourceFile(name, ...rest) : undefined),
  };
}
