import { applies, type Conditional, conditionalFields } from '../check/conditions.ts';
import type { Status } from '../definition/builtIn.ts';
import { type Entry, keyOf, statusOf } from '../entry/entry.ts';
import { countedValue } from '../model/emptiness.ts';
import type { Field, Model, Type } from '../model/link.ts';
import { fieldsOf } from '../model/ownFields.ts';
import { isMade } from '../model/traversal.ts';
import { isList, isObject, type Json, ownValue } from '../plain/json.ts';
import { type CountedField, FieldTally, increase } from './fieldTally.ts';

/** Counts of the entries of a type: plain data. */
export interface CountedType {
  readonly entries: ReadonlyMap<Status, number>;
  /** By the path of a field: `name`, `hours.opens`. */
  readonly fields: ReadonlyMap<string, CountedField>;
}

/** The same of all types, by their names. */
export type CountedTypes = ReadonlyMap<string, CountedType>;

/** A field with counts of it, and the fields inside it. */
interface Node {
  readonly field: Field;
  readonly tally: FieldTally;
  readonly inner: ReadonlyMap<string, Node>;
}

interface TypeTally {
  readonly entries: Map<Status, number>;
  readonly nodes: ReadonlyMap<string, Node>;
  /** Fields that apply to some entries alone: of the others there is no place for a value. */
  readonly conditional: ReadonlyMap<string, Conditional>;
  readonly type: Type;
}

/** In which entry something stands. */
interface Within {
  readonly entry: string;
  readonly status: Status;
}

/** Counts how the fields of types are used, entry by entry. */
export class Profiler {
  readonly #types: ReadonlyMap<string, TypeTally>;
  /** Where entries of a type count. */
  readonly #countIn: ReadonlyMap<string, TypeTally>;

  /**
   * @param types the types that are requested; all of them if nothing is stated. Entries of a type that extends one of
   * them, and is not asked about itself, count there.
   */
  constructor(model: Model, types: readonly string[] = [...model.types.keys()]) {
    this.#types = new Map(
      types.flatMap((name) => {
        const type = model.types.get(name);
        if (!type) return [];
        const nodes = nodesOf(type.fields);
        return [[name, { type, nodes, entries: new Map(), conditional: conditionalFields(type) }] as const];
      }),
    );
    this.#countIn = new Map([
      ...[...this.#types].flatMap(([name, tally]) =>
        model.context.acceptedAs(name).map((accepted) => [accepted, tally] as const),
      ),
      ...this.#types,
    ]);
  }

  see(entry: Entry): void {
    const tally = this.#countIn.get(entry.type);
    if (!tally) return;

    const within = { entry: keyOf(entry), status: statusOf(entry) };
    increase(tally.entries, within.status);
    const fields = fieldsOf(entry, tally.type);
    const view = {
      id: entry.id,
      type: entry.type,
      status: within.status,
      fields,
      expressionSteps: entry.expressionSteps,
    };
    for (const [name, node] of tally.nodes) {
      const value = ownValue(fields, name);
      const condition = tally.conditional.get(name);
      if (value !== undefined || !condition || applies(condition, view) === true) visit(node, value, within);
    }
  }

  /** Takes what others counted in the entries behind. */
  take(counted: CountedTypes): void {
    for (const [name, { entries, fields }] of counted) {
      const tally = this.#types.get(name);
      if (!tally) continue;

      for (const [status, times] of entries) increase(tally.entries, status, times);
      for (const [path, node] of eachNode(tally.nodes)) {
        const other = fields.get(path);
        if (other) node.tally.take(other);
      }
    }
  }

  done(): CountedTypes {
    return new Map(
      [...this.#types].map(([name, { entries, nodes }]) => [
        name,
        { entries, fields: new Map([...eachNode(nodes)].map(([path, { tally }]) => [path, tally.done()])) },
      ]),
    );
  }
}

const nodesOf = (fields: ReadonlyMap<string, Field>): ReadonlyMap<string, Node> =>
  new Map(
    [...fields].map(([key, field]) => [key, { field, tally: new FieldTally(field), inner: nodesOf(field.fields) }]),
  );

function* eachNode(nodes: ReadonlyMap<string, Node>): Iterable<readonly [path: string, node: Node]> {
  for (const node of nodes.values()) {
    yield [node.field.name, node];
    yield* eachNode(node.inner);
  }
}

function visit(node: Node, value: Json | undefined, within: Within): void {
  const { field, tally } = node;
  tally.place(within.status);
  const counted = countedValue(field, value);
  if (counted === undefined) return;

  tally.fill(within.status);

  if (!field.common.localized || !isObject(counted)) visitInOne(node, counted, within);
  else
    for (const [language, value] of Object.entries(counted)) {
      tally.language(language);
      visitInOne(node, value, within);
    }
}

function visitInOne(node: Node, value: Json, within: Within): void {
  const { common, kind } = node.field;
  if (!isList(value) || (!common.many && kind.takesLists)) {
    if (common.many) node.tally.items(1);
    visitSingle(node, value, within);
    return;
  }

  node.tally.items(value.length);
  for (const item of value) visitSingle(node, item, within);
}

function visitSingle({ field, tally, inner }: Node, item: Json, within: Within): void {
  if (!isMade(field) || !isObject(item)) {
    tally.value(item, within.entry);
    return;
  }
  if (!field.kind.maps) {
    for (const [key, node] of inner) visit(node, ownValue(item, key), within);
    return;
  }

  const [keys, values] = [inner.get('keys'), inner.get('value')];
  for (const [key, value] of Object.entries(item)) {
    if (keys) visit(keys, key, within);
    if (values) visit(values, value, within);
  }
}
