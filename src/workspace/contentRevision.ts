import path from 'node:path';
import { isObject, ownValue } from '../core/plain/json.ts';
import { usualLimits } from '../core/plain/limits.ts';
import { readYaml } from '../core/source/yaml.ts';
import { readTextIfThere } from './files.ts';
import { Trouble } from './trouble.ts';

/** Which model the entries obey, kept with them: two copies of the content can be at different revisions. */
export const contentRevisionFile = 'content/revision.yaml';

/** The hash of the model that the entries obey; `undefined` as long as nothing was recorded. @throws {Trouble} */
export function readContentRevision(root: string): string | undefined {
  const text = readTextIfThere(path.join(root, contentRevisionFile), contentRevisionFile);
  if (text === undefined) return undefined;

  const reading = readYaml(text, usualLimits);
  const data = 'value' in reading ? reading.value.data : null;
  const model = isObject(data) ? ownValue(data, 'model') : undefined;
  if (typeof model === 'string' && /^[0-9a-f]{64}$/u.test(model)) return model;
  throw new Trouble('unusable-standing', `${contentRevisionFile} does not say which model the entries obey`, {
    mend: 'Bring the file back from version control: it is written by lumbrik alone.',
    where: { file: contentRevisionFile },
  });
}

/** The text that says which model the entries obey. */
export const contentRevisionText = (modelHash: string): string =>
  `# Which recorded model the entries in this folder obey. Written by lumbrik; keep it with the entries.\nmodel: "${modelHash}"\n`;
