import { celName } from '../definition/fieldName.ts';
import type { TypeDoc } from '../definition/type.ts';
import { type Wording, wordingMistake } from '../definition/wording.ts';
import { wordsOf } from '../messages/words.ts';
import { type Field, link, type Model, type Type } from '../model/link.ts';
import type { Mistake } from '../model/mistakes.ts';
import { fieldNamed } from '../model/nestedFields.ts';
import { previewMistake } from '../model/previews.ts';
import { reachOf } from '../model/provenance.ts';
import { type Path, pointer } from '../plain/json.ts';
import { didYouMean } from '../plain/nearest.ts';
import { list, quote } from '../plain/words.ts';
import { compileRules } from '../rules/rules.ts';
import { conditionalFields } from './conditions.ts';
import { eligibilitiesOf } from './eligibility.ts';
import { checkField } from './field.ts';
import { inExpression, verifyComputed } from './verifyComputed.ts';
import { verifyInverses } from './verifyInverses.ts';
import { verifyTaxonomy } from './verifyTaxonomy.ts';

/** Every mistake that only shows when the parts of a model are seen together; paths lead into the model document. */
export function* verify(model: Model): Iterable<Mistake> {
  yield* verifyTypes(model, [...model.types.values()]);
  yield* verifyInverses(model);
  yield* verifyUnusedKits(model);
  for (const { name, definition } of model.taxonomies.values()) {
    const path = ['taxonomies', name];
    yield* verifyTaxonomy(name, model);
    const terms = Object.entries(definition.terms).flatMap(([term, { label, about }]) => [
      [['terms', term, 'label'], label] as const,
      [['terms', term, 'about'], about] as const,
    ]);
    yield* verifyWording([[['label'], definition.label], [['about'], definition.about], ...terms], path, model);
  }
}

/** Kits are checked in the types that use them; one that none uses is checked as if it were a type. */
function* verifyUnusedKits(model: Model): Iterable<Mistake> {
  const { shared, types } = model.definition;
  const unused = Object.entries(shared?.kits ?? {}).filter(
    ([name]) => reachOf(model.definition, { what: 'kit', name }).length === 0,
  );
  if (unused.length === 0) return;

  const bare = unused.map(([name, { label: _, origins: __, kits: ___, ...kit }]): [string, TypeDoc] => [name, kit]);
  const asTypes = link({ ...model.definition, types: { ...types, ...Object.fromEntries(bare) } });
  yield* verifyTypes(
    asTypes,
    unused.flatMap(([name]) => asTypes.types.get(name) ?? []),
  );
}

function* verifyWording(
  wordings: readonly (readonly [Path, Wording | undefined])[],
  innerPath: Path,
  { definition }: Model,
): Iterable<Mistake> {
  for (const [path, wording] of wordings) {
    const mistake = wordingMistake(wording, definition.languages);
    if (mistake) yield { path: [...innerPath, ...path], ...mistake };
  }
}

function* verifyTypes(model: Model, types: readonly Type[]): Iterable<Mistake> {
  for (const type of types) {
    const path = ['types', type.name];
    yield* verifyTitled(type, path);
    yield* verifyOrder(type, path);
    yield* verifyPreviews(type, path);
    yield* verifyRules(type, path);
    const { label, about, guide, rules = [] } = type.definition;
    const wordings: readonly (readonly [Path, Wording | undefined])[] = [
      [['label', 'one'], label?.one],
      [['label', 'many'], label?.many],
      [['about'], about],
      [['guide'], guide],
      ...rules.map(({ say: wording }, index) => [['rules', index, 'say'], wording] as const),
    ];
    yield* verifyWording(wordings, path, model);
    const bodies = [...type.fields.values()].filter((field) => field.kind.isBody(field.options));
    for (const second of bodies.slice(1))
      yield {
        path: [...path, 'fields', second.name, 'body'],
        says: `\`${bodies[0]?.name}\` is the body of the file already`,
        mend: 'Leave `body: true` on one of the two.',
      };

    yield* verifyWords(type, path);
    yield* verifyComputed(type, model, path);
    yield* verifyConditions(type, path);
    yield* verifyFields([...type.fields], type, model, [...path, 'fields']);
  }
}

function* verifyFields(
  fields: readonly (readonly [string, Field])[],
  type: Type,
  model: Model,
  path: Path,
): Iterable<Mistake> {
  for (const [name, field] of fields) {
    const innerPath = [...path, name];
    for (const mistake of verifyField(field, type, model)) yield { ...mistake, path: [...innerPath, ...mistake.path] };
    yield* verifyFields([...field.fields], type, model, field.kind.maps ? innerPath : [...innerPath, 'fields']);
    const { eligible, types } = field.kind.pointsAt(field.options);
    if (eligible === undefined) continue;

    for (const target of types.flatMap((type) => model.types.get(type) ?? []))
      for (const { compiled } of eligibilitiesOf(target, [field]))
        if ('problem' in compiled)
          yield inExpression(
            [...innerPath, 'eligible'],
            `the condition ${quote(eligible, 60)} on ${target.name}`,
            compiled,
          );
  }
}

/** Fields that expressions could not tell apart. */
function* verifyWords({ fields }: Type, path: readonly string[]): Iterable<Mistake> {
  const words = new Map<string, string>();
  for (const name of fields.keys()) {
    const other = words.get(celName(name));
    if (other === undefined) words.set(celName(name), name);
    else
      yield {
        path: [...path, 'fields', name],
        atKey: true,
        says: `\`${name}\` and \`${other}\` are both called \`${celName(name)}\` in expressions`,
        mend: 'Give one of the two another name.',
      };
  }
}

function* verifyConditions(type: Type, path: readonly string[]): Iterable<Mistake> {
  for (const { field, when, compiled } of conditionalFields(type).values()) {
    const innerPath = [...path, 'fields', field, 'when'];
    if ('problem' in compiled) yield inExpression(innerPath, `the condition ${quote(when, 60)}`, compiled);
    else if (compiled.names.includes(field))
      yield { path: innerPath, says: `\`${field}\` is looked at itself`, mend: 'Let it depend on other fields.' };
  }
}

function* verifyTitled(type: Type, path: readonly string[]): Iterable<Mistake> {
  const { definition, fields } = type;
  const { titled } = definition;
  if (titled === undefined) return;

  const field = fieldNamed(type, titled);
  const above = titled.split('.').map((_, index, keys) => fieldNamed(type, keys.slice(0, index).join('.')));
  if (!field)
    yield {
      path: [...path, 'titled'],
      misses: titled,
      says: `there is no field \`${titled}\``,
      mend: didYouMean(titled, fields.keys()) ?? `Name one of ${list([...fields.keys()])}.`,
    };
  else if (field.kind.freeText !== 'line' || [field, ...above].some((field) => field?.common.many || field?.kind.maps))
    yield {
      path: [...path, 'titled'],
      says: `\`${titled}\` cannot name an entry: it is not one text`,
      mend: 'Name a field of kind text that holds one value.',
    };
}

function* verifyOrder({ definition: { order = [] }, fields }: Type, path: readonly string[]): Iterable<Mistake> {
  for (const [index, name] of order.entries()) {
    if (!fields.has(name))
      yield {
        path: [...path, 'order', index],
        misses: name,
        says: `there is no field ${quote(name)}`,
        mend: didYouMean(name, fields.keys()) ?? `Name some of ${list([...fields.keys()])}.`,
      };

    if (order.indexOf(name) < index)
      yield { path: [...path, 'order', index], says: `\`${name}\` stands twice`, mend: 'Name each field once.' };
  }
}

function* verifyPreviews({ definition: { previews = {} }, fields }: Type, path: readonly string[]): Iterable<Mistake> {
  for (const [name, preview] of Object.entries(previews)) {
    const mistake = previewMistake(preview, fields);
    if (mistake) yield { path: [...path, 'previews', name], ...mistake };
  }
}

function* verifyRules(type: Type, path: readonly string[]): Iterable<Mistake> {
  for (const [index, { rule, compiled }] of compileRules(type).entries()) {
    const innerPath = [...path, 'rules', index];
    if ('problem' in compiled)
      yield inExpression([...innerPath, 'expect'], `the rule ${quote(rule.expect, 60)}`, compiled);
    if (rule.at !== undefined && !type.fields.has(rule.at))
      yield {
        path: [...innerPath, 'at'],
        misses: rule.at,
        says: `there is no field \`${rule.at}\``,
        mend: didYouMean(rule.at, type.fields.keys()) ?? `Name one of ${list([...type.fields.keys()])}.`,
      };
  }
}

function* verifyField(field: Field, type: Type, model: Model): Iterable<Mistake> {
  const { common, kind, options } = field;
  const groups = type.definition.groups ?? [];

  for (const key of ['label', 'help'] as const) {
    const mistake = wordingMistake(common[key], model.definition.languages);
    if (mistake) yield { path: [key], ...mistake };
  }

  if (common.group !== undefined && !groups.includes(common.group))
    yield {
      path: ['group'],
      says: `there is no group ${quote(common.group)} in \`${type.name}\``,
      mend:
        didYouMean(common.group, groups) ??
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
  const home = { type: type.name, field: field.name };
  for (const { option, inside = [], ...rest } of kind.mistakes(options, model.context, home)) {
    isBroken = true;
    yield { path: [option, ...inside], ...rest };
  }

  if (isBroken) return;
  for (const option of ['default', 'example'] as const)
    if (common[option] !== undefined) yield* verifyValue(field, option, model);
}

/** A value that the model itself names has to obey the field that it is named for. */
function* verifyValue(field: Field, option: 'default' | 'example', model: Model): Iterable<Mistake> {
  const value = field.common[option];
  const broken: Mistake[] = [];
  checkField(field, model.context)(value, 'published', (path, complaint) => {
    const { says: message, mend } = wordsOf(complaint);
    const where = path.length > 0 ? `${pointer(path)} ` : '';
    broken.push({
      path: [option, ...path],
      says: `the ${option} ${quote(value)} breaks the field's own rules: ${where}${message}`,
      mend,
    });
  });
  yield* broken.slice(0, 1);
}
