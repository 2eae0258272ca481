import { type EntryAddress, keyOf } from '../entry/entry.ts';
import type { Finding } from '../entry/findings.ts';
import { compact, type Path } from '../plain/json.ts';
import { isPlain, type KnownEntries } from './knownEntries.ts';
import { foundIn } from './makeFinding.ts';
import { hiddenFrom } from './visibility.ts';

/** What a reference is judged by, beside the two entries. */
interface Judging {
  /** Where the reference stands in its entry. */
  readonly path: Path;
  /** The condition that its field puts on targets; asked only where the target fails some condition. */
  readonly eligible: (from: EntryAddress) => string | undefined;
  /** The moment (RFC 3339) at which entries are public or not, where that counts. */
  readonly currentTime: string | undefined;
}

/** The problem of a reference to an existing entry. */
export function wrongTarget(
  reader: KnownEntries,
  target: KnownEntries,
  { path, eligible, currentTime }: Judging,
): Finding | undefined {
  if (isPlain(target)) return undefined;

  const [entry, to] = [reader.address(), keyOf(target.address())];
  const { ineligible = [], window } = target.rare ?? {};
  const condition = ineligible.length > 0 ? eligible(entry) : undefined;
  const unmet = ineligible.find((other) => other.condition === condition);
  if (unmet) {
    const severity = reader.status === 'published' ? 'error' : 'warning';
    const data = compact({ to, condition: unmet.condition, part: unmet.part });
    return foundIn(entry, 'not-eligible', data, { path, severity, limit: unmet.condition });
  }
  if (reader.status !== 'published') return undefined;

  const { status } = target;
  const warning = { path, severity: 'warning' } as const;
  if (status !== 'published') return foundIn(entry, 'target-not-published', { to, status }, warning);

  const hidden = currentTime === undefined ? undefined : hiddenFrom(reader.rare?.window, window, currentTime);
  return hidden && foundIn(entry, `target-not-published:${hidden.why}`, { to, date: hidden.date }, warning);
}
