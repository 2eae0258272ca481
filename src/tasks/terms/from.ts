import fs from 'node:fs';
import path from 'node:path';
import { isName, nameRule } from '../../core/definition/address.ts';
import type { TaxonomyDoc } from '../../core/definition/taxonomy.ts';
import { namesIn } from '../../core/model/provenance.ts';
import { taxonomyAsWritten } from '../../core/model/taxonomyAsWritten.ts';
import { capital, count, groupThousands, quote } from '../../core/plain/words.ts';
import { type FromSkos, taxonomyFromSkos } from '../../core/skos/fromSkos.ts';
import { type Scheme, schemesIn, ThingsSoFar } from '../../core/skos/things.ts';
import { writeYaml } from '../../core/source/write.ts';
import { termTree } from '../../core/taxonomy/termTree.ts';
import { statementsIn } from '../../rdf/read.ts';
import { syntaxOf } from '../../rdf/syntaxes.ts';
import type { Workspace } from '../../workspace/open.ts';
import { refuse, Trouble } from '../../workspace/trouble.ts';
import type { Call } from '../call.ts';
import { writing } from '../openForCall.ts';
import { schemaFor } from '../schemas.ts';
import { writeModelFiles } from '../writeModel.ts';
import { readWanted } from './add.ts';
import { command, type TermsResult } from './result.ts';

interface FromCall {
  /** What the taxonomy is to be called. */
  readonly name: string;
  /** A file of RDF, a list, a table or JSON. */
  readonly from: string;
  /** Which of several schemes, by its address. */
  readonly scheme?: string | undefined;
  /** Whether terms are called by their labels, and not by their addresses. */
  readonly byLabel: boolean;
}

/** So many levels below each other are more than a taxonomy may have. */
const deepest = 32;

/** Makes a taxonomy of a file: of SKOS with all that it says, of a list or a table with its words. */
export async function makeTaxonomy(call: Call, request: FromCall): Promise<TermsResult> {
  return writing(call, async (workspace) => {
    const { name, from } = request;
    const file = `model/taxonomies/${name}.yaml`;
    refuseName(workspace, name, file);
    if (!fs.existsSync(from))
      throw new Trouble('not-found', `there is no file ${from}`, {
        mend: 'Name a file of RDF (.ttl, .nt, .rdf, .jsonld), a list (.txt), a table (.csv) or JSON (.json).',
      });

    const { definition, lost } = syntaxOf(from)
      ? await fromRdf(workspace, request)
      : { definition: fromList(workspace, from), lost: [] };
    const schema = fs.existsSync(path.join(workspace.root, 'schemas')) ? { $schema: schemaFor(file, 'taxonomy') } : {};
    const text = writeYaml({ ...schema, taxonomy: name, ...taxonomyAsWritten(definition) });
    writeModelFiles(workspace.root, [{ file, text }]);

    return {
      ...command,
      what: 'made',
      taxonomy: name,
      file,
      terms: Object.keys(definition.terms).length,
      collections: definition.collections?.length ?? 0,
      lost: [...lost],
    };
  });
}

function refuseName({ root, model }: Workspace, name: string, file: string): void {
  if (!isName(name))
    throw new Trouble('malformed-name', `\`${name}\` cannot be a name`, { mend: `${capital(nameRule)}.` });
  if (namesIn(model.definition).includes(name) || fs.existsSync(path.join(root, file)))
    throw refuse('name-taken', `there is something called \`${name}\` already`, {
      mend: model.taxonomies.has(name)
        ? 'Choose another name; terms of a list or a table come into it by --add.'
        : 'Choose another name; nothing was written.',
    });
}

function fromList({ languages }: Workspace, from: string): TaxonomyDoc {
  const tree = termTree(readWanted(from, languages));
  if (!('astray' in tree)) return tree;

  const { term, under = '', line } = tree.astray;
  throw new Trouble(
    'unusable-list',
    `${from} puts ${term} under ${quote(under)}, which is not in it or below ${term} itself`,
    {
      mend: 'Name a term of the same file.',
      where: { file: from, line, column: 1 },
    },
  );
}

async function fromRdf({ languages }: Workspace, { name, from, scheme, byLabel }: FromCall): Promise<FromSkos> {
  const { things, lost } = await thingsIn(from);
  const full = schemesIn(things).filter(({ concepts }) => concepts > 0);
  if (full.length === 0)
    throw new Trouble('no-concepts', 'there are no concepts of SKOS in it', {
      mend: 'A taxonomy is made of things of the type skos:Concept, or in a skos:ConceptScheme.',
      where: { file: from },
    });

  const { iri } = schemeMeant(full, scheme, from);
  const fromSkos = taxonomyFromSkos(things, { name, languages, scheme: iri, names: byLabel ? 'label' : 'address' });
  const deep = deepestIn(fromSkos.definition.tree);
  if (deep > deepest)
    throw new Trouble('too-deep', `its hierarchy is ${deep} levels deep`, {
      mend: `A taxonomy has ${deepest} at most: make it flatter.`,
      where: { file: from },
    });
  return { ...fromSkos, lost: [...lost, ...fromSkos.lost] };
}

/** More things than these are more than a taxonomy has, and than memory may hold. */
const mostThings = 1_000_000;

/** What the statements of a file are about. @throws {Trouble} where that is too much, or cannot be read. */
export async function thingsIn(file: string, most = mostThings): Promise<ReturnType<ThingsSoFar['done']>> {
  const soFar = new ThingsSoFar();
  for await (const statement of statementsIn(file)) {
    soFar.add(statement);
    if (soFar.size > most)
      throw new Trouble('too-large', `it describes more than ${groupThousands(most)} things`, {
        mend: 'Take the part of it that describes the taxonomy.',
        where: { file },
      });
  }

  return soFar.done();
}

/** The scheme of some that is intended: by its address, or the end of it; the only one where nothing is stated. @throws {Trouble} */
function schemeMeant(schemes: readonly Scheme[], typed: string | undefined, file: string): Scheme {
  const fitting = typed === undefined ? schemes : schemes.filter(({ iri }) => iri === typed || lastPart(iri) === typed);
  const [only] = fitting;
  if (only && fitting.length === 1) return only;

  const [first] = schemes;
  const ends = schemes.map(({ iri }) => lastPart(iri));
  const isShort = new Set(ends).size === ends.length && !ends.includes('');
  throw new Trouble(
    'unusable-call',
    fitting.length === 0 ? 'there is no such scheme in it' : 'there are several schemes in it',
    {
      mend: isShort
        ? `Say which, by its address or the end of it: --scheme ${lastPart(first?.iri)}`
        : `Say which: --scheme ${first?.iri}`,
      where: { file },
      also: schemes.map(({ iri, label, concepts }) =>
        [String(iri), label, count(concepts, 'concept')].filter(Boolean).join(', '),
      ),
    },
  );
}

/** The text after the last `/` or `#` of an address. */
const lastPart = (iri = ''): string => iri.slice(Math.max(iri.lastIndexOf('/'), iri.lastIndexOf('#')) + 1);

function deepestIn(tree: TaxonomyDoc['tree']): number {
  let [level, depth] = [tree, 0];
  while (level.length > 0) {
    depth += 1;
    level = level.flatMap(({ terms = [] }) => terms);
  }

  return depth;
}
