import { isName } from '../definition/address.ts';
import { isDeviceName } from '../definition/deviceNames.ts';

/**
 * The names of what a learnt model defines. Types, taxonomies and kits share them, and a file is called after each: so no
 * two differ by large and small letters alone, and none is the name of a device.
 */
export class DefinitionNames {
  readonly #taken = new Set<string>();

  isFree(name: string): boolean {
    return isName(name) && !isDeviceName(name) && !this.#taken.has(name.toLowerCase());
  }

  /** Takes a name. @returns whether it was free. */
  take(name: string): boolean {
    if (!this.isFree(name)) return false;
    this.#taken.add(name.toLowerCase());
    return true;
  }
}
