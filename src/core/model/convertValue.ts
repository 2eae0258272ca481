import type { Status } from '../definition/builtIn.ts';
import { isRequiredOf } from '../definition/field.ts';
import type { Converted, ModelContext } from '../kinds/define.ts';
import { kinds } from '../kinds/index.ts';
import { isList, isObject, type Json } from '../plain/json.ts';
import { isNone } from './emptiness.ts';
import type { Field } from './link.ts';
import { splitItems } from './separators.ts';

/** What becomes of a whole value on its way to another definition of its field. */
export interface ConversionOutcome {
  /** What can be carried; `undefined` where nothing is left. */
  readonly value: Json | undefined;
  readonly lost: readonly { readonly item: Json; readonly why: string }[];
}

/** What is done on the way of a value from one definition to another. */
export interface Carrying {
  /** What stands between the items of a text that becomes a list. */
  readonly separator?: string | undefined;
  /** What is put between the items of a list that becomes one text. */
  readonly joint?: string | undefined;
  /** The reference that a text stands for, or the text that a reference stands for; or why it is none. */
  readonly find?: ((text: string) => Converted) | undefined;
}

/**
 * Compiles how values get from one definition of a field to another: by kind, from one to many and back, and from one
 * language to several and back. What does not differ by language becomes the main language's value.
 * @param by what is done beside what the kinds do.
 */
export function converter(
  was: Field,
  is: Field,
  context: ModelContext,
  by: Carrying = {},
): (value: Json) => ConversionOutcome {
  const carry = converterInOneLanguage(was, is, context, by);
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

function converterInOneLanguage(
  was: Field,
  is: Field,
  context: ModelContext,
  { separator, joint, find }: Carrying,
): (value: Json) => ConversionOutcome {
  const isSameKind = was.kind.name === is.kind.name;
  const convert = isSameKind ? undefined : (is.kind.from[was.kind.name] ?? fromFree(was, is, context));
  if (!isSameKind && !convert && !find)
    return (value) => ({
      value: undefined,
      lost: [{ item: value, why: `${was.kind.name} cannot become ${is.kind.name}` }],
    });
  return (value) => {
    const lost: { item: Json; why: string }[] = [];
    const carried = splitItems(value, separator).flatMap((item) => {
      const isFound = find !== undefined && typeof item === 'string';
      const usual = (): Converted => (convert ? convert(item, is.options, context) : { value: item });
      const result = isFound ? find(item) : usual();
      if ('value' in result) {
        if (result.partly !== undefined) lost.push({ item, why: result.partly });
        return [result.value];
      }
      lost.push({ item, why: result.problem });
      return [];
    });
    if (is.common.many?.orOne && !isList(value)) return { value: carried[0], lost };
    if (is.common.many) return { value: carried.length > 0 ? carried : undefined, lost };

    if (joint !== undefined && carried.length > 1) return { value: carried.map(String).join(joint), lost };
    for (const item of carried.slice(1)) lost.push({ item, why: 'the field holds one value, and the first is kept' });
    return { value: carried[0], lost };
  };
}

/** What was free stays as it is, where that is a value of the other field by itself. */
function fromFree(was: Field, is: Field, context: ModelContext): ((value: Json) => Converted) | undefined {
  if (was.kind.name !== 'json') return undefined;
  const check = is.kind.check(is.options, context);
  return (value) => {
    let isFine = true;
    check(value, () => {
      isFine = false;
    });
    return isFine ? { value } : { problem: `it is no ${is.kind.name}` };
  };
}

/** Whether values of one kind can be carried over to another, as far as they fit there. */
export const canBecome = (from: string, to: string): boolean =>
  from === to || from === 'json' || kinds.get(to)?.from[from] !== undefined;

/** Whether a field asks an entry of some status for a value, whatever else it holds. */
export const asks = ({ common }: Field, status: Status): boolean =>
  common.when === undefined && isRequiredOf(common.required, status);
