import type { Type } from '../../model/link.ts';
import { type JsonObject, withoutKey } from '../../plain/json.ts';
import { proseOf } from '../../source/frontMatter.ts';
import { writeYaml } from '../../source/write.ts';
import type { EntryFormat, ReportLoss } from './define.ts';

/** A folder for each type, a file for each entry: Markdown below front matter, YAML where a type has no text. */
export const markdown: EntryFormat = {
  name: 'markdown',
  about: 'A folder of Markdown files with front matter (YAML alone for types without a text)',
  isFolder: () => true,
  writing: ({ types }) => {
    const byName = new Map(types.map((type) => [type.name, type]));
    return {
      put: ({ type, id, values }, lost) => {
        const body = byName.get(type)?.body;
        if (!body) return [{ entry: { type, id }, ending: '.yaml', text: front(values) || '{}\n' }];
        const { text, rest } = withText(body.name, values, lost);
        return [
          { entry: { type, id }, ending: '.md', text: `---\n${front(rest)}---\n${text === '' ? '' : `\n${text}\n`}` },
        ];
      },
    };
  },
};

const front = (values: JsonObject): string => {
  if (Object.keys(values).length === 0) return '';
  return writeYaml(values);
};

/** The text below the front matter, and its content: all that would not come back as it is, too. */
function withText(body: NonNullable<Type['body']>['name'], values: JsonObject, lost: ReportLoss) {
  const prose = values[body];
  if (typeof prose !== 'string') return { text: '', rest: values };
  if (prose === '') lost(`${body}: an empty value comes back as none`);
  else if (proseOf(prose) !== prose)
    lost(`${body} has blank lines or blanks around it, or ends of lines as on Windows`);

  return { text: proseOf(prose) ?? '', rest: withoutKey(values, body) };
}
