import type { Entry } from '../entry/entry.ts';
import type { Finding } from '../entry/findings.ts';

/** Counts in how many entries something is wrong with a field: where authors stumble. */
export class Stumbles {
  readonly #counts = new Map<string, number>();

  /** Takes problems of an entry. A field counts once for each, however often it is wrong in it. */
  see({ type }: Entry, findings: readonly Finding[]): void {
    const wrong = new Set(
      findings.flatMap(({ path, severity }) => (severity === 'error' && path.length > 0 ? [String(path[0])] : [])),
    );
    for (const key of wrong) this.#counts.set(`${type}.${key}`, this.of(type, key) + 1);
  }

  /** @param key the key of the field in an entry. */
  of(type: string, key: string): number {
    return this.#counts.get(`${type}.${key}`) ?? 0;
  }
}
