import { type Preview, previewOptions, withAddress } from '../definition/preview.ts';
import { type Entry, isEmpty, statusOf } from '../entry/entry.ts';
import { isObject, type Json, ownValue } from '../plain/json.ts';
import { didYouMean } from '../plain/nearest.ts';
import { list, quote } from '../plain/words.ts';
import type { Field, Type } from './link.ts';
import { inMainLanguage } from './traversal.ts';

/** What a preview address can name beside the fields of the type. */
const always = ['id', 'type', 'status', 'language'] as const;
const place = /\{([^{}]*)\}/gu;

/** Why a preview does not work: what it says contradicts itself, or its address cannot be filled from entries of a type. */
export function previewMistake(
  preview: Preview,
  fields: ReadonlyMap<string, Field>,
): { readonly says: string; readonly mend: string; readonly misses?: string } | undefined {
  const { address, offered, required } = previewOptions(preview);
  if (required === true && offered === false)
    return {
      says: 'the preview is required and not offered at once',
      mend: 'Keep one of the two: `required: true` or `offered: false`.',
    };
  if (address === undefined) return undefined;
  if (!/^https?:\/\/./u.test(address))
    return { says: `${quote(address)} is no address on the web`, mend: 'Start it with https:// or http://.' };

  for (const [, name = ''] of address.matchAll(place)) {
    if (always.some((text) => text === name)) continue;

    const field = fields.get(name);
    const names = [...fields.keys(), ...always];
    if (!field)
      return {
        misses: name,
        says: `there is no field ${quote(name)} to put into the address`,
        mend: didYouMean(name, names) ?? `Name one of ${list(names)}.`,
      };
    if (field.common.many || field.kind.cel === 'dyn')
      return {
        says: `\`${name}\` is not one text or number, and an address needs one`,
        mend: 'Name a field that holds one value.',
      };
  }

  return undefined;
}

/** A preview with other names of fields in its address. */
export const renamedInPreview = (preview: Preview, renamed: (field: string) => string): Preview =>
  withAddress(preview, (address) =>
    address.replace(place, (match, name: string) =>
      always.some((text) => text === name) ? match : `{${renamed(name)}}`,
    ),
  );

/** The addresses where an entry can be previewed. Left out are previews that are off, and addresses with an empty field. */
export function previewsOf(
  entry: Entry,
  type: Type,
  language: string,
): readonly { readonly name: string; readonly address: string }[] {
  const builtIn: Readonly<Record<string, Json | undefined>> = {
    id: entry.id,
    type: entry.type,
    status: statusOf(entry),
    language,
  };
  const valueNamed = (name: string): Json | undefined => {
    const field = type.fields.get(name);
    if (field) return inMainLanguage(field, ownValue(entry.values, name), language);
    return builtIn[name];
  };

  return Object.entries(type.definition.previews ?? {}).flatMap(([name, preview]) => {
    const { address, offered } = previewOptions(preview);
    if (address === undefined || offered === false) return [];

    const names = [...address.matchAll(place)].map(([, name = '']) => name);
    const isFilled = names.every((name) => !isEmpty(valueNamed(name)) && !isObject(valueNamed(name)));
    if (!isFilled) return [];
    return [
      { name, address: address.replace(place, (_, name: string) => encodeURIComponent(String(valueNamed(name)))) },
    ];
  });
}
