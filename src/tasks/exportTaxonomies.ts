import type { Model } from '../core/model/link.ts';
import { list } from '../core/plain/words.ts';
import type { Statement } from '../core/skos/statement.ts';
import { skosOf } from '../core/skos/toSkos.ts';
import type { Taxonomy } from '../core/taxonomy/linkTaxonomy.ts';
import { type Syntax, syntaxes, syntaxOf } from '../rdf/syntaxes.ts';
import { rdfText } from '../rdf/write.ts';
import { openStore } from '../stores/open.ts';
import type { Workspace } from '../workspace/open.ts';
import { Trouble } from '../workspace/trouble.ts';
import type { Call } from './call.ts';
import { type ExportResult, kept, ownMark } from './exportModel.ts';
import { reading } from './openForCall.ts';
import { resultVersion } from './result.ts';
import { countTerms, taxonomyNamed } from './terms/count.ts';

interface ExportTaxonomiesCall {
  /** Taxonomies; all of them where none is named. */
  readonly taxonomies: readonly string[];
  /** The syntax; the one of the file where nothing is stated. */
  readonly as: string | undefined;
  readonly out?: string | undefined;
  readonly isCheck: boolean;
}

/** Tells taxonomies in SKOS, with the terms that are kept with the content. */
export async function exportTaxonomies(call: Call, request: ExportTaxonomiesCall): Promise<ExportResult> {
  const syntax = syntaxAsked(request);
  const workspace = await reading(call);
  const { model } = workspace;
  const names = request.taxonomies.map((name) => name.replace(/:$/u, ''));
  const taxonomies =
    names.length === 0 ? [...model.taxonomies.values()] : names.map((name) => taxonomyNamed(model, name));
  if (taxonomies.length === 0)
    throw new Trouble('not-found', 'there are no taxonomies in the model', {
      mend: 'Make one: lumbrik add taxonomy "…", or of a file: lumbrik terms region --from regions.ttl',
    });

  const again = ['lumbrik export skos', ...names, `--as ${syntax}`].join(' ');
  const statements = taxonomies.flatMap((taxonomy) => statementsOf(taxonomy, model));
  const lost = new Map(await unlistedIn(workspace, taxonomies));
  const text = rdfText(statements, syntax, {
    head: `Written by ${again}`,
    lost: (loss) => lost.set(loss, (lost.get(loss) ?? 0) + 1),
  });
  // JSON has no comments to tell by.
  const isOwn = (oldText: string): boolean =>
    ownMark.test(oldText.slice(0, 2000)) || (syntax === 'json-ld' && isSkosJson(oldText));

  return {
    lumbrik: resultVersion,
    command: 'export',
    format: `SKOS (${syntax})`,
    types: taxonomies.map(({ name }) => name),
    text,
    call: again,
    ...(lost.size > 0 ? { lost: [...lost].map(([loss, count]) => ({ says: loss, count })) } : {}),
    ...kept(workspace.root, request, text, isOwn),
  };
}

/** How many terms of open taxonomies are in entries alone: nothing but their identifiers is known of them. */
async function unlistedIn(
  workspace: Workspace,
  taxonomies: readonly Taxonomy[],
): Promise<readonly (readonly [string, number])[]> {
  const open = taxonomies.filter(({ isOpen }) => isOpen);
  if (open.length === 0) return [];

  const usage = await countTerms(workspace.model, openStore(workspace));
  return open.flatMap((taxonomy): readonly (readonly [string, number])[] => {
    const { length } = usage.unlisted(taxonomy);
    const loss = `a term of ${taxonomy.name} that is not written down, which entries alone have: lumbrik terms ${taxonomy.name}`;
    if (length === 0) return [];
    return [[loss, length]];
  });
}

/** A taxonomy with the terms that are kept with the content; those that it borrows are stated where they are at home. */
function statementsOf(
  { name, definition }: Taxonomy,
  { contentTerms, definition: { languages } }: Model,
): readonly Statement[] {
  const content = contentTerms.get(name);
  const wholeContent = content
    ? {
        ...definition,
        terms: { ...content.terms, ...definition.terms },
        tree: [...definition.tree, ...content.tree.filter(({ term }) => !Object.hasOwn(definition.terms, term))],
      }
    : definition;

  return [...skosOf({ name, definition: wholeContent, languages })];
}

/** @throws {Trouble} where neither a syntax is named nor a file that says it. */
function syntaxAsked({ as, out: outFile }: ExportTaxonomiesCall): Syntax['name'] {
  const names = syntaxes.map(({ name }) => name);
  const named = names.find((name) => name === as);
  if (named) return named;
  if (as === undefined) return (outFile === undefined ? undefined : syntaxOf(outFile)?.name) ?? 'turtle';
  throw new Trouble('unusable-call', `SKOS is not told as ${as}`, { mend: `Say --as ${list(names, 'or')}.` });
}

function isSkosJson(text: string): boolean {
  return /^\{\s*"@context": \{[^}]*"skos":/u.test(text);
}
