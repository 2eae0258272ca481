import { count, groupThousands } from '../plain/words.ts';
import { type Advice, enough } from './define.ts';

/** A language that hardly any value has. */
export const emptyLanguage: Advice = {
  name: 'empty-language',
  why: 'A language that nobody fills is a promise to readers who speak it.',
  *find({ model, profiles }) {
    const [, ...rest] = model.context.languages;
    for (const language of rest) {
      const fields = [...profiles.values()].flatMap(({ fields }) => fields.filter(({ languages }) => languages));
      const filled = fields.reduce((sum, { filled: number }) => sum + number, 0);
      const filledCount = fields.reduce(
        (sum, { languages = [] }) => sum + (languages.find((share) => share.language === language)?.filled ?? 0),
        0,
      );
      if (filled < 2 * enough || filledCount > filled / 20) continue;
      yield {
        at: language,
        says: `${groupThousands(filledCount)} of ${count(filled, 'place', 'places')} with a value have one in it`,
        mend: 'Leave the language out until somebody writes it, or ask for it where it matters.',
        command: 'lumbrik profile',
      };
    }
  },
};
