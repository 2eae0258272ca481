import fs from 'node:fs';
import { type Duplex, pipeline } from 'node:stream';
import type { Quad, Term } from '@rdfjs/types';
import { JsonLdParser } from 'jsonld-streaming-parser';
import { StreamParser } from 'n3';
import { RdfXmlParser } from 'rdfxml-streaming-parser';
import { compact } from '../core/plain/json.ts';
import type { Resource, Statement } from '../core/skos/statement.ts';
import { systemTrouble, Trouble } from '../workspace/trouble.ts';
import { DoctypeRefused } from './doctype.ts';
import { deepestNode, guardedJson, guardedXml, TooDeep } from './guarded.ts';
import { type Syntax, syntaxes, syntaxOf } from './syntaxes.ts';

/** What relative addresses in a file are on: nothing that anybody could fetch. */
const base = 'urn:file:';

/** More statements than this are more than a taxonomy is. */
const most = 5_000_000;

/**
 * Reads the statements of a file one after the other. Nothing is fetched: a file that leans on another one on the network
 * is refused.
 * @throws {Trouble} where it cannot be read as RDF, with the line where the parser knows it.
 */
export async function* statementsIn(file: string): AsyncIterable<Statement> {
  const syntax = syntaxOf(file);
  if (!syntax)
    throw new Trouble('unusable-call', 'this is no file of RDF, as far as its name says', {
      mend: `Its name has to end in ${syntaxes.flatMap(({ endings }) => endings).join(', ')}.`,
      where: { file },
    });

  let count = 0;
  try {
    const { quads, isOpen } = parsed(syntax, file);
    for await (const quad of quads) {
      count += 1;
      if (count > most)
        throw new Trouble('too-large', `it holds more than ${most.toLocaleString('en')} statements`, {
          mend: 'Take the part of it that describes the taxonomy.',
          where: { file },
        });

      const statement = statementOf(quad);
      if (statement) yield statement;
    }

    if (isOpen()) throw new Error('it ends in the middle of an element');
  } catch (error) {
    throw troubleOf(error, file);
  }
}

/** The statements of a file, and whether it ended before its elements were closed: the parser of XML says nothing of that. */
function parsed(
  { name }: Syntax,
  file: string,
): { readonly quads: AsyncIterable<Quad>; readonly isOpen: () => boolean } {
  const source = fs.createReadStream(file, { encoding: 'utf8', highWaterMark: 1 << 14 });
  const parser = {
    turtle: () => new StreamParser({ baseIRI: base }),
    // Of statements that say in which graph they stand, that is left out.
    'n-triples': () => new StreamParser({ format: 'N-Quads' }),
    'rdf-xml': () => new RdfXmlParser({ baseIRI: base, trackPosition: true }),
    'json-ld': () => new JsonLdParser({ baseIRI: base, documentLoader: { load: refuseNetwork } }),
  }[name]();
  const { activeTagStack = [], saxParser } = parser as unknown as Partial<XmlState>;
  const xml = {
    depth: () => activeTagStack.length,
    declare: (entities: ReadonlyMap<string, string>) => {
      for (const [entity, value] of entities) if (saxParser) saxParser.ENTITIES[entity] = value;
    },
  };
  const guard = name === 'rdf-xml' ? guardedXml(xml) : name === 'json-ld' && guardedJson();
  const stages = [source, ...(guard ? [guard] : []), parser as unknown as Duplex];

  // What goes wrong on the way is thrown where the statements are read.
  return {
    quads: pipeline(stages, () => undefined) as unknown as AsyncIterable<Quad>,
    isOpen: () => activeTagStack.length > 0,
  };
}

/** What the parser of RDF in XML keeps, and its types do not say. */
interface XmlState {
  readonly activeTagStack: readonly unknown[];
  readonly saxParser: { readonly ENTITIES: Record<string, string> };
}

const refuseNetwork = (url: string): Promise<never> => Promise.reject(new Error(url));

function statementOf({ subject, predicate, object }: Quad): Statement | undefined {
  const [about, rdfObject] = [resourceOf(subject), objectOf(object)];
  return about && rdfObject && { subject: about, predicate: predicate.value, object: rdfObject };
}

function resourceOf({ termType, value }: Pick<Term, 'termType' | 'value'>): Resource | undefined {
  if (termType === 'NamedNode') return { iri: value };
  if (termType !== 'BlankNode') return undefined;
  return { blank: value };
}

const [plainText, taggedText] = [
  'http://www.w3.org/2001/XMLSchema#string',
  'http://www.w3.org/1999/02/22-rdf-syntax-ns#langString',
];

function objectOf(object: Quad['object']): Statement['object'] | undefined {
  if (object.termType !== 'Literal') return resourceOf(object);
  const { value: text, language, datatype } = object;
  if (language !== '') return { text, language: canonical(language) };
  if (datatype.value === plainText || datatype.value === taggedText) return { text };
  return { text, type: datatype.value };
}

/** A language tag as it is usually written: parsers make all of it small. */
function canonical(language: string): string {
  try {
    return Intl.getCanonicalLocales(language)[0] ?? language;
  } catch {
    return language;
  }
}

function troubleOf(error: unknown, file: string): Trouble {
  if (error instanceof Trouble) return error;
  if (error instanceof DoctypeRefused)
    return new Trouble('on-network', `it cannot be read: ${error.message}`, {
      mend: 'Put what it refers to into the file itself.',
      where: { file },
    });
  if (error instanceof TooDeep)
    return new Trouble('too-deep', `things stand more than ${deepestNode} deep in each other in it`, {
      mend: 'Give the things inside identifiers, and describe them one after the other.',
      where: { file },
    });
  if (error instanceof Error && 'code' in error && typeof error.code === 'string' && /^E[A-Z]+$/u.test(error.code))
    return systemTrouble(error, file);

  const message = error instanceof Error ? error.message : String(error);
  const network = /Failed to load remote context (\S+):/u.exec(message)?.[1];
  if (network !== undefined)
    return new Trouble('on-network', `it leans on ${network}, and nothing is fetched from the network`, {
      mend: 'Put what it refers to into the file itself.',
      where: { file },
    });

  const line = Number(/line (\d+)/u.exec(message)?.[1] ?? /^(\d+):\d+/u.exec(message)?.[1] ?? Number.NaN);

  return new Trouble('malformed-rdf', `it cannot be read as RDF: ${message.replace(/^\d+:\d+: /u, '')}`, {
    mend: 'Correct it there; nothing was written.',
    where: compact({ file, line: Number.isNaN(line) ? undefined : line }),
  });
}
