import { Transform } from 'node:stream';
import { hasWholeDoctype, prologOf } from './doctype.ts';

/** A file of RDF that is nested deeper than any taxonomy: the parsers take very long for it. */
export class TooDeep extends Error {
  override readonly name = 'TooDeep';
}

/** How deep things may be in each other. */
export const deepestNode = 500;
/** So much of a file is looked at for its DOCTYPE, in characters. */
const mostProlog = 1 << 20;

/** Facts about an XML parser, and its events. */
interface XmlParser {
  /** How many elements are open. */
  readonly depth: () => number;
  readonly declare: (entities: ReadonlyMap<string, string>) => void;
}

/** Hands on a text of XML, tells the parser its entities, and looks how deep that is in it. */
export function guardedXml({ depth, declare }: XmlParser): Transform {
  let prolog: string | undefined = '';
  return new Transform({
    decodeStrings: false,
    encoding: 'utf8',
    transform: (chunk: string, _encoding, done) => {
      try {
        if (depth() > deepestNode) throw new TooDeep();
        if (prolog === undefined) return done(null, chunk);

        prolog += chunk;
        if (!hasWholeDoctype(prolog) && prolog.length < mostProlog) return done();

        const { text, entities } = prologOf(prolog);
        declare(entities);
        prolog = undefined;
        return done(null, text);
      } catch (error) {
        return done(error as Error);
      }
    },
    flush: (done) => done(null, prolog === undefined ? undefined : prolog),
  });
}

/** Hands on a text of JSON that is not nested too deeply. */
export function guardedJson(): Transform {
  let depth = 0;
  let isInString = false;
  let isEscaped = false;

  return new Transform({
    decodeStrings: false,
    encoding: 'utf8',
    transform: (chunk: string, _encoding, done) => {
      for (const sign of chunk) {
        if (isEscaped) isEscaped = false;
        else if (isInString) {
          isEscaped = sign === '\\';
          isInString = sign !== '"';
        } else if (sign === '"') isInString = true;
        else if (sign === '{' || sign === '[') depth += 1;
        else if (sign === '}' || sign === ']') depth -= 1;

        if (depth > deepestNode) return done(new TooDeep());
      }

      return done(null, chunk);
    },
  });
}
