/** Facts about a file by looking into it. */
export interface AssetFacts {
  /** By its content; `undefined` where nothing is known that looks like it. */
  readonly media: string | undefined;
  /** By its name. */
  readonly named: string | undefined;
  /** That it is a symbolic link, which is never followed; no other facts are known then. */
  readonly isLink?: true;
  /** In bytes. */
  readonly size: number;
  /** In pixels, of a picture. */
  readonly width?: number | undefined;
  readonly height?: number | undefined;
}

/** The files below `assets/` by their paths there. */
export type Assets = ReadonlyMap<string, AssetFacts>;
