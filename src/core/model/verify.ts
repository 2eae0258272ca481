import { checkField } from '../check/field.ts';
import { pointer } from '../json.ts';
import { didYouMean } from '../nearest.ts';
import { compileRules } from '../rules/rules.ts';
import { list, quote } from '../words.ts';
import type { Field, Model, Type } from './link.ts';
import type { Mistake } from './mistakes.ts';

/** Every mistake that only shows when the parts of a model are seen together; paths lead into the model document. */
export function* verify(model: Model): Iterable<Mistake> {
  for (const type of model.types.values()) {
    const here = ['types', type.name];
    yield* verifyTitled(type, here);
    yield* verifyRules(type, here);
    const bodies = [...type.fields.values()].filter((field) => field.kind.isBody(field.options));
    for (const second of bodies.slice(1))
      yield {
        path: [...here, 'fields', second.name, 'body'],
        says: `\`${bodies[0]?.name}\` is the body of the file already`,
        mend: 'Leave `body: true` on one of the two.',
      };
    for (const field of type.fields.values()) {
      const path = [...here, 'fields', field.name];
      for (const mistake of verifyField(field, type, model)) yield { ...mistake, path: [...path, ...mistake.path] };
    }
  }
}

function* verifyTitled({ form: { titled }, fields }: Type, path: readonly string[]): Iterable<Mistake> {
  if (titled === undefined) return;
  const field = fields.get(titled);
  if (!field)
    yield {
      path: [...path, 'titled'],
      says: `there is no field \`${titled}\``,
      mend: didYouMean(titled, fields.keys()).trim() || `Name one of ${list([...fields.keys()])}.`,
    };
  else if (field.kind.name !== 'text' || field.common.many)
    yield {
      path: [...path, 'titled'],
      says: `\`${titled}\` cannot name an entry: it is not one text`,
      mend: 'Name a field of kind text that holds one value.',
    };
}

function* verifyRules(type: Type, path: readonly string[]): Iterable<Mistake> {
  for (const [index, { rule, compiled }] of compileRules(type).entries()) {
    const here = [...path, 'rules', index];
    if ('problem' in compiled)
      yield {
        path: [...here, 'expect'],
        offset: compiled.offset,
        says: `in the rule ${quote(rule.expect, 60)}, at character ${compiled.offset + 1}: ${compiled.problem}`,
        mend: compiled.mend,
      };
    if (rule.at !== undefined && !type.fields.has(rule.at))
      yield {
        path: [...here, 'at'],
        says: `there is no field \`${rule.at}\``,
        mend: didYouMean(rule.at, type.fields.keys()).trim() || `Name one of ${list([...type.fields.keys()])}.`,
      };
  }
}

function* verifyField(field: Field, type: Type, model: Model): Iterable<Mistake> {
  const { common, kind, options } = field;
  const groups = type.form.groups ?? [];
  if (common.group !== undefined && !groups.includes(common.group))
    yield {
      path: ['group'],
      says: `there is no group ${quote(common.group)} in \`${type.name}\``,
      mend:
        didYouMean(common.group, groups).trim() ||
        `Add it to \`groups\` of the type${groups.length > 0 ? `, or use one of ${list(groups, 'or')}` : ''}.`,
    };
  const { min, max } = common.many ?? {};
  if (min !== undefined && max !== undefined && min > max)
    yield {
      path: ['many', 'min'],
      says: `\`min\` (${min}) is more than \`max\` (${max}), so no list could pass`,
      mend: 'Swap them or change one.',
    };
  if (common.localized && kind.isBody(options))
    yield { path: ['localized'], says: 'the body of a file is one text', mend: 'Remove `localized` or `body`.' };
  if (common.localized && kind.term)
    yield {
      path: ['localized'],
      says: 'a term is the same in each language; its label differs',
      mend: 'Remove `localized`.',
    };
  if (common.many && kind.isBody(options))
    yield { path: ['many'], says: 'the body of a file is one text', mend: 'Remove `many` or `body`.' };
  let isBroken = false;
  for (const { option, says, mend } of kind.mistakes(options, model.around, { type: type.name, field: field.name })) {
    isBroken = true;
    yield { path: [option], says, mend };
  }
  if (!isBroken && common.default !== undefined) yield* verifyDefault(field, model);
}

function* verifyDefault(field: Field, model: Model): Iterable<Mistake> {
  const broken: Mistake[] = [];
  checkField(field, model.around)(field.common.default, 'published', (path, _finding, { says, mend }) => {
    broken.push({
      path: ['default', ...path],
      says: `the default ${quote(field.common.default)} breaks the field's own rules: ${pointer(path)} ${says}`.replace(
        ':  ',
        ': ',
      ),
      mend,
    });
  });
  yield* broken.slice(0, 1);
}
