import { alwaysTheSame } from './alwaysTheSame.ts';
import { choiceIsTaxonomy } from './choiceIsTaxonomy.ts';
import type { Advice } from './define.ts';
import { emptyLanguage } from './emptyLanguage.ts';
import { endlessList } from './endlessList.ts';
import { farLimit } from './farLimit.ts';
import { hierarchy } from './hierarchy.ts';
import { listOfOne } from './listOfOne.ts';
import { longForm } from './longForm.ts';
import { looseReference } from './looseReference.ts';
import { manyNames } from './manyNames.ts';
import { manyRequired } from './manyRequired.ts';
import { neverFilled } from './neverFilled.ts';
import { otherWords } from './otherWords.ts';
import { repeatedFields } from './repeatedFields.ts';
import { requiredCircle } from './requiredCircle.ts';
import { standsAlone } from './standsAlone.ts';
import { stumblingField } from './stumblingField.ts';
import { termsUnused } from './termsUnused.ts';
import { textIsChoice } from './textIsChoice.ts';
import { textIsWritten } from './textIsWritten.ts';
import { typesAlike } from './typesAlike.ts';
import { unexplained } from './unexplained.ts';
import { unused } from './unused.ts';

/** All advice, what matters most first. A new one is a file beside this one, and a line here. */
export const advice: readonly Advice[] = [
  requiredCircle,
  typesAlike,
  textIsWritten,
  textIsChoice,
  choiceIsTaxonomy,
  repeatedFields,
  stumblingField,
  manyNames,
  otherWords,
  neverFilled,
  alwaysTheSame,
  listOfOne,
  farLimit,
  looseReference,
  endlessList,
  standsAlone,
  termsUnused,
  hierarchy,
  emptyLanguage,
  longForm,
  manyRequired,
  unexplained,
  unused,
];
