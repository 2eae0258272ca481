import type { Kind } from './define.ts';
import { kinds } from './index.ts';

/** A field as a document says it: only its kind counts here. */
interface FieldOfKind {
  readonly kind?: unknown;
}

const kindOf = ({ kind }: FieldOfKind): Kind | undefined => kinds.get(String(kind));

/** Whether values are references and nothing else. */
export const isReference = (field: FieldOfKind): boolean => kindOf(field)?.isReference === true;

/** Whether values are words of a list: choices or terms. */
export const isOfWords = (field: FieldOfKind): boolean => kindOf(field)?.isOfWords === true;

/** Whether values are yes or no. */
export const isYesOrNo = (field: FieldOfKind): boolean => kindOf(field)?.cel === 'bool';

/** Whether no two entries share a value, without anyone asking for it. */
export const isUnique = (field: FieldOfKind): boolean => kindOf(field)?.unique === true;

/** Whether values are text of any content: in one line, in several, or as Markdown. */
export const isFreeText = (field: FieldOfKind): boolean => kindOf(field)?.freeText !== undefined;

/** Whether values are free text in one line. */
export const isLine = (field: FieldOfKind): boolean => kindOf(field)?.freeText === 'line';

/** Whether values are free text without markup. */
export const isPlainText = (field: FieldOfKind): boolean => isFreeText(field) && kindOf(field)?.isMarkdown !== true;

/** Whether values have parts: objects, maps, any data. */
export const hasParts = (field: FieldOfKind): boolean => {
  const kind = kindOf(field);
  return kind !== undefined && (kind.nests || kind.maps || kind.isOpen);
};
