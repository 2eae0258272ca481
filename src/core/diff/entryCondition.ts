import type { Model } from '../model/link.ts';
import { ExpressionFailed, expressionsOver } from '../rules/expression.ts';
import type { SampledEntry } from './counter.ts';

/** Compiles a condition over entries of a type; one that cannot be computed for an entry does not hold there. */
export function conditionOn(source: string | undefined, type: string, model: Model): (entry: SampledEntry) => boolean {
  if (source === undefined || source === 'true') return () => true;

  const linked = model.types.get(type);
  const compiled = linked && expressionsOver(linked, 'entry')(source);
  if (!compiled || 'problem' in compiled) return () => false;
  return (entry) => {
    try {
      return compiled.evaluate({ ...entry, look: undefined }, entry.fields) === true;
    } catch (error) {
      if (error instanceof ExpressionFailed) return false;
      throw error;
    }
  };
}
