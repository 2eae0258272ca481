import type { ExportFormat } from './define.ts';
import { graphql } from './graphql.ts';
import { guide } from './guide.ts';
import { jsonSchema } from './jsonSchema.ts';
import { markdown } from './markdown.ts';
import { openapi } from './openapi.ts';
import { sql } from './sql.ts';
import { typescript } from './typescript.ts';
import { zod } from './zod.ts';

/** All formats. A new one is a file beside this one, and a line here. */
export const formats: readonly ExportFormat[] = [typescript, zod, jsonSchema, graphql, openapi, sql, markdown, guide];
