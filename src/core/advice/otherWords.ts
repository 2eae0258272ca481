import type { Field } from '../model/link.ts';
import { nearest } from '../plain/nearest.ts';
import { humanize } from '../plain/words.ts';
import { type Advice, ownFields } from './define.ts';

/** In a model where fewer names than these say what their labels say, names are in another language. */
const [share, fewest] = [0.5, 5];

/** A field whose label and name use different words. */
export const otherWords: Advice = {
  name: 'other-words',
  why: 'Programs read the name and authors the label; where these say two things, each side means another.',
  *find(reviewed) {
    const labelled = [...ownFields(reviewed)].filter(({ field }) => field.label !== humanize(plainName(field)));
    const telling = labelled.filter(({ field }) => saysTheSame(plainName(field), field.label));
    if (labelled.length < fewest || telling.length < share * labelled.length) return;
    for (const { field, profile } of labelled)
      if (!telling.some((usedField) => usedField.profile === profile))
        yield {
          at: profile.address,
          says: `authors see “${field.label}”, and programs ${plainName(field)}`,
          mend: 'Give it the name that its label says, or the label that its name says.',
          command: `lumbrik show ${profile.address}`,
        };
  },
};

/** The name of a field alone: of one inside an object its last part. */
const plainName = ({ name }: Field): string => name.slice(name.lastIndexOf('.') + 1);

/** Whether a name and a label have a word in common, or the one abbreviates the other. */
function saysTheSame(name: string, label: string): boolean {
  const [words, labelWords] = [wordsOf(humanize(name)), wordsOf(label)];
  const initials = labelWords.map((word) => word.charAt(0)).join('');
  if (initials.length > 1 && initials === name.toLowerCase()) return true;
  return words.some(
    (word) => labelWords.some((other) => isLike(word, other)) || nearest(word, labelWords) !== undefined,
  );
}

const isLike = (word: string, other: string): boolean => {
  const [short, long] = word.length < other.length ? [word, other] : [other, word];
  if (short.length < 3) return short === long;
  // Words are put together (`Druckort`), and end otherwise (`visit`, `visiting`).
  return long.includes(short) || long.startsWith(short.slice(0, Math.max(3, short.length - 2)));
};

const wordsOf = (text: string): readonly string[] =>
  text
    .normalize('NFKD')
    .replace(/\p{M}+/gu, '')
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean);
