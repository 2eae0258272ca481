import type { ModelDoc } from '../core/definition/model.ts';
import { hasField } from '../core/model/fieldsOfSort.ts';
import { loadConversion } from '../core/text/conversion.ts';

/** Loads what carrying values from or to structured text needs, where one of some models has such. */
export async function prepareConversion(...models: readonly ModelDoc[]): Promise<void> {
  if (models.some((model) => hasField(model, (_, { textLimits }) => textLimits !== undefined))) await loadConversion();
}
