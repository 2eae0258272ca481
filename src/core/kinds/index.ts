import { asset } from './asset.ts';
import { boolean } from './boolean.ts';
import { choice } from './choice.ts';
import { colour } from './colour.ts';
import { date } from './date.ts';
import { dateTime } from './dateTime.ts';
import { decimal } from './decimal.ts';
import type { Kind } from './define.ts';
import { duration } from './duration.ts';
import { email } from './email.ts';
import { integer } from './integer.ts';
import { json } from './json.ts';
import { language } from './language.ts';
import { longText } from './longText.ts';
import { map } from './map.ts';
import { markdown } from './markdown.ts';
import { object } from './object.ts';
import { point } from './point.ts';
import { reference } from './reference.ts';
import { richText } from './richText.ts';
import { slug } from './slug.ts';
import { term } from './term.ts';
import { text } from './text.ts';
import { time } from './time.ts';
import { webAddress } from './webAddress.ts';

/** The shelf of kinds. A new kind is one file beside this one and one line here. */
export const kinds: ReadonlyMap<string, Kind> = new Map(
  [
    ...[text, longText, markdown, integer, decimal, boolean],
    ...[date, time, dateTime, duration],
    ...[choice, language, slug, email, webAddress, colour, point, json],
    ...[term, reference, asset, object, map, richText],
  ].map((kind) => [kind.name, kind]),
);
