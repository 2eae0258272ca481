import { hasSeparator, type Separator, saySeparator, separatorIn, separatorsIn } from '../model/separators.ts';
import { singleValues } from '../model/traversal.ts';
import { count } from '../plain/words.ts';
import { type Linked, readingCounter, withWay } from './carryingCounter.ts';
import type { Counter, Impact } from './counter.ts';
import { valuesOf } from './fieldValues.ts';

/** So many texts are looked at to see whether they are lists. */
const mostTexts = 500;

/**
 * Texts that become lists: each one item, or as many as it names. They are split where that carries more values than not
 * splitting them, or where half of them look like lists.
 */
export function listCounter(linked: Linked): Counter {
  const { place, between, from, after } = linked;
  const singleCounter = readingCounter(linked, {});
  const split = separatorsIn(after.context.languages).map((separator) => ({
    separator,
    counter: readingCounter(linked, { separator }),
  }));
  const texts: string[] = [];

  return {
    see: (entry) => {
      singleCounter.see(entry);
      for (const { counter } of split) counter.see(entry);
      if (entry.type !== place.type || texts.length >= mostTexts) return;
      for (const value of valuesOf(between, place, entry.fields))
        for (const { item } of singleValues(from, value)) if (typeof item === 'string') texts.push(item);
    },
    impact: () => {
      const unsplit = singleCounter.impact();
      const impacts = split.map(({ separator, counter }) => ({ separator, impact: counter.impact() }));
      const usual = separatorIn(texts);
      const best = impacts.find(({ separator }) => separator === usual);
      const chosen = fewestHits(best ? [best, ...impacts] : impacts, unsplit.hits) ?? best;
      if (!chosen) return unsplit;
      return withSplit(chosen.impact, chosen.separator, texts);
    },
  };
}

/** The effect of splitting texts at a separator. */
export interface SplitImpact {
  readonly separator: Separator;
  readonly impact: Impact;
}

/** The first of those that hit the fewest entries; `undefined` where none hits fewer than some number. */
export function fewestHits(impacts: readonly SplitImpact[], than: number): SplitImpact | undefined {
  const [best] = impacts.toSorted((a, b) => a.impact.hits - b.impact.hits);
  if (best && best.impact.hits < than) return best;
  return undefined;
}

/** The impact of carrying texts over as lists, with the question whether they are. */
export function withSplit(impact: Impact, separator: Separator, texts: readonly string[]): Impact {
  const { way } = impact;
  const many = texts.filter((text) => hasSeparator(text, separator)).length;
  const between = `${saySeparator(separator)} between their items`;
  const message = `${many} of ${count(texts.length, 'text')} ${many === 1 ? 'is a list' : 'are lists'} with ${between}`;
  return withWay(impact, {
    data: { split: typeof separator === 'string' ? separator : [...separator], ...way?.data },
    says: [message, way?.says].filter(Boolean).join('. '),
    asks: [`Are texts with ${saySeparator(separator)} lists?`, way?.asks].filter(Boolean).join(' '),
  });
}
