import { z } from 'zod';
import { compact, isObject, type Json, type JsonObject, mapValues } from '../plain/json.ts';
import { statuses } from './builtIn.ts';
import { asJson, type ModelDoc } from './model.ts';
import { type Preview, previewOptions } from './preview.ts';
import type { TypeDoc } from './type.ts';

/** Four settings of a type that its key `newEntries` held in earlier models. */
export const NewEntries = z.strictObject({
  status: z.enum(statuses).exactOptional(),
  versions: z.boolean().exactOptional(),
  preview: z.enum(['off', 'offered', 'required']).exactOptional(),
  byline: z.boolean().exactOptional(),
});
export type NewEntries = z.output<typeof NewEntries>;

type PreviewState = NonNullable<NewEntries['preview']>;
type Previews = Readonly<Record<string, Preview>>;

/** The options of a preview by the word that gave a state to all previews of a type. */
const stateOptions: Readonly<Record<PreviewState, { readonly offered?: boolean; readonly required?: true }>> = {
  off: { offered: false },
  offered: { offered: true },
  required: { required: true },
};

/** The name that a preview gets which had a state and no address. */
const previewWithoutAddress = 'editor';

/** A recorded model with its types in the present form. What is in that form already, or is no model, is returned as it is. */
export function inPresentForm(model: Json): Json {
  if (!isObject(model)) return model;
  const { types } = model;
  const isEarlier = isObject(types) && Object.values(types).some((type) => isObject(type) && 'newEntries' in type);
  if (!isEarlier) return model;
  return { ...model, types: mapValues(types, (type) => (isObject(type) ? typeInPresentForm(type) : type)) };
}

function typeInPresentForm(type: JsonObject): JsonObject {
  const { newEntries, ...rest } = type;
  const read = NewEntries.safeParse(newEntries);
  if (!read.success) return type;

  const { preview: state } = read.data;
  const previews = isObject(rest.previews) ? (rest.previews as Previews) : {};
  return compact({
    ...rest,
    ...optionsInstead(read.data),
    previews: state === undefined ? rest.previews : asJson(withState(previews, state)),
  });
}

/** The options of a type that hold the settings of its `newEntries`, previews aside. */
export const optionsInstead = ({ status, versions, byline }: NewEntries): JsonObject =>
  compact({ byline, versions, builtIn: status && { status: { default: status } } });

/** Previews that each say the state that one word gave all of them. */
export function withState(previews: Previews, state: PreviewState): Previews {
  if (Object.keys(previews).length === 0) return { [previewWithoutAddress]: stateOptions[state] };
  return mapValues(previews, (preview) => ({ ...previewOptions(preview), ...stateOptions[state] }));
}

/**
 * A model in the form that is hashed: the earlier one, where that can say the same. So a model keeps its hash when its files
 * are rewritten, and the revisions and migrations that name it stay right.
 */
export function inHashedForm(model: ModelDoc): JsonObject {
  if (!Object.values(model.types).some(saysMoreThanBefore)) return asJson(model);
  return { ...asJson(model), types: mapValues(model.types, typeInHashedForm) };
}

/** Whether a type says something that its earlier form said otherwise. */
const saysMoreThanBefore = ({ byline, versions, builtIn, previews = {} }: TypeDoc): boolean =>
  [byline, versions, builtIn].some((option) => option !== undefined) || commonState(previews) !== undefined;

function typeInHashedForm(type: TypeDoc): JsonObject {
  if (!saysMoreThanBefore(type)) return asJson(type);

  const { byline, versions, builtIn, previews = {}, ...rest } = type;
  const preview = commonState(previews);
  const newEntries = compact({ status: builtIn?.status.default, versions, preview, byline });
  return compact({
    ...asJson(rest),
    newEntries,
    previews: preview === undefined ? type.previews : addressesOf(previews),
  }) as JsonObject;
}

/** The state that all previews of a type have, where one word could say it. */
function commonState(previews: Previews): PreviewState | undefined {
  const entries = Object.entries(previews);
  const areNamed = entries.every(
    ([name, preview]) =>
      previewOptions(preview).address !== undefined || (name === previewWithoutAddress && entries.length === 1),
  );
  const states = new Set(entries.map(([, preview]) => stateOf(preview)));
  const [state] = states;
  if (areNamed && states.size === 1) return state;
  return undefined;
}

function stateOf(preview: Preview): PreviewState | undefined {
  const { offered, required } = previewOptions(preview);
  if (required === true && offered === undefined) return 'required';
  if (required !== undefined || offered === undefined) return undefined;
  if (offered) return 'offered';
  return 'off';
}

/** The addresses of previews; `undefined` where they have none. */
function addressesOf(previews: Previews): Readonly<Record<string, string>> | undefined {
  const addresses = Object.entries(previews).flatMap(([name, preview]) => {
    const { address } = previewOptions(preview);
    if (address === undefined) return [];
    return [[name, address] as const];
  });
  if (addresses.length > 0) return Object.fromEntries(addresses);
  return undefined;
}
