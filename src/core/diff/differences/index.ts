import type { DifferenceKind } from './define.ts';
import { entriesSent } from './entriesSent.ts';
import { fieldAdded } from './fieldAdded.ts';
import { fieldChanged } from './fieldChanged.ts';
import { fieldMovedAlong } from './fieldMovedAlong.ts';
import { fieldRemoved } from './fieldRemoved.ts';
import { fieldReshaped } from './fieldReshaped.ts';
import { fieldSplit } from './fieldSplit.ts';
import { fieldsJoined } from './fieldsJoined.ts';
import { languageChanged } from './languageChanged.ts';
import { languagesChanged } from './languagesChanged.ts';
import { moved } from './moved.ts';
import { referenceTurned } from './referenceTurned.ts';
import { renamed } from './renamed.ts';
import { sharedChanged } from './sharedChanged.ts';
import { taxonomyAdded } from './taxonomyAdded.ts';
import { taxonomyChanged } from './taxonomyChanged.ts';
import { taxonomyRemoved } from './taxonomyRemoved.ts';
import { termAdded } from './termAdded.ts';
import { termChanged } from './termChanged.ts';
import { termRemoved } from './termRemoved.ts';
import { termsRearranged } from './termsRearranged.ts';
import { typeAdded } from './typeAdded.ts';
import { typeChanged } from './typeChanged.ts';
import { typeRemoved } from './typeRemoved.ts';
import { valuesPulled } from './valuesPulled.ts';

/**
 * Every way in which two models can differ, in the order in which the steps of a migration are taken: what others need
 * comes first, what others may still mention goes last.
 */
export const differenceKinds: readonly DifferenceKind[] = [
  renamed,
  moved,
  languagesChanged,
  languageChanged,
  taxonomyAdded,
  termAdded,
  termChanged,
  taxonomyChanged,
  typeAdded,
  valuesPulled,
  fieldReshaped,
  fieldSplit,
  fieldsJoined,
  fieldMovedAlong,
  referenceTurned,
  fieldAdded,
  fieldChanged,
  typeChanged,
  entriesSent,
  termRemoved,
  fieldRemoved,
  typeRemoved,
  taxonomyRemoved,
  sharedChanged,
  termsRearranged,
];
