import { wordsIn } from '../../core/definition/wording.ts';
import { compare } from '../../core/diff/compare.ts';
import { severitiesOf } from '../../core/entry/severities.ts';
import type { Model } from '../../core/model/link.ts';
import { reachOf } from '../../core/model/provenance.ts';
import type { Taxonomy } from '../../core/taxonomy/linkTaxonomy.ts';
import type { Checked } from '../../passes/checked.ts';
import { type WalkOptions, walk } from '../../passes/walk.ts';
import type { EntryStore } from '../../stores/store.ts';
import type { Workspace } from '../../workspace/open.ts';
import { changesBetween } from '../changes.ts';
import { readBaseline } from '../check/baseline.ts';
import { allFindings, entryCheck } from '../check/entryCheck.ts';
import { filterFindings } from '../check/findingFilter.ts';
import { contentStateOf } from '../contentState.ts';
import { command, type Overview, type ShowResult } from './result.ts';

/**
 * The workspace at a glance.
 * @param read the model as the reader asked for it.
 */
export async function overview(
  workspace: Workspace,
  read: Model,
  store: EntryStore,
  options: WalkOptions,
): Promise<ShowResult> {
  const [checked] = await walk(store, [await entryCheck(workspace, store, { findingsAlone: true })], options);
  return overviewOf(workspace, read, checked);
}

/** The same of entries that were checked. */
export async function overviewOf(workspace: Workspace, read: Model, checked: Checked): Promise<Overview> {
  const { model, name, languages } = workspace;
  const { entries, references, terms } = checked;
  const { findings } = filterFindings(
    allFindings(workspace, checked),
    workspace.findings,
    readBaseline(workspace.root),
  );
  const last = workspace.records.revisions.at(-1);
  const usesOf = (taxonomy: Taxonomy): number =>
    [...taxonomy.terms.keys()].reduce((sum, term) => sum + (terms.get(`${taxonomy.name}:${term}`) ?? 0), 0);

  return {
    ...command,
    what: 'workspace',
    workspace: name,
    languages: [...languages],
    ...(last
      ? { revision: { revision: last.revision, version: last.version, date: last.date, message: last.message } }
      : {}),
    changed: last
      ? changesBetween(compare(last.model, model.definition)).map(({ address, says: message }) => ({
          address,
          says: message,
        }))
      : [],
    standing: await contentStateOf(workspace),
    types: [...read.types.values()].map((type) => ({
      name: type.name,
      label: type.label.many,
      about: wordsIn(type.definition.about, read.readingOrder),
      entries: entries.get(type.name) ?? 0,
      fields: type.fields.size,
      ...linksOf(type.name, references),
    })),
    taxonomies: [...read.taxonomies.values()].map((taxonomy) => ({
      name: taxonomy.name,
      label: taxonomy.label,
      about: wordsIn(taxonomy.definition.about, read.readingOrder),
      terms: taxonomy.terms.size,
      uses: usesOf(taxonomy),
    })),
    kits: kitsOf(model, read),
    ...severitiesOf(findings),
  };
}

/** The kits of a model with the types that use them. */
const kitsOf = ({ definition }: Model, { readingOrder }: Model): Overview['kits'] =>
  Object.entries(definition.shared?.kits ?? {}).map(([kit, { fields, about }]) => ({
    name: kit,
    about: wordsIn(about, readingOrder),
    fields: Object.keys(fields).length,
    usedBy: [...reachOf(definition, { what: 'kit', name: kit })],
  }));

/** The types that a type points at, and those that point at it, with the number of references; the most first. */
function linksOf(
  name: string,
  references: Checked['references'],
): Pick<Overview['types'][number], 'pointsAt' | 'pointedAtBy'> {
  const links = [...references].map(([pair, count]) => {
    const [from = '', to = ''] = pair.split(' → ');
    return { from, to, count };
  });
  const counted = (types: readonly { readonly type: string; readonly count: number }[]) =>
    types.toSorted((a, b) => b.count - a.count || a.type.localeCompare(b.type));

  return {
    pointsAt: counted(links.filter(({ from }) => from === name).map(({ to, count }) => ({ type: to, count }))),
    pointedAtBy: counted(links.filter(({ to }) => to === name).map(({ from, count }) => ({ type: from, count }))),
  };
}
