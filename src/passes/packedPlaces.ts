import type { Overflow } from '../core/check/overflow.ts';
import { Numbering } from '../core/plain/columns.ts';
import type { Place, Shift } from '../stores/store.ts';

/** The places of entries in columns: plain data. */
export interface PackedPlaces {
  /** Stores with their files, which `file` numbers. */
  readonly files: readonly Pick<Place, 'store' | 'file'>[];
  readonly file: Int32Array;
  /** Where entries start in files that hold several, in bytes; less than nought where a file holds one. */
  readonly offset: Float64Array;
  /** The lines that they start in; nought where that is not known. */
  readonly line: Int32Array;
}

/** Puts places aside. @returns where an entry is, by its number. */
export function placesAside(places: PackedPlaces, overflow: Overflow): (index: number) => Place {
  const { files } = places;
  const [file, offset] = [overflow.numbers(places.file), overflow.numbers(places.offset)];
  const line = overflow.numbers(places.line);
  return (index) => {
    const where = files[file(index)] ?? { store: '', file: '' };
    const [start, number] = [offset(index), line(index)];
    return { ...where, ...(start < 0 ? {} : { offset: start }), ...(number > 0 ? { line: number } : {}) };
  };
}

/** The same places in a part of a file that moved. */
export const shiftedPlaces = (places: PackedPlaces, { offset, line }: Shift): PackedPlaces => {
  if (offset === 0 && line === 0) return places;
  return {
    ...places,
    offset: places.offset.map((start) => (start < 0 ? start : start + offset)),
    line: places.line.map((number) => (number > 0 ? number + line : number)),
  };
};

/** Gathers places into columns. */
export class PlacePacker {
  readonly #numbers = new Numbering();
  readonly #files: Pick<Place, 'store' | 'file'>[] = [];
  readonly #file: number[] = [];
  readonly #offset: number[] = [];
  readonly #line: number[] = [];
  #last: { readonly place: Place; readonly number: number } | undefined;

  add(place: Place): void {
    this.#file.push(this.#numberOf(place));
    this.#offset.push(place.offset ?? -1);
    this.#line.push(place.line ?? 0);
  }

  #numberOf(place: Place): number {
    const { store, file } = place;
    if (this.#last?.place.file === file && this.#last.place.store === store) return this.#last.number;
    const number = this.#numbers.numberOf(`${store}\n${file}`);
    if (number === this.#files.length) this.#files.push({ store, file });
    this.#last = { place, number };
    return number;
  }

  done(): PackedPlaces {
    return {
      files: this.#files,
      file: Int32Array.from(this.#file),
      offset: Float64Array.from(this.#offset),
      line: Int32Array.from(this.#line),
    };
  }
}

/** `content/light/a.yaml`, `content/lights.ndjson:7` */
export const sayPlace = ({ file, offset, line }: Place): string => {
  if (offset === undefined || line === undefined) return file;
  return `${file}:${line}`;
};
