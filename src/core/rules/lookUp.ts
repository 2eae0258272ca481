import { type ASTNode, Environment } from '@marcbachmann/cel-js';
import { childrenOf, isNode, limits } from '../cel/syntax.ts';
import type { Field, Type } from '../model/link.ts';
import { grouped } from '../plain/grouped.ts';
import { isObject, type Json, type JsonObject, ownValue } from '../plain/json.ts';
import { didYouMean } from '../plain/nearest.ts';
import { list } from '../plain/words.ts';

/** A field of other entries that an expression looks up: `lookUp(entry.keeper, "keeper.name")`. */
export interface LookedUp {
  readonly type: string;
  readonly field: Field;
}

/** Facts about other entries. */
export interface Look {
  /** The value of a field of an entry; `undefined` where there is no such entry, or it has none. */
  readonly valueOf: (entry: string, field: string) => Json | undefined;
  /** The entries of a type, and of those that are accepted as it, that have a text as the value of a field. */
  readonly entriesWith: (type: string, field: string, text: string) => readonly string[];
}

/** Looks into the stored data of entries, by their addresses. */
export function lookInto(
  entries: ReadonlyMap<string, JsonObject>,
  acceptedAs: (type: string) => readonly string[],
): Look {
  const indexes = new Map<string, ReadonlyMap<string, readonly string[]>>();
  const indexOf = (type: string, field: string): ReadonlyMap<string, readonly string[]> => {
    const existing = indexes.get(`${type}.${field}`);
    if (existing) return existing;

    const types = acceptedAs(type);
    const pairs = [...entries].flatMap(([entry, values]) =>
      types.includes(entry.slice(0, entry.indexOf('/')))
        ? [...new Set(textsIn(ownValue(values, field)))].map((text) => ({ text, entry }))
        : [],
    );
    const index = new Map(
      [...grouped(pairs, ({ text }) => text)].map(([text, pairs]) => [text, pairs.map(({ entry }) => entry)] as const),
    );
    indexes.set(`${type}.${field}`, index);

    return index;
  };

  return {
    valueOf: (entry, field) => ownValue(entries.get(entry) ?? {}, field),
    entriesWith: (type, field, text) => indexOf(type, field).get(text) ?? [],
  };
}

/** The texts of a value, in each language. */
function textsIn(value: Json | undefined): readonly string[] {
  if (typeof value === 'string') return [value];
  if (!isObject(value)) return [];
  return Object.values(value).flatMap(textsIn);
}

/** The name of the function, as it is called in expressions. */
const name = 'lookUp';

/** Whether a text may look something up: it runs for every expression, and most do not. */
export const mayLookUp = (source: string): boolean => source.includes(`${name}(`);

/** Why a lookup is not possible, and its place in the expression. */
interface Problem {
  readonly problem: string;
  readonly offset: number;
  readonly mend: string;
}

/** What an expression looks up, or problems of that. The field has to be written out, so that it is known before. */
export function lookUpsIn(ast: ASTNode, types: Type['types']): readonly LookedUp[] | Problem {
  const lookUps: LookedUp[] = [];
  for (const call of callsIn(ast)) {
    const lookUp = lookedUp(call, types);
    if ('problem' in lookUp) return lookUp;
    lookUps.push(lookUp);
  }

  return lookUps;
}

/** The same of an expression that is not compiled. */
export function lookUpsInSource(source: string, types: Type['types']): readonly LookedUp[] | Problem {
  return lookUpsIn(new Environment({ limits, unlistedVariablesAreDyn: true }).parse(source).ast, types);
}

const callsIn = (node: ASTNode): readonly ASTNode[] => [
  ...(node.op === 'call' && node.args[0] === name ? [node] : []),
  ...childrenOf(node.args).flatMap(callsIn),
];

/** The arguments of a call, without its name. */
const argumentsOf = (call: ASTNode): readonly ASTNode[] =>
  (Array.isArray(call.args) ? call.args : []).flatMap((argument: unknown) =>
    Array.isArray(argument) ? argument.filter(isNode) : [],
  );

function lookedUp(call: ASTNode, types: Type['types']): LookedUp | Problem {
  const [, address] = argumentsOf(call);
  const offset = address?.range.start ?? call.range.start;
  if (address?.op !== 'value' || typeof address.args !== 'string')
    return {
      problem: 'the field that is looked up is not written out',
      offset,
      mend: 'Write it in quotes: lookUp(entry.keeper, "keeper.name").',
    };

  const [typeName = '', fieldName = ''] = address.args.split('.');
  const type = types.get(typeName);
  const field = type?.fields.get(fieldName);
  if (field && address.args.split('.').length === 2) return { type: typeName, field };

  const names = type ? [...type.fields.keys()] : [...types.keys()];

  return {
    problem: type ? `there is no field \`${address.args}\` to look up` : `there is no type \`${typeName}\` to look in`,
    offset,
    mend: didYouMean(type ? fieldName : typeName, names) ?? `There are ${list(names)}.`,
  };
}

/** There is no value where one is looked up: an absence, as CEL has it of a key. */
class NoValue extends Error {
  readonly code = 'no_such_key';
}

/** What answers the calls of expressions while they are computed: one at a time. */
export class LookingUp {
  #look: ((entry: string, address: string) => unknown) | undefined;

  within<T>(look: ((entry: string, address: string) => unknown) | undefined, compute: () => T): T {
    const before = this.#look;
    this.#look = look;
    try {
      return compute();
    } finally {
      this.#look = before;
    }
  }

  /** The value of a field of the entry that a reference names. @throws {NoValue} where there is none. */
  value(reference: string, address: string): unknown {
    const value = this.orElse(reference, address, undefined);
    if (value === undefined) throw new NoValue(`${entryNamed(reference, address)} has no value in ${address}`);
    return value;
  }

  orElse(reference: string, address: string, otherwise: unknown): unknown {
    if (!this.#look) throw new NoValue('other entries are not known here');
    return this.#look(entryNamed(reference, address), address) ?? otherwise;
  }
}

/** The address of the entry that a reference names: by its identifier alone it is one of the type that is looked in. */
const entryNamed = (reference: string, address: string): string => {
  if (reference.includes('/')) return reference;
  return `${address.split('.')[0]}/${reference}`;
};
