import { count } from '../../core/plain/words.ts';
import type { SealResult } from '../../tasks/seal.ts';
import { glyphs, type Look, next, wrap } from '../look.ts';
import { sayEntries, sayReaders } from './change.ts';

/** A recorded revision: its number, its version and why that version. */
export function sealText(result: SealResult, look: Look): string {
  const { paint, width } = look;
  const { revision, version, previousVersion, message, changes, file, hash, standing: state } = result;
  const versions = previousVersion === undefined ? version : `${previousVersion} ${glyphs.arrow} ${version}`;
  const reason =
    previousVersion === undefined
      ? 'the first revision'
      : `${count(changes.length, 'change')}: entries ${sayEntries(result.entries, look)}, readers ${sayReaders(result.readers, look)}`;
  const onward =
    state.state === 'behind'
      ? next(
          `lumbrik migration ${state.migration ? 'rehearse' : 'draft'}`,
          `the entries still obey ${state.revision === undefined ? 'an older model' : `revision ${state.revision}`}`,
          look,
        )
      : '';

  return `${paint.good(glyphs.fine)} ${paint.strong(`Revision ${revision}`)}, version ${versions}\n  ${wrap(message, width - 2, '  ')}\n  ${reason}\n  ${paint.soft(`${file}  ${hash.slice(0, 16)}`)}\n${onward}`;
}
