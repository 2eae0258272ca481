import { makeOwnFolder, ownFolder, ownNames, ownPath, readOwn, removeOwn } from '../ownFolder.ts';
import { Memory } from './memory.ts';
import { writeUnflushed } from './writeUnflushed.ts';

const folder = `${ownFolder}/memory`;

/** What is remembered of a workspace: in its own folder. */
export function memoryOf(root: string): Memory {
  return new Memory({
    read: (file) => {
      const read = readOwn(root, `${folder}/${file}`);
      return read && 'value' in read ? read.value : undefined;
    },
    write: (file, content) => {
      makeOwnFolder(root);
      writeUnflushed(ownPath(root, `${folder}/${file}`), content);
    },
    names: (space) => ownNames(root, space === '' ? folder : `${folder}/${space}`),
    remove: (place) => removeOwn(root, `${folder}/${place}`),
  });
}
