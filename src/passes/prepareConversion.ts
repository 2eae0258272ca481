import { asJson, type ModelDoc } from '../core/definition/model.ts';
import { kinds } from '../core/kinds/index.ts';
import { isList, type Json } from '../core/plain/json.ts';
import { loadConversion } from '../core/text/conversion.ts';

/** Loads what carrying values from or to structured text needs, where one of some models has such. */
export async function prepareConversion(...forms: readonly ModelDoc[]): Promise<void> {
  if (forms.some(({ types }) => holdsText(asJson(types)))) await loadConversion();
}

/** Whether any field in a definition is of a kind that holds structured text. */
function holdsText(definition: Json): boolean {
  if (typeof definition !== 'object' || definition === null) return false;
  if (isList(definition)) return definition.some(holdsText);
  const { kind } = definition;
  if (typeof kind === 'string' && kinds.get(kind)?.textLimits) return true;
  // Called for every part of two models: no list of what is in one is made.
  for (const key in definition) if (holdsText(definition[key] ?? null)) return true;
  return false;
}
