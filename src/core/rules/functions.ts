import type { Environment } from '@marcbachmann/cel-js';
import type { Type } from '../model/link.ts';
import { patternOf } from '../patterns/pattern.ts';
import { slugify } from '../plain/slugify.ts';
import type { CelFunction } from './celFunction.ts';
import { dateFunctions } from './dateFunctions.ts';
import { bounded, folded, itemOf, keyOf, placesIn, sorted } from './functionValues.ts';
import { readingFunctions } from './readingFunctions.ts';

/** The functions that ask the taxonomies of a model. */
const termFunctions: readonly CelFunction[] = [
  {
    name: 'under',
    call: 'term.under(branch)',
    about: 'Whether a term is in a branch, or is its top; the branch with its taxonomy.',
    example: ["'skerries'.under('region:north')", true],
  },
  {
    name: 'termLabel',
    call: 'termLabel(taxonomy, term)',
    about: 'What readers see of a term, in the main language.',
    example: ["termLabel('region', 'holm-bay')", 'Holm bay'],
  },
];

/** The function that asks other entries; what answers it is registered where expressions are judged. */
const lookUp: CelFunction = {
  name: 'lookUp',
  call: 'lookUp(reference, "type.field")',
  about:
    'The value of a field of the entry that a reference names; with a third argument what to take where it has none. In rules, computed fields, migrations (the entries as they were before) and try.',
  example: ["lookUp('ada-rook', 'keeper.name')", 'Ada Rook'],
};

/** The functions that expressions can call beside what CEL has in its grammar: those of CEL, and ours. */
export const celFunctions: readonly CelFunction[] = [
  ...termFunctions,
  lookUp,
  {
    name: 'has',
    call: 'has(entry.field)',
    about: 'Whether a field has a value.',
    example: ["[{'a': 1}].all(x, has(x.a))", true],
  },
  {
    name: 'size',
    call: 'size(value)',
    about: 'The number of characters of a text, of items of a list, of keys.',
    example: ["size('ab')", 2],
  },
  {
    name: 'contains',
    call: 'text.contains(part)',
    about: 'Whether a text contains another.',
    example: ["'Skerry Point'.contains('Point')", true],
  },
  {
    name: 'startsWith',
    call: 'text.startsWith(part)',
    about: 'Whether a text starts with a part.',
    example: ["'Skerry'.startsWith('Sk')", true],
  },
  {
    name: 'endsWith',
    call: 'text.endsWith(part)',
    about: 'Whether a text ends with a part.',
    example: ["'Skerry'.endsWith('y')", true],
  },
  {
    name: 'indexOf',
    call: 'text.indexOf(part)',
    about: 'Where a part stands first, counted from 0; -1 where it does not.',
    example: ["'a-b'.indexOf('-')", 1],
  },
  {
    name: 'lastIndexOf',
    call: 'text.lastIndexOf(part)',
    about: 'Where a part stands last, counted from 0; -1 where it does not.',
    example: ["'a-b-c'.lastIndexOf('-')", 3],
  },
  {
    name: 'substring',
    call: 'text.substring(from, to)',
    about: 'The part of a text from one place up to, but not including, another.',
    example: ["'lantern'.substring(0, 4)", 'lant'],
  },
  {
    name: 'matches',
    call: 'text.matches(pattern)',
    about: 'Whether a regular expression matches somewhere; it cannot hang.',
    example: ["'1858-10'.matches('^[0-9]{4}')", true],
  },
  {
    name: 'all',
    call: 'list.all(x, condition)',
    about: 'Whether a condition holds for every item.',
    example: ['[1, 2].all(x, x > 0)', true],
  },
  {
    name: 'exists',
    call: 'list.exists(x, condition)',
    about: 'Whether a condition holds for some item.',
    example: ['[1, 2].exists(x, x > 1)', true],
  },
  {
    name: 'exists_one',
    call: 'list.exists_one(x, condition)',
    about: 'Whether a condition holds for exactly one item.',
    example: ['[1, 2].exists_one(x, x > 1)', true],
  },
  {
    name: 'map',
    call: 'list.map(x, expression)',
    about: 'What an expression gives for each item.',
    example: ['[1, 2].map(x, x * 2)', [2, 4]],
  },
  {
    name: 'filter',
    call: 'list.filter(x, condition)',
    about: 'The items for which a condition holds.',
    example: ['[1, 2].filter(x, x > 1)', [2]],
  },
  {
    name: 'split',
    call: 'text.split(separator)',
    about: 'The parts of a text between a separator.',
    example: ["'a, b'.split(', ')", ['a', 'b']],
  },
  {
    name: 'join',
    call: 'list.join(separator)',
    about: 'The texts of a list as one, with a separator between.',
    example: ["['a', 'b'].join(', ')", 'a, b'],
  },
  { name: 'trim', call: 'text.trim()', about: 'A text without blanks around it.', example: ["' a '.trim()", 'a'] },
  {
    name: 'int',
    call: 'int(value)',
    about: 'A whole number out of a text or a number, cut off at the point.',
    example: ["int('12')", 12],
  },
  {
    name: 'double',
    call: 'double(value)',
    about: 'A number with decimal places out of a text or a whole number.',
    example: ["double('38.5')", 38.5],
  },
  {
    name: 'string',
    call: 'string(value)',
    about: 'A number, or true and false, as text.',
    example: ['string(12)', '12'],
  },
  {
    name: 'replace',
    call: 'text.replace(old, new)',
    about: 'A text with another part wherever it has a certain one.',
    example: ["'a-b-c'.replace('-', ' ')", 'a b c'],
    overloads: {
      'string.replace(string, string): string': (text: string, old: string, by: string) =>
        bounded(old === '' ? text : text.replaceAll(old, () => by)),
    },
  },
  {
    name: 'replacePattern',
    call: 'text.replacePattern(pattern, new)',
    about:
      'A text with everything exchanged for another that a regular expression matches. In that, `$1` is what the first group matched, `$&` the whole match, `$$` a dollar sign.',
    example: ["'Holt, Maren'.replacePattern('(.+), (.+)', '$2 $1')", 'Maren Holt'],
    overloads: {
      'string.replacePattern(string, string): string': (text: string, pattern: string, by: string) =>
        bounded(patternOf(pattern).replace(text, by)),
    },
  },
  {
    name: 'upper',
    call: 'text.upper()',
    about: 'A text in capitals.',
    example: ["'été'.upper()", 'ÉTÉ'],
    overloads: { 'string.upper(): string': (text: string) => bounded(text.toUpperCase()) },
  },
  {
    name: 'lower',
    call: 'text.lower()',
    about: 'A text in small letters.',
    example: ["'ÉTÉ'.lower()", 'été'],
    overloads: { 'string.lower(): string': (text: string) => bounded(text.toLowerCase()) },
  },
  {
    name: 'fold',
    call: 'text.fold()',
    about: 'A text without its accents.',
    example: ["'Île Épave'.fold()", 'Ile Epave'],
    overloads: { 'string.fold(): string': folded },
  },
  {
    name: 'slug',
    call: 'text.slug(), text.slug(language)',
    about:
      'The last part of a web address out of a text; with a language as that language writes it: in German ü is ue.',
    example: ["'Über Sylt'.slug('de')", 'ueber-sylt'],
    overloads: {
      'string.slug(): string': (text: string) => slugify(text),
      'string.slug(string): string': (text: string, language: string) => slugify(text, language),
    },
  },
  {
    name: 'first',
    call: 'list.first()',
    about: 'The first item of a list that has one.',
    example: ['[3, 4].first()', 3],
    overloads: { 'list.first(): dyn': (list: readonly unknown[]) => itemOf(list, 0) },
  },
  {
    name: 'last',
    call: 'list.last()',
    about: 'The last item of a list that has one.',
    example: ['[3, 4].last()', 4],
    overloads: { 'list.last(): dyn': (list: readonly unknown[]) => itemOf(list, list.length - 1) },
  },
  {
    name: 'distinct',
    call: 'list.distinct()',
    about: 'A list with each item once, where it stands first.',
    example: ['[1, 2, 1].distinct()', [1, 2]],
    overloads: {
      'list.distinct(): list<dyn>': (list: readonly unknown[]) => [
        ...new Map(list.map((item) => [keyOf(item), item] as const)).values(),
      ],
    },
  },
  {
    name: 'sort',
    call: 'list.sort()',
    about: 'A list in order: numbers by size, texts by their letters.',
    example: ['[3, 1, 2].sort()', [1, 2, 3]],
    overloads: { 'list.sort(): list<dyn>': sorted },
  },
  {
    name: 'round',
    call: 'round(number), round(number, places)',
    about: 'The nearest whole number, or the nearest with so many decimal places.',
    example: ['round(38.46, 1)', 38.5],
    overloads: {
      'round(double): int': (value: number) => BigInt(Math.round(value)),
      'round(double, int): double': (value: number, places: bigint) => Number(value.toFixed(placesIn(places))),
    },
  },
  {
    name: 'format',
    call: 'format(number, places)',
    about: 'A number as text with so many decimal places.',
    example: ['format(38.5, 2)', '38.50'],
    overloads: {
      'format(double, int): string': (value: number, places: bigint) => value.toFixed(placesIn(places)),
      'format(int, int): string': (value: bigint, places: bigint) => Number(value).toFixed(placesIn(places)),
    },
  },
  ...dateFunctions,
  ...readingFunctions,
];

/** Whether a term is in a branch of a taxonomy: `region:north`, or `region:` for all of it. */
function isUnder(term: string, branch: string, taxonomies: Taxonomies): boolean {
  const colon = branch.indexOf(':');
  const taxonomy = taxonomies.get(branch.slice(0, Math.max(0, colon)));
  if (!taxonomy) throw new Error(`there is no taxonomy in “${branch}”: write it as region:north`);

  const top =
    branch
      .slice(colon + 1)
      .split('/')
      .at(-1) ?? '';
  if (top !== '' && !taxonomy.terms.has(top)) throw new Error(`there is no term “${top}” in ${taxonomy.name}`);

  const places = taxonomy.terms.get(term)?.places ?? [];

  if (top === '') return places.length > 0;
  return places.some((place) => place.includes(top));
}

function termLabel(name: string, term: string, taxonomies: Taxonomies): string {
  const taxonomy = taxonomies.get(name);
  if (!taxonomy) throw new Error(`there is no taxonomy “${name}”`);
  return taxonomy.terms.get(term)?.label ?? term;
}

type Taxonomies = Type['taxonomies'];

/** Gives an environment all of them. @param taxonomies those that the functions for terms ask. */
export function registerFunctions(environment: Environment, taxonomies: Taxonomies): Environment {
  environment
    .registerFunction('string.under(string): bool', (term: string, branch: string) => isUnder(term, branch, taxonomies))
    .registerFunction('termLabel(string, string): string', (name: string, term: string) =>
      termLabel(name, term, taxonomies),
    );
  for (const { overloads = {} } of celFunctions)
    for (const [signature, compute] of Object.entries(overloads)) environment.registerFunction(signature, compute);
  return environment;
}
