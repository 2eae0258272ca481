#!/usr/bin/env node
// Built so that an older Node can read this file too. The program is loaded once the version is known.
const [major = 0, minor = 0] = process.versions.node.split('.').map(Number);

if (major > 20 || (major === 20 && minor >= 19)) require('./start.ts');
else {
  process.stderr.write(
    `✗ Lumbrik needs Node.js 20.19 or newer, and this is ${process.versions.node}\n  Install a newer one, then try again.\n`,
  );
  process.exitCode = 2;
}
