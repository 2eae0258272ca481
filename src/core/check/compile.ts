import { isFieldWord } from '../definition/address.ts';
import { factsByKey } from '../definition/builtIn.ts';
import { fieldNameFrom } from '../definition/fieldName.ts';
import { type Entry, ownFactKeys } from '../entry/entry.ts';
import { type Finding, findingOf } from '../entry/findings.ts';
import type { ModelContext } from '../kinds/kindParts.ts';
import { countedValue } from '../model/emptiness.ts';
import type { Field, Model, Type } from '../model/link.ts';
import { at, compact, type Json } from '../plain/json.ts';
import { nearest } from '../plain/nearest.ts';
import { onceFor } from '../plain/once.ts';
import { type EntryView, ExpressionUnjudged } from '../rules/expression.ts';
import { applies, type Conditional, conditionalFields } from './conditions.ts';
import { compileCrossField, unjudged, viewOf } from './crossField.ts';
import { conditionsByTarget } from './eligibility.ts';
import { type Facts, type Gather, gatherer, noFacts } from './facts.ts';
import { type CheckValue, checkField, type ReportAt } from './field.ts';
import { checkId, checkReserved, type Find } from './identity.ts';
import { lookedUpByType, valuesLookedUp } from './lookedUpValues.ts';
import { foundIn } from './makeFinding.ts';

/** Pass one of checking: looks at each entry alone, in any order, on any slice of any store. */
export interface Checker {
  readonly check: (entry: Entry) => { readonly findings: readonly Finding[]; readonly facts: Facts };
}

/** What checking depends on beside the model and the entry. */
export interface Circumstances extends Partial<Pick<ModelContext, 'assets' | 'readLinks'>> {
  /** The moment (RFC 3339) at which an entry counts as public or not. */
  readonly currentTime?: string;
}

/**
 * Compiles a model into a checker of single entries. Checks that need unknown circumstances are left out.
 */
export function compile(model: Model, { currentTime, ...beside }: Circumstances = {}): Checker {
  const context = { ...model.context, ...compact(beside) };
  const conditions = conditionsByTarget(model);
  const lookedUp = lookedUpByType(model);
  // A type is compiled when its first entry comes: most commands never meet most types.
  const compiled = new Map<string, CheckEntry>();

  const checkerOf = (name: string): CheckEntry | undefined => {
    const existing = compiled.get(name);
    const type = existing ? undefined : model.types.get(name);
    if (!type) return existing;

    const demands = { conditions: conditions.get(name), lookedUp: lookedUp.get(name) };
    const check = compileType(type, { ...model, context }, currentTime, demands);
    compiled.set(name, check);
    return check;
  };

  return {
    check: (entry) => {
      const findings: Finding[] = [];
      const { type: name, id } = entry;

      const find: Find = (message, path, data) => {
        findings.push({
          finding: findingOf(message),
          message,
          data,
          severity: 'error',
          entry: { type: name, id },
          path,
        });
      };

      checkId(entry, find);
      const type = checkerOf(entry.type);
      if (!type) {
        for (const key in entry.values) checkReserved(key, entry, find);
        const { type: key } = ownFactKeys(entry);
        const path = key !== undefined && key in entry.values ? [key] : [];
        find('unknown-type', path, { type: name, near: nearest(name, model.types) });
        return { findings, facts: noFacts(entry) };
      }

      return { findings, facts: type(entry, findings, find) };
    },
  };
}

/** A field of a type as its entries meet it. */
interface Slot {
  readonly name: string;
  readonly check: CheckValue;
  readonly gather: Gather | undefined;
  /** The value as it counts: nothing where it counts as none. */
  readonly counted: (value: Json | undefined) => Json | undefined;
  /** Where it applies, if not everywhere. */
  readonly condition: Conditional | undefined;
}

/** The fields of a type as its entries meet them, by name. */
function slotsOf(type: Type, { context }: Model): ReadonlyMap<string, Slot> {
  const conditionals = conditionalFields(type);
  return new Map(
    [...type.fields.values()].map((field) => [
      field.name,
      {
        name: field.name,
        check: checkField(field, context),
        gather: gatherer(field, context),
        counted: (value) => countedValue(field, value),
        condition: conditionals.get(field.name),
      },
    ]),
  );
}

/** Checks one entry of a type: adds problems to the findings, and gives what the entry says to others. */
type CheckEntry = (entry: Entry, findings: Finding[], find: Find) => Facts;

/** What others ask of the entries of a type. */
interface Demands {
  /** The fields that put conditions on their targets. */
  readonly conditions: readonly Field[] | undefined;
  /** The names of fields whose values others look up. */
  readonly lookedUp: ReadonlySet<string> | undefined;
}

function compileType(
  type: Type,
  model: Model,
  currentTime: string | undefined,
  { conditions, lookedUp }: Demands,
): CheckEntry {
  const slots = slotsOf(type, model);
  const askedSlots = [...slots.values()].filter(({ name }) => type.fields.get(name)?.common.required !== undefined);
  const body = type.body && slots.get(type.body.name);
  const checkCrossField = compileCrossField(type, model.definition.languages, currentTime, conditions);

  return (entry, findings, find) => {
    const { values, prose } = entry;
    const facts = noFacts(entry);
    const { status } = facts;
    let name = '';
    let value: Json | undefined;

    const report: ReportAt = (inside, { key, ...complaint }) => {
      const wrong = value === undefined ? undefined : (key ?? at(value, inside));
      findings.push({
        finding: findingOf(complaint.message),
        ...complaint,
        entry: { type: entry.type, id: entry.id },
        path: [name, ...inside],
        ...(wrong === undefined ? {} : { value: wrong }),
      });
    };

    const lookInside = (slot: Slot, innerValue: Json | undefined): void => {
      name = slot.name;
      value = innerValue;
      slot.check(innerValue, status, report);
      slot.gather?.(innerValue, facts);
    };

    // Their conditions read the other fields, so those are checked first.
    const conditional: (readonly [Slot, Conditional, Json | undefined])[] = [];

    const look = (slot: Slot, value: Json | undefined): void => {
      if (slot.condition) conditional.push([slot, slot.condition, value]);
      else lookInside(slot, value);
    };

    // Goes by the keys that are there: most entries leave out most of what their type could hold.
    for (const key in values) {
      const slot = slots.get(key);
      if (slot === undefined) {
        if (!checkReserved(key, entry, find) && key !== schemaKey) findUnknown(key, type, { entry, find });
      } else if (slot !== body || prose === undefined) look(slot, values[key]);
      else findTwice(key, find);
    }
    if (body && prose !== undefined) look(body, prose);
    else if (prose !== undefined) findProse(type, find);
    for (const slot of askedSlots)
      if (!Object.hasOwn(values, slot.name) && (slot !== body || prose === undefined)) look(slot, undefined);

    if (conditional.length > 0) {
      const view = viewOf(entry, type, { status, currentTime, findings });
      for (const [slot, condition, item] of conditional)
        if (isDue(condition, view, slot.counted(item), findings)) lookInside(slot, item);
    }

    checkCrossField?.(entry, facts, findings);
    if (lookedUp) facts.lookedUp = valuesLookedUp(entry, type, lookedUp);

    return facts;
  };
}

/**
 * Whether a field that applies to some entries alone is to be looked at in one; where it does not apply and has a value
 * all the same, that is stated.
 */
function isDue(conditional: Conditional, view: EntryView, value: Json | undefined, findings: Finding[]): boolean {
  const { field, when } = conditional;
  const outcome = applies(conditional, view);
  if (outcome instanceof ExpressionUnjudged) {
    const origin = ['types', view.type, 'fields', field, 'when'];
    findings.push(...unjudged(view, { path: [field], origin, source: when }, outcome));
  }

  if (outcome === true) return true;

  if (outcome === false && value !== undefined)
    findings.push(foundIn(view, 'not-applicable', { when }, { path: [field], value, limit: when }));

  return false;
}

const findProse = ({ name }: Type, find: Find): void => find('body-not-expected', [], { type: name });

const findTwice = (key: string, find: Find): void => find('unknown-field:twice', [key], {});

function findUnknown(
  key: string,
  { name, fields }: Type,
  { entry, find }: { readonly entry: Entry; readonly find: Find },
): void {
  const near = nearest(key, fields) ?? nearest(key, factsByKey(ownFactKeys(entry)));
  if (isFieldWord(key)) find('unknown-field', [key], { type: name, near, fields: namesOf(fields) });
  else find('unknown-field:odd', [key], { type: name, key, field: nearest(key, fields) ?? fieldNameFrom(key) });
}

/** One list for all that have to name them. */
const namesOf = onceFor((fields: Type['fields']) => [...fields.keys()]);

/** The key by which a file names its JSON Schema; it says nothing about the entry. */
const schemaKey = '$schema';
