/** What the bench measures inside one process: bundled like the program itself. */
export { compile } from '../src/core/check/compile.ts';
export { usualFactKeys } from '../src/core/definition/builtIn.ts';
export { entrySchema } from '../src/core/export/entrySchema.ts';
export { link } from '../src/core/model/link.ts';
export { readModel } from '../src/core/model/read.ts';
export { usualLimits } from '../src/core/plain/limits.ts';
export { readYaml } from '../src/core/source/yaml.ts';
