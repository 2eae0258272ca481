import type { Status } from '../definition/builtIn.ts';
import { isRequiredOf } from '../definition/field.ts';
import type { Converted, ModelContext } from '../kinds/define.ts';
import { isList, isObject, type Json } from '../plain/json.ts';
import { isNone } from './emptiness.ts';
import type { Field } from './link.ts';

/** What becomes of a whole value on its way to another definition of its field. */
export interface ConversionOutcome {
  /** What can be carried; `undefined` where nothing is left. */
  readonly value: Json | undefined;
  readonly lost: readonly { readonly item: Json; readonly why: string }[];
}

/**
 * Compiles how values get from one definition of a field to another: by kind, from one to many and back, and from one
 * language to several and back. What does not differ by language becomes the main language's value.
 */
export function converter(was: Field, is: Field, context: ModelContext): (value: Json) => ConversionOutcome {
  const carry = converterInOneLanguage(was, is, context);
  const [main = 'en'] = context.languages;
  return (value) => {
    const versions =
      was.common.localized && isObject(value)
        ? Object.entries(value).filter(([, one]) => !isNone(was, one))
        : ([[main, value]] as const);
    const outcomes = versions.map(([language, one]) => ({ language, ...carry(one) }));
    const lost = outcomes.flatMap((outcome) => outcome.lost);
    if (is.common.localized) {
      const carried = outcomes.flatMap(({ language, value: one }) =>
        one === undefined ? [] : [[language, one] as const],
      );
      return { value: carried.length > 0 ? Object.fromEntries(carried) : undefined, lost };
    }
    const kept = outcomes.find(({ language }) => language === main);
    const others = outcomes
      .filter((outcome) => outcome !== kept)
      .flatMap(({ value: one, language }) =>
        one === undefined ? [] : [{ item: one, why: `the field has one value, and ${main} is kept, not ${language}` }],
      );
    return { value: kept?.value, lost: [...lost, ...others] };
  };
}

function converterInOneLanguage(was: Field, is: Field, context: ModelContext): (value: Json) => ConversionOutcome {
  const isSameKind = was.kind.name === is.kind.name;
  const convert = isSameKind ? undefined : is.kind.from[was.kind.name];
  if (!isSameKind && !convert)
    return (value) => ({
      value: undefined,
      lost: [{ item: value, why: `${was.kind.name} cannot become ${is.kind.name}` }],
    });
  return (value) => {
    const lost: { item: Json; why: string }[] = [];
    const carried = (isList(value) ? value : [value]).flatMap((item) => {
      const result: Converted = convert ? convert(item, is.options, context) : { value: item };
      if ('value' in result) {
        if (result.partly !== undefined) lost.push({ item, why: result.partly });
        return [result.value];
      }
      lost.push({ item, why: result.lost });
      return [];
    });
    if (is.common.many?.orOne && !isList(value)) return { value: carried[0], lost };
    if (is.common.many) return { value: carried.length > 0 ? carried : undefined, lost };

    for (const item of carried.slice(1)) lost.push({ item, why: 'the field holds one value, and the first is kept' });
    return { value: carried[0], lost };
  };
}

/** Whether a field asks an entry of some status for a value, whatever else it holds. */
export const asks = ({ common }: Field, status: Status): boolean =>
  common.when === undefined && isRequiredOf(common.required, status);
