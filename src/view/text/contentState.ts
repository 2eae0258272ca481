import type { ContentState } from '../../tasks/result.ts';
import { glyphs, type Look, next } from '../look.ts';

/** A line on which model the entries obey, where that is not the one in the working files. */
export function contentStateText({ state, revision, migration }: ContentState, look: Look): string {
  const { paint } = look;
  const obeyed = revision === undefined ? 'an older model' : `revision ${revision}`;
  switch (state) {
    case 'here':
    case 'fits':
      return '';
    case 'unrecorded':
      return next('lumbrik seal -m "…"', 'to record the model: changes are counted from there', look);
    case 'unknown':
      return `\n${paint.warn(glyphs.warn)} Which recorded model the entries obey is not known.\n${next('lumbrik entry revision', 'to see which they would, and to say it', look)}`;
    case 'behind':
      if (migration === undefined)
        return `\n${paint.warn(glyphs.warn)} The entries obey ${obeyed}, and the model has moved on.\n${next('lumbrik migration draft', 'to bring them along', look)}`;
      return `\n${paint.warn(glyphs.warn)} The entries obey ${obeyed}; ${paint.name(migration)} has not been run.\n${next('lumbrik migration rehearse', 'to see its effect', look)}`;
  }
}
