import { type Checker, compile } from '../core/check/compile.ts';
import type { Model } from '../core/model/link.ts';
import { compact } from '../core/plain/json.ts';
import type { Circumstances } from './circumstances.ts';
import { linkReaderFor } from './linkReader.ts';

/** The checker of single entries, at a moment. */
export async function checkerFor(model: Model, { currentTime, assets }: Circumstances): Promise<Checker> {
  return compile(model, compact({ currentTime, assets, readLinks: await linkReaderFor(model) }));
}
