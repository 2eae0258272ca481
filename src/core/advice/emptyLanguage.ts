import { count, groupThousands } from '../plain/words.ts';
import { type Advice, enough } from './define.ts';

export const emptyLanguage: Advice = {
  name: 'empty-language',
  why: 'A language that nobody fills is a promise to readers who speak it.',
  *find({ model, profiles }) {
    const [, ...others] = model.context.languages;
    for (const language of others) {
      const fields = [...profiles.values()].flatMap(({ fields: all }) => all.filter(({ languages }) => languages));
      const filled = fields.reduce((sum, { filled: number }) => sum + number, 0);
      const here = fields.reduce(
        (sum, { languages = [] }) => sum + (languages.find((one) => one.language === language)?.filled ?? 0),
        0,
      );
      if (filled < 2 * enough || here > filled / 20) continue;
      yield {
        at: language,
        says: `${groupThousands(here)} of ${count(filled, 'place', 'places')} with a value have one in it`,
        mend: 'Leave the language out until somebody writes it, or ask for it where it matters.',
        command: 'lumbrik profile',
      };
    }
  },
};
