#!/usr/bin/env node
// Bundles src/cli.ts into dist/: one small file that starts fast, and a chunk for each thing that is loaded later.
import { createHash } from 'node:crypto';
import { chmodSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import { build } from 'rolldown';

/** Which lines ran is told by places in what is built: it is built as it is written then (scripts/coverage.mjs). */
const isForCoverage = process.env.NODE_V8_COVERAGE !== undefined;

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
await build({
  input: { cli: 'src/cli.ts', program: 'src/program.ts', thread: 'src/thread.ts', schemas: 'src/schemas.ts' },
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
chmodSync('dist/cli.js', 0o755);
writeFileSync('dist/package.json', '{ "type": "commonjs" }\n');

// The schemas of results are published as files.
const { schemas } = await import('../dist/schemas.js');
mkdirSync('dist/schemas');
for (const [name, schema] of Object.entries(schemas))
  writeFileSync(`dist/schemas/${name}.json`, `${JSON.stringify(schema, undefined, 2)}\n`);
rmSync('dist/schemas.js');
