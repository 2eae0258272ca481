import { count } from '../../core/plain/words.ts';
import type { UpgradeResult } from '../../tasks/upgrade.ts';
import { glyphs, type Look, next } from '../look.ts';

/** Which model files were rewritten, and what to do next. */
export function upgradeText({ files, mistakes }: UpgradeResult, look: Look): string {
  const { paint } = look;
  const done =
    files.length === 0
      ? 'No model file has a key of an earlier version'
      : `${count(files.length, 'model file')} rewritten with the present keys; the model means the same`;
  const written = files.map((file) => `  ${paint.soft(file)}\n`).join('');
  const step =
    mistakes === 0
      ? next('lumbrik check', 'to check the model and the entries', look)
      : next('lumbrik check', `to see ${count(mistakes, 'mistake')} of the model`, look);

  return `${paint.good(glyphs.fine)} ${done}\n${written}${step}`;
}
