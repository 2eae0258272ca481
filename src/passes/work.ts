import type { Model } from '../core/model/link.ts';
import type { Circumstances } from './circumstances.ts';
import type { MigrationData } from './planAgain.ts';

/** What another thread is reported of checking: plain data. */
interface CheckWork extends Pick<Model, 'definition' | 'contentTerms'>, Circumstances {
  readonly pass: 'check';
}

/** The same of counting how fields are used. */
interface ProfileWork extends Pick<Model, 'definition' | 'contentTerms'> {
  readonly pass: 'profile';
  /** The types that are requested. */
  readonly types: readonly string[];
}

/** The same of checking entries to compare that with another check. */
interface AheadWork extends Pick<Model, 'definition' | 'contentTerms'>, Circumstances {
  readonly pass: 'ahead';
}

/** The same of rehearsing a migration. */
interface RehearseWork extends MigrationData, Circumstances {
  readonly pass: 'rehearse';
}

/** The work of gathering hashes of everything stored. */
interface DigestWork {
  readonly pass: 'digest';
}

/** The same of looking at entries to learn a model from them. */
interface LearnWork {
  readonly pass: 'learn';
  /** The stores that keep tables. */
  readonly tables: readonly string[];
}

/** The same of gathering identifiers. */
interface AddressesWork {
  readonly pass: 'addresses';
}

/** What another thread is reported of a pass. */
export type PassWork = CheckWork | ProfileWork | AheadWork | RehearseWork | DigestWork | LearnWork | AddressesWork;
