import { hasField } from '../core/model/fieldsOfSort.ts';
import type { Model } from '../core/model/link.ts';
import { loadLinkReader, type ReadLinks } from '../core/text/markdownLinks.ts';

/** What finds links in Markdown, loaded where a model has fields that hold such. */
export const linkReaderFor = async ({ definition }: Model): Promise<ReadLinks | undefined> => {
  if (!hasField(definition, (_, { isMarkdown }) => isMarkdown)) return undefined;
  return loadLinkReader();
};
