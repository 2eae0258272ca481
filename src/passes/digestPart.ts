import type { Item } from '../stores/store.ts';

/** A hash of one stored thing, readable or not: its place and its version. */
export const digestLine = ({ place, version }: Item): string => `${place.file}\0${place.offset ?? ''}\0${version}\n`;

/** Gathers one hash of everything in a part of a store. */
export class DigestPart {
  #lines = '';

  see(item: Item): undefined {
    this.#lines += digestLine(item);
  }

  unreadable(item: Item): void {
    this.see(item);
  }

  done(): { readonly made: string } {
    return { made: this.#lines };
  }
}
