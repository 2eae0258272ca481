import type { Field, Model } from '../model/link.ts';
import { fieldNamed } from '../model/nestedFields.ts';
import { basesOf } from '../model/provenance.ts';

/** Whether no two entries may have the same value of a field. */
export const isUnique = ({ common, kind }: Field): boolean => common.unique === true || kind.unique;

/** The type among whose entries, and those of what extends it, the values of a field of one have to differ. */
export const uniqueAmong = ({ definition, types }: Model, type: string, field: string): string =>
  basesOf(definition.shared, type).findLast((base) => {
    const holder = types.get(base);
    const above = holder && fieldNamed(holder, field);
    return above !== undefined && isUnique(above);
  }) ?? type;
