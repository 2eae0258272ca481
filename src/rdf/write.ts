import { DataFactory, Writer } from 'n3';
import {
  isResource,
  type Literal,
  prefixes,
  type Resource,
  type Statement,
  shortName,
} from '../core/skos/statement.ts';
import type { Syntax } from './syntaxes.ts';

/**
 * Statements as a file, in a syntax of RDF. Those about one thing come one after the other.
 * @param head what the file says of itself, where it can.
 * @param lost takes what the syntax cannot say.
 */
export function rdfText(
  statements: readonly Statement[],
  syntax: Syntax['name'],
  { head, lost }: { readonly head: string; readonly lost: (loss: string) => void },
): string {
  switch (syntax) {
    case 'turtle':
      return `${head === '' ? '' : `# ${head}\n`}${n3Text(statements, 'Turtle')}`;
    case 'n-triples':
      return `${head === '' ? '' : `# ${head}\n`}${n3Text(statements, 'N-Triples')}`;
    case 'rdf-xml':
      return xmlText(
        statements.filter((statement) => isSayableInXml(statement, lost)),
        head,
      );
    case 'json-ld':
      return jsonLdText(statements);
  }
}

function n3Text(statements: readonly Statement[], format: 'Turtle' | 'N-Triples'): string {
  const writer = new Writer(format === 'Turtle' ? { prefixes: usedPrefixes(statements) } : { format });
  for (const { subject, predicate, object } of statements)
    writer.addQuad(
      node(subject),
      DataFactory.namedNode(predicate),
      isResource(object) ? node(object) : literal(object),
    );

  let text = '';
  writer.end((_error, result) => {
    text = String(result);
  });

  return text;
}

const node = (resource: Resource) => {
  if ('iri' in resource) return DataFactory.namedNode(resource.iri);
  return DataFactory.blankNode(resource.blank);
};

const literal = ({ text, language, type }: Literal) =>
  DataFactory.literal(text, language ?? (type === undefined ? undefined : DataFactory.namedNode(type)));

/** The prefixes that some statements need. */
function usedPrefixes(statements: readonly Statement[]): Record<string, string> {
  const used = new Set<string>();
  const use = (address: string): void => {
    const short = shortName(address);
    if (short !== address) used.add(short.slice(0, short.indexOf(':')));
  };

  for (const { predicate, object } of statements) {
    use(predicate);
    if ('iri' in object) use(object.iri);
    if ('type' in object && object.type !== undefined) use(object.type);
  }

  return Object.fromEntries(Object.entries(prefixes).filter(([name]) => used.has(name)));
}

/* ── JSON-LD ─────────────────────────────────────────────────────────────────────────────────────────────────── */

function jsonLdText(statements: readonly Statement[]): string {
  const nodes = new Map<string, Record<string, unknown>>();
  for (const { subject, predicate, object } of statements) {
    const id = idOf(subject);
    const about = nodes.get(id) ?? { '@id': id };
    nodes.set(id, about);
    const isType = predicate === `${prefixes.rdf}type`;
    const property = isType ? '@type' : shortName(predicate);
    const value = isType && 'iri' in object ? shortName(object.iri) : jsonValue(object);
    const existing = about[property];
    about[property] = existing === undefined ? value : [...[existing].flat(), value];
  }

  const context = usedPrefixes(statements);

  return `${JSON.stringify({ '@context': context, '@graph': [...nodes.values()] }, undefined, 2)}\n`;
}

const idOf = (resource: Resource): string => {
  if ('iri' in resource) return resource.iri;
  return `_:${resource.blank}`;
};

function jsonValue(object: Statement['object']): unknown {
  if (isResource(object)) return { '@id': idOf(object) };
  const { text, language, type } = object;
  if (language !== undefined) return { '@value': text, '@language': language };
  if (type === undefined) return text;
  return { '@value': text, '@type': shortName(type) };
}

/* ── RDF/XML ─────────────────────────────────────────────────────────────────────────────────────────────────── */

function xmlText(statements: readonly Statement[], head: string): string {
  const spaces = new Map<string, string>([[prefixes.rdf, 'rdf']]);
  const parts: string[] = [];
  let open: string | undefined;
  for (const { subject, predicate, object } of statements) {
    const about = 'iri' in subject ? `rdf:about="${escaped(subject.iri)}"` : `rdf:nodeID="${escaped(subject.blank)}"`;
    if (about !== open) {
      if (open !== undefined) parts.push('  </rdf:Description>\n');
      parts.push(`  <rdf:Description ${about}>\n`);
      open = about;
    }

    parts.push(`    ${propertyText(qualified(predicate, spaces), object)}\n`);
  }

  if (open !== undefined) parts.push('  </rdf:Description>\n');
  const declared = [...spaces].map(([space, prefix]) => `\n  xmlns:${prefix}="${escaped(space)}"`).join('');
  const comment = head === '' ? '' : `<!-- ${head.replaceAll('--', '- -')} -->\n`;

  return `<?xml version="1.0" encoding="UTF-8"?>\n${comment}<rdf:RDF${declared}>\n${parts.join('')}</rdf:RDF>\n`;
}

/** Names of elements, and characters that XML 1.0 has. */
function isSayableInXml({ predicate, object }: Statement, lost: (loss: string) => void): boolean {
  if (!/[\p{L}_][\p{L}\p{N}_.-]*$/u.test(predicate)) {
    lost(`the property ${predicate}, of which no name of an element can be made`);
    return false;
  }
  // biome-ignore lint/suspicious/noControlCharactersInRegex: these are what it is about.
  if (!('text' in object) || !/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]|\p{Surrogate}/u.test(object.text))
    return true;

  lost('texts with characters that XML does not have');
  return false;
}

function propertyText(name: string, object: Statement['object']): string {
  if ('iri' in object) return `<${name} rdf:resource="${escaped(object.iri)}"/>`;
  if ('blank' in object) return `<${name} rdf:nodeID="${escaped(object.blank)}"/>`;
  const { text, language, type } = object;
  const languageText = language === undefined ? '' : ` xml:lang="${escaped(language)}"`;
  const typed = type === undefined ? '' : ` rdf:datatype="${escaped(type)}"`;
  return `<${name}${languageText}${typed}>${escaped(text)}</${name}>`;
}

/** The name of an element for a property: what its address ends in, behind a prefix for all before that. */
function qualified(predicate: string, spaces: Map<string, string>): string {
  const local = /[\p{L}_][\p{L}\p{N}_.-]*$/u.exec(predicate)?.[0] ?? '';
  const space = predicate.slice(0, predicate.length - local.length);
  const knownPrefix = Object.entries(prefixes).find(([, address]) => address === space)?.[0];
  const prefix = spaces.get(space) ?? knownPrefix ?? `ns${spaces.size}`;
  spaces.set(space, prefix);
  return `${prefix}:${local}`;
}

const escaped = (text: string): string =>
  text.replace(
    /[&<>"\r]/gu,
    (sign) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', '\r': '&#13;' })[sign] ?? '',
  );
