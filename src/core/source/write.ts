import { Document, isCollection, stringify, visit } from 'yaml';
import type { Json } from '../plain/json.ts';
import { visible } from '../plain/visible.ts';

const lineWidth = 100;
const shortEnough = 68;

/** Writes a value as YAML that a person would write: short values on one line in brackets, the rest in lines. */
export function writeYaml(value: Json): string {
  const document = new Document(value, { aliasDuplicateObjects: false });
  visit(document, {
    Collection: (_, node, path) => {
      const isOutermost = path.length === 1;
      if (!isOutermost && isCollection(node) && JSON.stringify(node.toJSON()).length <= shortEnough) {
        node.flow = true;
        return visit.SKIP;
      }
      return undefined;
    },
  });

  return document.toString({ lineWidth, flowCollectionPadding: true });
}

/** Writes a value as YAML on one line, however long: values with parts in brackets. */
export const writeInline = (value: Json): string =>
  stringify(value, { collectionStyle: 'flow', lineWidth: 0, aliasDuplicateObjects: false }).trimEnd();

/** A text as lines of a comment, broken between words so that none is longer than a terminal is wide. */
export function writeComment(text: string, width = lineWidth - 6): string {
  const lines: string[] = [];
  let line = '';
  for (const word of visible(text).split(/\s+/u)) {
    if (line !== '' && line.length + 1 + word.length > width) {
      lines.push(line);
      line = word;
    } else line = line === '' ? word : `${line} ${word}`;
  }

  return [...lines, line].map((line) => `# ${line}\n`).join('');
}
