import type { ModelDoc } from '../core/definition/model.ts';
import { kinds } from '../core/kinds/index.ts';
import { loadConversion } from '../core/text/conversion.ts';

/** Loads what carrying values from or to structured text needs, where one of some models has such. */
export async function prepareConversion(...forms: readonly ModelDoc[]): Promise<void> {
  const texts = [...kinds.values()].filter(({ textLimits }) => textLimits).map(({ name }) => `"kind":"${name}"`);
  const all = JSON.stringify(forms.map(({ types }) => types));
  if (texts.some((text) => all.includes(text))) await loadConversion();
}
