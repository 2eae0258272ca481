import { csv } from './csv.ts';
import type { EntryFormat } from './define.ts';
import { json, ndjson } from './lines.ts';
import { markdown } from './markdown.ts';
import { sql } from './sql.ts';

/** All forms in which entries go out. A new one is a file beside this one, and a line here. */
export const entryFormats: readonly EntryFormat[] = [ndjson, json, csv, markdown, sql];
