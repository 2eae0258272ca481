import type { Model } from '../core/model/link.ts';
import { fieldsWithin } from '../core/model/nestedFields.ts';
import { loadLinkReader, type ReadLinks } from '../core/text/markdownLinks.ts';

/** What finds links in Markdown, loaded where a model has fields that hold such. */
export async function linkReaderFor({ types }: Model): Promise<ReadLinks | undefined> {
  const fields = [...types.values()].flatMap((type) => fieldsWithin(type.fields));
  return fields.some(({ kind }) => kind.isMarkdown) ? loadLinkReader() : undefined;
}
