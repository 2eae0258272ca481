import { boolean } from './boolean.ts';
import { choice } from './choice.ts';
import { date } from './date.ts';
import { decimal } from './decimal.ts';
import type { Kind } from './define.ts';
import { integer } from './integer.ts';
import { longText } from './longText.ts';
import { markdown } from './markdown.ts';
import { reference } from './reference.ts';
import { slug } from './slug.ts';
import { term } from './term.ts';
import { text } from './text.ts';

/** The shelf of kinds. A new kind is one file beside this one and one line here. */
export const kinds: ReadonlyMap<string, Kind> = new Map(
  [text, longText, markdown, integer, decimal, boolean, date, choice, slug, term, reference].map((kind) => [
    kind.name,
    kind,
  ]),
);
