import type { Entry } from '../entry/entry.ts';
import type { LearntField } from './value.ts';

/** What entries are usually titled by, in some languages; else the first text that tells them apart. */
const titles = [
  'title',
  'name',
  'label',
  'headline',
  'heading',
  'titel',
  'titre',
  'nom',
  'bezeichnung',
  'titulo',
  'nombre',
];

/** The field that names the entries of a type; `undefined` if none does. */
export function titleOf(fields: readonly LearntField[], sample: readonly Entry[]): string | undefined {
  const texts = fields.filter(isSingle('text'));
  const usual = titles.flatMap((title) => texts.filter(({ name }) => name.toLowerCase() === title));
  const telling = texts.filter(({ name, definition }) => {
    const values = sample.map(({ values }) => JSON.stringify(values[name] ?? null));
    return definition.required === true && new Set(values).size > 0.9 * values.length;
  });

  return usual[0]?.name ?? titleInside(fields) ?? telling[0]?.name;
}

const isSingle =
  (kind: string) =>
  ({ definition }: LearntField): boolean =>
    definition.kind === kind && definition.many === undefined;

/** The first text of an object that is called as titles are: `name.common` of `name: { common, official }`. */
function titleInside(fields: readonly LearntField[]): string | undefined {
  const objects = fields.filter(isSingle('object'));
  for (const title of titles)
    for (const { name, fields: inside } of objects) {
      const text =
        name.toLowerCase() === title &&
        inside.find((field) => isSingle('text')(field) && field.definition.required === true);
      if (text) return `${name}.${text.name}`;
    }

  return undefined;
}
