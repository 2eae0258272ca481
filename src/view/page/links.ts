import type { ReportResult } from '../../tasks/report.ts';
import { idOf } from './parts.tsx';

interface Target {
  readonly id: string;
  readonly label: string;
}

/** Where on the page something else stands that a field is about, and where a field stands itself. */
export interface Links {
  /** What a field points at: types, or the taxonomy that its terms are of. */
  readonly targetsOf: (field: string) => readonly Target[];
  /** The fragment of the row in which a field stands; of one inside an object that has no row, the one of the object. */
  readonly rowOf: (field: string) => string;
}

/** Gathers from either side what each field points at. */
export function linksOf({ types, shared, taxonomies }: ReportResult): Links {
  const targets = new Map<string, Target[]>();
  const point = (field: string, target: Target): void =>
    void targets.set(field, [...(targets.get(field) ?? []), target]);
  for (const { name, label, inverses } of types)
    for (const { field } of inverses) point(field, { id: idOf('type', name), label: label.many });
  for (const { name, label, fields } of taxonomies)
    for (const field of fields) point(field, { id: idOf('taxonomy', name), label });
  const rows = new Set(
    [...types, ...shared].flatMap(({ name, fields }) => fields.map((field) => `${name}.${field.name}`)),
  );

  return {
    targetsOf: (field) => targets.get(field) ?? [],
    rowOf: (field) => {
      let address = field;
      while (!rows.has(address) && address.includes('.')) address = address.slice(0, address.lastIndexOf('.'));
      if (address.includes('.')) return idOf('field', address);
      return idOf('type', address);
    },
  };
}
