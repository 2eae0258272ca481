/** A function of objects that do not change: the result for each is computed once, at the first call. */
export function onceFor<K extends object, V>(work: (key: K) => V): (key: K) => V {
  const done = new WeakMap<K, { readonly value: V }>();
  return (key) => {
    const existing = done.get(key);
    if (existing) return existing.value;
    const value = work(key);
    done.set(key, { value });
    return value;
  };
}

/** A function without arguments that works once, when it is first called. */
export function once<V>(work: () => V): () => V {
  let done: { readonly value: V } | undefined;
  return () => {
    done ??= { value: work() };
    return done.value;
  };
}
