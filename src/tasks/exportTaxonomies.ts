import type { Model } from '../core/model/link.ts';
import { list } from '../core/plain/words.ts';
import type { Statement } from '../core/skos/statement.ts';
import { skosOf } from '../core/skos/toSkos.ts';
import type { Taxonomy } from '../core/taxonomy/linkTaxonomy.ts';
import { type Syntax, syntaxes, syntaxOf } from '../rdf/syntaxes.ts';
import { rdfText } from '../rdf/write.ts';
import { Trouble } from '../workspace/trouble.ts';
import type { Call } from './call.ts';
import { type ExportResult, kept, ownMark } from './exportModel.ts';
import { reading } from './openForCall.ts';
import { resultVersion } from './result.ts';
import { taxonomyNamed } from './terms/count.ts';

interface ExportTaxonomiesCall {
  /** Taxonomies; all of them where none is named. */
  readonly taxonomies: readonly string[];
  /** The syntax; that of the file where nothing is said. */
  readonly as: string | undefined;
  readonly out?: string | undefined;
  readonly isCheck: boolean;
}

/** Tells taxonomies in SKOS, with the terms that are kept with the content. */
export async function exportTaxonomies(call: Call, asked: ExportTaxonomiesCall): Promise<ExportResult> {
  const syntax = syntaxAsked(asked);
  const { model } = await reading(call);
  const names = asked.taxonomies.map((name) => name.replace(/:$/u, ''));
  const taxonomies =
    names.length === 0 ? [...model.taxonomies.values()] : names.map((name) => taxonomyNamed(model, name));
  if (taxonomies.length === 0)
    throw new Trouble('not-found', 'there are no taxonomies in the model', {
      mend: 'Make one: lumbrik add taxonomy "…", or of a file: lumbrik terms region --from regions.ttl',
    });
  const again = ['lumbrik export skos', ...names, `--as ${syntax}`].join(' ');
  const statements = taxonomies.flatMap((one) => statementsOf(one, model));
  const lost = new Map<string, number>();
  const text = rdfText(statements, syntax, {
    head: `Written by ${again}`,
    lost: (says) => lost.set(says, (lost.get(says) ?? 0) + 1),
  });
  // JSON has no comments to tell by.
  const isOwn = (was: string): boolean => ownMark.test(was.slice(0, 2000)) || (syntax === 'json-ld' && isSkosJson(was));
  return {
    lumbrik: resultVersion,
    command: 'export',
    format: `SKOS (${syntax})`,
    types: taxonomies.map(({ name }) => name),
    text,
    call: again,
    ...(lost.size > 0 ? { lost: [...lost].map(([says, count]) => ({ says, count })) } : {}),
    ...kept(asked, text, isOwn),
  };
}

/** A taxonomy with the terms that are kept with the content; those that it borrows are said where they are at home. */
function statementsOf(
  { name, definition }: Taxonomy,
  { contentTerms, definition: { languages } }: Model,
): readonly Statement[] {
  const content = contentTerms.get(name);
  const whole = content
    ? {
        ...definition,
        terms: { ...content.terms, ...definition.terms },
        tree: [...definition.tree, ...content.tree.filter(({ term }) => !Object.hasOwn(definition.terms, term))],
      }
    : definition;
  return [...skosOf({ name, definition: whole, languages })];
}

/** @throws {Trouble} where neither a syntax is named nor a file that says it. */
function syntaxAsked({ as, out }: ExportTaxonomiesCall): Syntax['name'] {
  const names = syntaxes.map(({ name }) => name);
  const named = names.find((name) => name === as);
  if (named) return named;
  if (as === undefined) return (out === undefined ? undefined : syntaxOf(out)?.name) ?? 'turtle';
  throw new Trouble('unusable-call', `SKOS is not told as ${as}`, { mend: `Say --as ${list(names, 'or')}.` });
}

function isSkosJson(text: string): boolean {
  return /^\{\s*"@context": \{[^}]*"skos":/u.test(text);
}
