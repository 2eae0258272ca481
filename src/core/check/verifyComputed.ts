import type { Field, Model, Type } from '../model/link.ts';
import type { Mistake } from '../model/mistakes.ts';
import { fieldsWithin } from '../model/nestedFields.ts';
import type { Path } from '../plain/json.ts';
import { didYouMean } from '../plain/nearest.ts';
import { list } from '../plain/words.ts';
import type { ExpressionProblem } from '../rules/expressionProblem.ts';
import { type ComputedField, computedFields } from './eligibility.ts';

/** A mistake in an expression, with where in it. */
export const inExpression = (path: Path, place: string, { problem, offset, ...rest }: ExpressionProblem): Mistake => ({
  path,
  offset,
  says: `in ${place}, at character ${offset + 1}: ${problem}`,
  ...rest,
});

/** Problems of the fields of a type whose values follow from others. */
export function* verifyComputed(type: Type, model: Model, path: Path): Iterable<Mistake> {
  for (const field of type.fields.values())
    if (field.common.computed) yield* verifyAsked(field, [...path, 'fields', field.name]);
  yield* verifyCircles(type, path);
  for (const { field, compiled } of computedFields(type))
    if ('problem' in compiled)
      yield inExpression(
        [...path, 'fields', field.name, 'computed'],
        `what \`${field.name}\` is computed from`,
        compiled,
      );

  for (const { name, common, kind } of type.fields.values()) {
    const { computed } = common;
    if (!computed || 'cel' in computed) continue;

    const innerPath = [...path, 'fields', name, 'computed'];
    const counted = [...model.types.values()]
      .flatMap(({ fields }) => fieldsWithin(fields))
      .filter((field) =>
        field.kind.pointsAt(field.options).types.flatMap(model.context.acceptedAs).includes(type.name),
      );
    const addresses = [...new Set(counted.map(({ address }) => address))];
    // The count of a subtype counts the entries of the subtype alone.
    if (!counted.some((field) => computed.count === `${field.type}.${field.name}`))
      yield {
        path: innerPath,
        says: `\`${computed.count}\` is no reference that points at ${type.name}`,
        mend:
          didYouMean(computed.count, addresses) ??
          (addresses.length > 0 ? `Count one of ${list(addresses)}.` : 'No reference points here yet.'),
      };
    else if (kind.name !== 'integer' || common.many || common.localized)
      yield {
        path: innerPath,
        says: 'a count is one whole number',
        mend: 'Give the field the kind `integer`, and one value.',
      };
  }
}

/** What may not be stated of a value that nobody writes. */
function* verifyAsked({ name, common }: Field, path: Path): Iterable<Mistake> {
  for (const option of ['required', 'default'] as const)
    if (common[option] !== undefined)
      yield {
        path: [...path, option],
        says: `\`${name}\` is computed, so nobody has to write it`,
        mend: `Remove \`${option}\`, or \`computed\`.`,
      };
}

/** Fields that are computed from each other. */
function* verifyCircles(type: Type, path: Path): Iterable<Mistake> {
  const uses = new Map(
    computedFields(type).flatMap(({ field, compiled }: ComputedField) =>
      'problem' in compiled ? [] : [[field.name, compiled.names] as const],
    ),
  );
  for (const start of uses.keys()) {
    const way = wayBack(start, uses);
    if (!way) continue;

    yield {
      path: [...path, 'fields', start, 'computed'],
      says:
        way.length === 1
          ? `\`${start}\` is computed from itself`
          : `\`${start}\` is computed from ${list(way.slice(1).map((name) => `\`${name}\``))}, and that from \`${start}\``,
      mend: 'Compute one of them from fields that authors write.',
    };

    return;
  }
}

/** The fields on the shortest way from one back to itself. */
function wayBack(start: string, uses: ReadonlyMap<string, readonly string[]>): readonly string[] | undefined {
  const visited = new Set<string>();
  let ways: readonly (readonly string[])[] = [[start]];
  while (ways.length > 0) {
    const next: (readonly string[])[] = [];
    for (const way of ways)
      for (const name of uses.get(way.at(-1) ?? '') ?? []) {
        if (name === start) return way;
        if (!uses.has(name) || visited.has(name)) continue;
        visited.add(name);
        next.push([...way, name]);
      }

    ways = next;
  }

  return undefined;
}
