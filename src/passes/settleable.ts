/** A promise that is settled from outside. */
export interface Settleable<T> {
  readonly promise: Promise<T>;
  readonly resolve: (value: T) => void;
  readonly reject: (error: unknown) => void;
}

/** Makes a promise that is settled from outside; nobody need wait for its rejection. */
export function settleable<T>(): Settleable<T> {
  let resolve: Settleable<T>['resolve'] = () => undefined;
  let reject: Settleable<T>['reject'] = () => undefined;
  const promise = new Promise<T>((accept, refuse) => {
    resolve = accept;
    reject = refuse;
  });
  promise.catch(() => undefined);

  return { promise, resolve, reject };
}
