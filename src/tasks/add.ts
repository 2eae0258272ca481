import fs from 'node:fs';
import path from 'node:path';
import { z } from 'zod';
import { fieldRule, idRule, isFieldWord, isId, isName, nameRule, parseAddress } from '../core/definition/address.ts';
import { formOf } from '../core/model/nestedFields.ts';
import { namesIn } from '../core/model/provenance.ts';
import { at, compact, type Json, ownValue } from '../core/plain/json.ts';
import { usualLimits } from '../core/plain/limits.ts';
import { didYouMean } from '../core/plain/nearest.ts';
import { capital, thereAre } from '../core/plain/words.ts';
import { writeYaml } from '../core/source/write.ts';
import { readYaml } from '../core/source/yaml.ts';
import { editedText } from '../workspace/edited.ts';
import { hashBytes, readTextOrRefuse } from '../workspace/files.ts';
import type { Workspace } from '../workspace/open.ts';
import { refuse, Trouble } from '../workspace/trouble.ts';
import type { DefinitionCall } from './add/definition.ts';
import type { Call } from './call.ts';
import { writing } from './openForCall.ts';
import { head, resultVersion } from './result.ts';
import { schemaFor } from './schemas.ts';
import { addTermList } from './terms/add.ts';
import { writeModelFiles } from './writeModel.ts';

/** The result of `lumbrik add`. */
export const AddResult = z.strictObject({
  ...head('add'),
  what: z.enum(['type', 'field', 'kit', 'taxonomy', 'term']),
  /** The address of the new part. */
  address: z.string(),
  file: z.string(),
  /** The text written into the file. */
  text: z.string(),
});
export type AddResult = z.output<typeof AddResult>;

const folders = { type: 'model/types', kit: 'model/kits', taxonomy: 'model/taxonomies' } as const;

/**
 * Adds something to the model: its own file, or a part of one that keeps its comments and order. The model is read
 * as it would be first; where that brings a mistake, nothing is written.
 */
export async function add(call: Call, definition: DefinitionCall): Promise<AddResult> {
  return writing(call, (workspace) => {
    if (definition.what === 'term') return addTerm(workspace, definition);
    const { file, text, from, address, shown } =
      definition.what === 'field' ? withField(workspace, definition) : newFile(workspace, definition);
    writeModelFiles(workspace.root, [{ file, text, from }]);
    return { lumbrik: resultVersion, command: 'add', what: definition.what, address, file, text: shown };
  });
}

interface Written {
  readonly file: string;
  readonly text: string;
  /** The SHA-256 of the text that it was made of; `null` for a new file. */
  readonly from: string | null;
  readonly address: string;
  /** The new part of the text. */
  readonly shown: string;
}

function newFile(
  { root, model }: Workspace,
  { what: category, name, says: object }: Extract<DefinitionCall, { what: 'type' | 'kit' | 'taxonomy' }>,
): Written {
  if (!isName(name))
    throw new Trouble('malformed-name', `\`${name}\` cannot be a name`, { mend: `${capital(nameRule)}.` });

  const file = `${folders[category]}/${name}.yaml`;
  if (namesIn(model.definition).includes(name) || fs.existsSync(path.join(root, file)))
    throw refuse('name-taken', `there is something called \`${name}\` already`, {
      mend: 'Choose another name; nothing was written.',
    });

  const schema = fs.existsSync(path.join(root, 'schemas')) ? { $schema: schemaFor(file, category) } : {};
  const text = writeYaml({ ...schema, [category]: name, ...object });

  return { file, text, from: null, address: category === 'taxonomy' ? `${name}:` : name, shown: text };
}

function withField(
  workspace: Workspace,
  { to, name, says: object, titles }: Extract<DefinitionCall, { what: 'field' }>,
): Written {
  if (!isFieldWord(name))
    throw new Trouble('malformed-name', `\`${name}\` cannot be a name`, { mend: `${capital(fieldRule)}.` });

  const { owner, isKit, inside } = holderNamed(workspace, to);
  if (titles && isKit)
    throw new Trouble('unusable-call', 'a kit has no entries that a field could name', {
      mend: 'Say `titled` in the types that use it.',
    });

  const file = workspace.fileOf(['types', owner]) ?? `${folders[isKit ? 'kit' : 'type']}/${owner}.yaml`;
  const before = readTextOrRefuse(path.join(workspace.root, file), file, workspace.limits);
  const reading = readYaml(before, workspace.limits);
  const data = 'value' in reading ? reading.value.data : null;
  const above = inside.flatMap((key) => ['fields', key]);
  if (inside.length > 0 && at(data, above) === undefined)
    throw refuse('not-found', `\`${to}\` arrives from elsewhere`, {
      mend: `Add the field where it is defined: lumbrik show ${owner}`,
      where: { file },
    });
  if (at(data, [...above, 'fields', name]) !== undefined)
    throw refuse('name-taken', `there is a field \`${to}.${name}\` already`, {
      mend: 'Choose another name, or edit the file; nothing was written.',
      where: { file },
    });

  const titled = [...inside, name].join('.');
  const text = editedText(file, before, [
    inside.length > 0 && at(data, [...above, 'fields']) === undefined
      ? { do: 'insert', path: above, key: 'fields', value: { [name]: object } }
      : { do: 'insert', path: [...above, 'fields'], key: name, value: object },
    ...(titles ? [{ do: 'set', path: ['titled'], value: titled, after: ['kits', 'extends', 'type'] } as const] : []),
  ]);
  const shown = writeYaml(compact({ titled: titles ? titled : undefined, [name]: object }));

  return { file, text, from: hashBytes(before), address: `${to}.${name}`, shown };
}

/** The type or the kit that an address leads into, and the objects on the way. @throws {Trouble} where there is none. */
function holderNamed({ model }: Workspace, to: string) {
  const [owner = '', ...inside] = to.split('.');
  const kit = ownValue(model.definition.shared?.kits ?? {}, owner);
  const fields = kit?.fields ?? ownValue(model.definition.types, owner)?.fields;
  if (!fields) {
    const names = [...model.types.keys(), ...Object.keys(model.definition.shared?.kits ?? {})];
    throw new Trouble('not-found', `there is no type and no kit \`${owner}\``, {
      mend: didYouMean(owner, names) ?? thereAre(names) ?? 'Add a type first: lumbrik add type "…"',
    });
  }

  const object = inside.length > 0 ? formOf(fields, inside.join('.')) : undefined;
  if (inside.length > 0 && object?.kind !== 'object')
    throw new Trouble('not-found', object ? `\`${to}\` is no object` : `there is no field \`${to}\``, {
      mend: object
        ? `It is of kind ${object.kind}: only an object has fields inside.`
        : `See them: lumbrik show ${owner}`,
    });
  return { owner, isKit: kit !== undefined, inside };
}

function addTerm(
  workspace: Workspace,
  { to, name, under, says: object }: Extract<DefinitionCall, { what: 'term' }>,
): AddResult {
  if (!isId(name)) throw new Trouble('malformed-name', `\`${name}\` cannot be a term`, { mend: `${capital(idRule)}.` });

  const { label } = object;
  const {
    added,
    known: existing,
    file,
  } = addTermList(workspace, to, 'the call', [
    compact({
      term: name,
      line: 1,
      label: typeof label === 'string' ? label : undefined,
      about: typeof object.about === 'string' ? object.about : undefined,
      under: under === undefined ? undefined : termMeant(to, under),
    }),
  ]);
  if (added.length === 0)
    throw refuse('name-taken', `\`${to}\` has that term already: ${existing[0]?.is ?? name}`, {
      mend: `See it: lumbrik terms ${to}`,
    });

  return {
    lumbrik: resultVersion,
    command: 'add',
    what: 'term',
    address: `${to}:${name}`,
    file,
    text: writeYaml({ term: name, ...object }),
  };
}

/** The term of a taxonomy that a person means: by its name alone, or by its address. */
function termMeant(taxonomy: string, text: string): string {
  const address = parseAddress(text.startsWith(`${taxonomy}:`) ? text : `${taxonomy}:${text}`);
  if (address?.what !== 'term') return text;
  return address.term;
}

/** A value of an option as it is typed on a command line: YAML, so that `80`, `true` and `[easy, hard]` have their usual meaning. */
export function optionValue(text: string): Json {
  const reading = readYaml(text, usualLimits);
  if ('value' in reading) return reading.value.data;
  return text;
}
