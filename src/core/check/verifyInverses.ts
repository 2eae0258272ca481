import type { Field, Model } from '../model/link.ts';
import type { Mistake } from '../model/mistakes.ts';
import { fieldsWithin } from '../model/nestedFields.ts';
import { provenanceOf } from '../model/provenance.ts';

/** Names that a target gets twice: by two fields that point at it, or by one and its own field. */
export function* verifyInverses(model: Model): Iterable<Mistake> {
  const given = new Map<string, Field>();
  for (const type of model.types.values())
    for (const field of fieldsWithin(type.fields)) {
      const { inverse: name, types } = field.kind.pointsAt(field.options);
      if (name === undefined) continue;
      for (const target of new Set(types.flatMap(model.context.acceptedAs))) {
        const problem = saidTwice(field, target, name, { given, model });
        if (problem === undefined) continue;
        const path = ['types', type.name, ...field.name.split('.').flatMap((key) => ['fields', key]), 'inverse'];
        yield { path, says: problem, mend: 'Give the other side another name.' };
        break;
      }
    }
}

interface Names {
  /** The field that gave a target a name first, by `target.name`. */
  readonly given: Map<string, Field>;
  readonly model: Model;
}

function saidTwice(field: Field, target: string, name: string, { given, model }: Names): string | undefined {
  if (model.types.get(target)?.fields.has(name)) return `\`${target}\` has a field \`${name}\` of its own`;
  const key = `${target}.${name}`;
  const first = given.get(key);
  if (!first) given.set(key, field);
  if (!first || first.address === field.address || isSameMade(first, field, model)) return undefined;
  return `\`${target}\` is called so by \`${first.address}\` already: seen from there, \`${name}\` would be two things`;
}

/** Whether two fields are one that was made in a kit, or a shared one: from the other side they are the same thing. */
function isSameMade(a: Field, b: Field, { definition }: Model): boolean {
  const [provenance, other] = [a, b].map(({ type, name }) =>
    provenanceOf(definition, type, name).find(({ what: category }) => category === 'kit' || category === 'field'),
  );
  return (
    provenance !== undefined && provenance.what === other?.what && provenance.name === other.name && a.name === b.name
  );
}
