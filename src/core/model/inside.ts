import type { FieldDoc } from '../definition/field.ts';
import type { KitDoc } from '../definition/shared.ts';
import { kinds } from '../kinds/index.ts';
import { isList, type Json, ownValue, withoutKey } from '../plain/json.ts';
import { didYouMean } from '../plain/nearest.ts';
import { quote, thereAre } from '../plain/words.ts';
import type { Kept } from './memo.ts';
import type { Mistake } from './mistakes.ts';

/** A field of a kit that stands inside an object, and whose it is. */
interface Arriving {
  readonly kit: string;
  readonly definition: FieldDoc;
}

/**
 * The fields that arrive in an object by the kits it names, as they stand inside one: without the part of a form.
 * @param names the value of `kits`; undefined if it is missing.
 */
export function kitsInside(
  names: Json | undefined,
  shelf: Pick<Kept<unknown, KitDoc>, 'names' | 'get'>,
): { readonly arriving: ReadonlyMap<string, Arriving>; readonly mistakes: readonly Mistake[] } {
  const arriving = new Map<string, Arriving>();
  if (names === undefined) return { arriving, mistakes: [] };
  if (!isList(names) || names.some((kit) => typeof kit !== 'string'))
    return {
      arriving,
      mistakes: [{ path: ['kits'], says: '`kits` is no list of names', mend: 'Write `kits: [address]`.' }],
    };

  const mistakes = names.flatMap((kit, index): readonly Mistake[] => {
    const name = String(kit);
    const foundKit = shelf.get(name);
    if (foundKit === undefined || foundKit === 'circle')
      return [{ path: ['kits', index], ...sayNoKit(name, shelf, foundKit) }];

    const wrong: Mistake[] = foundKit.rules
      ? [
          {
            path: ['kits', index],
            says: `the kit ${name} has rules, which hold in types and not inside objects`,
            mend: 'Move the rules to the types, or the fields to a kit of their own.',
          },
        ]
      : [];

    for (const [field, fullDefinition] of Object.entries(foundKit.fields)) {
      const definition = withoutKey(fullDefinition, 'group') as FieldDoc;
      const other = arriving.get(field);
      if (other) wrong.push({ path: ['kits', index], ...arrivesTwice(field, `the kit ${other.kit}`, name) });
      else arriving.set(field, { kit: name, definition });
      for (const { says: message } of misplacedInside(definition))
        wrong.push({
          path: ['kits', index],
          says: `the field \`${field}\` of the kit ${name} cannot stand here: ${message}`,
          mend: 'Use the kit in a type, or make a kit without that field.',
        });
    }

    return wrong;
  });

  return { arriving, mistakes };
}

/** Why there is no such kit to use. */
export function sayNoKit(
  kit: string,
  { names }: { readonly names: readonly string[] },
  state?: 'circle',
): Pick<Mistake, 'says' | 'mend' | 'isUndefined'> {
  if (state === 'circle')
    return { says: `the kit ${kit} is made of itself`, mend: 'Take it out of one of the kits on the way.' };
  return {
    says: `there is no kit ${quote(kit)}`,
    mend: didYouMean(kit, names) ?? thereAre(names) ?? `Define it in model/kits/${kit}.yaml.`,
    isUndefined: true,
  };
}

/** @param from the part that it comes from already, in words. */
export const arrivesTwice = (field: string, from: string, kit: string): Pick<Mistake, 'says' | 'mend'> => ({
  says: `the field \`${field}\` arrives by ${from} and by the kit ${kit}`,
  mend: 'Use one of the two, or rename the field in the kit.',
});

/** What a field says that only makes sense in a type itself. */
export function misplacedInside(field: FieldDoc): readonly Mistake[] {
  const kind = kinds.get(field.kind);
  const words = ['group', 'computed', 'when'].filter((option) => ownValue(field, option) !== undefined);
  const misplaced = words.map((option) => ({
    path: [option],
    atKey: true,
    says: `\`${option}\` means nothing inside an object`,
    mend: 'Remove it, or make the field one of the type itself.',
  }));
  if (!kind?.isBody(field)) return misplaced;

  return [
    ...misplaced,
    {
      path: ['body'],
      says: 'the body of a file cannot be inside an object',
      mend: 'Make the field one of the type itself.',
    },
  ];
}
