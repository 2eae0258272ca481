import { groupThousands } from '../../core/plain/words.ts';
import type { ReportResult } from '../../tasks/report.ts';
import { distinctWords, frequentValues, inShort, rangeWords } from '../usageWords.ts';
import type { Links } from './links.ts';
import {
  type Child,
  cut,
  idOf,
  ifGiven,
  joined,
  listed,
  madeOfAny,
  type Node,
  quoted,
  share,
  small,
  table,
  to,
  typed,
  words,
} from './parts.tsx';

type Field = ReportResult['types'][number]['fields'][number];
export type Profiled = ReportResult['profile']['types'][number];
type ProfiledField = Profiled['fields'][number];

interface FieldsGiven {
  /** The owner of the fields: its name and its label. */
  readonly name: string;
  readonly label: string;
  readonly fields: readonly Field[];
  /** How they are used, where that is counted. */
  readonly profile?: Profiled | undefined;
  readonly links: Links;
}

const titles = ['Field', 'Takes', 'For authors', 'Filled', 'Values'];

/** Fields, each with what it takes, what authors are reported, and how it is used; those inside objects below these. */
export function fieldTable({ name, label, fields, profile, links }: FieldsGiven): Node {
  const used = new Map(profile?.fields.map((field) => [field.address, field]));
  const shown = profile ? titles : titles.slice(0, 3);

  return table({
    caption: `Fields of ${label}`,
    titles: shown,
    rows: fields.map((field) => {
      const address = `${name}.${field.name}`;
      const use = used.get(address);
      const cells = [
        named(field),
        takes(field, address, links),
        forAuthors(field),
        ifGiven(use, filled),
        ifGiven(use, values),
      ];

      return {
        id: idOf('field', address),
        depth: field.name.split('.').length - 1,
        cells: cells.slice(0, shown.length),
      };
    }),
  });
}

const named = ({ name, label, required, group }: Field): Child =>
  joined(
    words(label),
    small(typed(name)),
    ifGiven(required, (when) => (
      <small class="needed">{when === 'always' ? 'required' : 'required to be published'}</small>
    )),
    ifGiven(group, (groupName) => small('in ', words(groupName))),
  );

const takes = (field: Field, address: string, { targetsOf }: Links): Child =>
  joined(
    `${field.many ? 'many ' : ''}${field.kind}${field.unique ? ', unique' : ''}`,
    field.gist === '' ? undefined : small(words(field.gist)),
    madeOfAny(targetsOf(address), (targets) => small('see ', listed(targets.map(({ id, label }) => to(id, label))))),
    madeOfAny(field.from, (from) =>
      small('from ', from.map(({ what: category, name }) => `the ${category} ${name}`).join(', ')),
    ),
  );

const forAuthors = ({ help, example, default: usual }: Field): Child =>
  joined(
    ifGiven(help, words),
    ifGiven(example, (value) => small('such as ', quoted(value))),
    ifGiven(usual, (value) => small('new entries start with ', quoted(value))),
  );

const filled = ({ filled: number, of: total, languages = [] }: ProfiledField): Child =>
  joined(
    share(number, total),
    ...(languages.length < 2
      ? []
      : languages.map(({ language, filled: count }) => (
          <small class="language">
            {language} {share(count, total)}
          </small>
        ))),
  );

function values(field: ProfiledField): Child {
  const often = frequentValues(field).map(
    ({ value, says: message, count }) => `${cut(inShort(value, message))} ×${groupThousands(count)}`,
  );
  const [distinct, range] = [distinctWords(field), rangeWords(field)];
  return joined(
    distinct === '' ? undefined : `${distinct} ${distinct === '1' ? 'value' : 'different'}`,
    range === '' ? undefined : small(range),
    madeOfAny(often, (texts) => small(words(texts.join(', ')))),
  );
}
