#!/usr/bin/env node
// Bundles src/cli.ts into dist/: one small file that starts fast, and a chunk for each thing that is loaded later.
import { chmodSync, mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { build } from 'rolldown';

rmSync('dist', { recursive: true, force: true });
await build({
  input: { cli: 'src/cli.ts', schemas: 'src/schemas.ts' },
  platform: 'node',
  logLevel: 'warn',
  transform: { target: 'node20' },
  output: {
    dir: 'dist',
    format: 'esm',
    minify: true,
    sourcemap: false,
    chunkFileNames: 'chunks/[name]-[hash].js',
    cleanDir: true,
  },
});
chmodSync('dist/cli.js', 0o755);

// The schemas of results are published as files.
const { schemas } = await import('../dist/schemas.js');
mkdirSync('dist/schemas');
for (const [name, schema] of Object.entries(schemas))
  writeFileSync(`dist/schemas/${name}.json`, `${JSON.stringify(schema, undefined, 2)}\n`);
rmSync('dist/schemas.js');
