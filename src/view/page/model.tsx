import { count } from '../../core/plain/words.ts';
import type { ReportResult } from '../../tasks/report.ts';
import type { CountedTerm } from '../../tasks/terms/result.ts';
import { fieldTable, type Profiled } from './fields.tsx';
import type { Links } from './links.ts';
import {
  bar,
  type Child,
  cut,
  idOf,
  ifGiven,
  joined,
  listed,
  madeOfAny,
  type Node,
  sayJson,
  small,
  to,
  typed,
  words,
} from './parts.tsx';

type Type = ReportResult['types'][number];

/** A part of the model with its heading, which can be linked to and looked for. */
const article = (id: string, heading: { readonly label: string; readonly name: string }, ...body: Child[]): Node => (
  <article id={id} aria-labelledby={`${id}.title`} data-find="">
    <h3 id={`${id}.title`}>
      {words(heading.label)} {typed(heading.name)}
    </h3>
    {body}
  </article>
);

const paragraph = (text: string): Node => <p>{words(text)}</p>;

/** One type: its purpose, its fields with how they are used, its rules, and what points at it. */
export const typeArticle = (type: Type, profile: Profiled | undefined, links: Links): Node =>
  article(
    idOf('type', type.name),
    { label: type.label.many, name: type.name },
    <p class="counts">
      {listed([count(type.entries, 'entry', 'entries'), count(type.fields.length, 'field'), ...kinOf(type)])}
    </p>,
    ifGiven(type.about, paragraph),
    ifGiven(type.guide, (guide) => <p class="guide">{words(guide)}</p>),
    fieldTable({ name: type.name, label: type.label.many, fields: type.fields, profile, links }),
    madeOfAny(type.rules, rules),
    madeOfAny(type.inverses, (inverses) => pointedAtBy(inverses, links)),
  );

/** What a type has to do with others and with kits. */
function kinOf({ extends: base, extendedBy, kits, titled, single }: Type): Child[] {
  const typeLink = (name: string): Node => to(idOf('type', name), name);
  return [
    ...(base === undefined ? [] : [joined('extends ', typeLink(base))]),
    ...(extendedBy.length === 0 ? [] : [joined('extended by ', listed(extendedBy.map(typeLink)))]),
    ...(kits.length === 0
      ? []
      : [
          joined(
            `has the ${kits.length === 1 ? 'kit' : 'kits'} `,
            listed(kits.map((kit) => to(idOf('shared', kit), kit))),
          ),
        ]),
    ...(titled === undefined ? [] : [joined('titled by ', typed(titled))]),
    ...(single ? ['never more than one entry'] : []),
  ];
}

const rules = (rules: Type['rules']): Child =>
  joined(
    <h4>Rules</h4>,
    <ul>
      {rules.map(({ say: wording, expect }) => (
        <li>
          {words(wording)} {typed(expect)}
        </li>
      ))}
    </ul>,
  );

const pointedAtBy = (inverses: Type['inverses'], { rowOf }: Links): Node => (
  <p class="uses">
    Pointed at by{' '}
    {listed(
      inverses.map(({ field, name }) =>
        joined(
          to(rowOf(field), field),
          ifGiven(name, (called) => joined(' (called ', words(called), ' from here)')),
        ),
      ),
    )}
  </p>
);

type Shared = ReportResult['shared'][number];

/** A kit, a shared field or a kind of the model's own, with the fields that are made of it. */
export const sharedArticle = (shared: Shared, links: Links): Node =>
  article(
    idOf('shared', shared.name),
    shared,
    <p class="counts">
      {{ kit: 'a kit', field: 'a shared field', kind: `a kind built on ${shared.on}` }[shared.part]}
      {shared.reaches.length === 0 ? ', used by no field' : ''}
    </p>,
    ifGiven(shared.about, paragraph),
    madeOfAny(shared.fields, (fields) => fieldTable({ name: shared.name, label: shared.label, fields, links })),
    madeOfAny(Object.entries(shared.options), () => <p>It fixes {cut(sayJson(shared.options))}.</p>),
    madeOfAny(shared.reaches, (reaches) => (
      <p class="uses">Reaches {listed(reaches.map((address) => to(links.rowOf(address), address)))}</p>
    )),
  );

type Taxonomy = ReportResult['taxonomies'][number];

/** A taxonomy as a tree, each term with how many entries use it or one below it. */
export const taxonomyArticle = (taxonomy: Taxonomy, links: Links): Node =>
  article(
    idOf('taxonomy', taxonomy.name),
    taxonomy,
    <p class="counts">
      {taxonomy.open ? 'open: authors add terms' : 'closed: its terms are part of the model'}
      {taxonomy.fields.length === 0
        ? ', used by no field'
        : joined(', used by ', listed(taxonomy.fields.map((field) => to(links.rowOf(field), field))))}
    </p>,
    ifGiven(taxonomy.about, paragraph),
    termTree(taxonomy.terms, Math.max(1, ...taxonomy.terms.map(({ withBelow }) => withBelow))),
  );

/** @param most what the longest bar stands for. */
const termTree = (terms: readonly CountedTerm[], most: number): Node => (
  <ul class="tree">
    {terms.map(({ label, term, withBelow, notes, terms: below }) => (
      <li data-find="">
        {bar(withBelow, most)} {words(label)} {typed(term)}{' '}
        <span class="times">{count(withBelow, 'entry', 'entries')}</span>
        {madeOfAny(notes, (texts) => small(texts.join(', ')))}
        {madeOfAny(below, (terms) => termTree(terms, most))}
      </li>
    ))}
  </ul>
);
