#!/usr/bin/env node
// Bundles src/ into dist/: one small file that starts fast, and a chunk for each thing that is loaded later.
import { createHash } from 'node:crypto';
import { chmodSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import { build } from 'rolldown';
import { noticesOf } from './notices.mjs';

/** Which lines ran is told by places in what is built: it is built as it is written then (scripts/coverage.mjs). */
const isForCoverage = process.env.NODE_V8_COVERAGE !== undefined;

/** Every module that is in what was built. */
const bundled = new Set();

/** Puts a script for browsers into the build as a text: bundled on its own, as `./page.ts?script`. */
const scripts = {
  name: 'scripts',
  load: {
    filter: { id: /\?script$/ },
    async handler(id) {
      const { output } = await build({
        input: id.replace('?script', ''),
        platform: 'browser',
        transform: { target: 'es2022' },
        output: { format: 'iife', minify: true },
        write: false,
      });
      for (const module of output[0].moduleIds) bundled.add(module);
      return `export default ${JSON.stringify(output[0].code.trim())}`;
    },
  },
};

/** Has packages measure texts as we do: three versions of one package are none, until a text asks for its tables. */
const widths = {
  name: 'widths',
  resolveId: {
    filter: { id: /^string-width$/ },
    // What is required, not imported, wants the function itself and not a module that has it.
    handler: (_id, _importer, { kind }) => (kind === 'require-call' ? null : resolve('src/view/width.ts')),
  },
};

/** What stands for the sources that a build is made from: with it, what one build remembers is none of another's business. */
function sourceHash() {
  const hash = createHash('sha256');
  for (const file of readdirSync('src', { recursive: true, encoding: 'utf8' }).sort())
    if (/\.(?:tsx?|css)$/u.test(file)) hash.update(file).update(readFileSync(`src/${file}`));
  return hash
    .update(readFileSync('package-lock.json'))
    .update(readFileSync('scripts/build.mjs'))
    .digest('hex')
    .slice(0, 16);
}

rmSync('dist', { recursive: true, force: true });
const { output } = await build({
  input: { start: 'src/start.ts', program: 'src/program.ts', thread: 'src/thread.ts', schemas: 'src/schemas.ts' },
  platform: 'node',
  logLevel: 'warn',
  // A package that is there both ways is taken as modules, which can be bundled.
  resolve: { mainFields: ['module', 'main'] },
  // One of a package is an empty text; and one asks where it lies, for settings that are not read here.
  checks: { moduleLevelDirective: false, emptyImportMeta: false },
  plugins: [scripts, widths],
  moduleTypes: { '.css': 'text' },
  transform: {
    target: 'node20',
    define: { 'process.env.LUMBRIK_BUILD': JSON.stringify(sourceHash()) },
  },
  output: {
    dir: 'dist',
    // What is compiled of these can be kept between calls (src/compileCache.ts); of ES modules Node lets nobody do that.
    format: 'cjs',
    minify: !isForCoverage,
    // Read only where somebody asks with --debug for what our own names and lines are.
    sourcemap: true,
    ...(isForCoverage && { sourcemapPathTransform: (source, map) => resolve(dirname(map), source) }),
    chunkFileNames: 'chunks/[name]-[hash].js',
    cleanDir: true,
  },
});
for (const chunk of output) for (const module of chunk.moduleIds ?? []) bundled.add(module);
writeFileSync('dist/NOTICES.txt', noticesOf(bundled));
// The file that is called first says which Node is needed, also to one that reads no newer syntax.
await build({
  input: 'src/cli.ts',
  platform: 'node',
  plugins: [
    {
      name: 'start',
      resolveId: { filter: { id: /start\.ts$/ }, handler: () => ({ id: './start.js', external: true }) },
    },
  ],
  transform: { target: 'es2015' },
  output: { file: 'dist/cli.js', format: 'cjs', minify: !isForCoverage },
});
chmodSync('dist/cli.js', 0o755);
writeFileSync('dist/package.json', '{ "type": "commonjs" }\n');

// The schemas of results are published as files.
const { schemas } = await import('../dist/schemas.js');
mkdirSync('dist/schemas');
for (const [name, schema] of Object.entries(schemas))
  writeFileSync(`dist/schemas/${name}.json`, `${JSON.stringify(schema, undefined, 2)}\n`);
rmSync('dist/schemas.js');
