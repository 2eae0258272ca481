import { describe, expect, test } from 'vitest';
import { lumbrik, result, workspace, write } from './support/program.ts';

/**
 * Changes as architects make them, written down with what was meant before any of them was run: the fields before and
 * after, some entries, and the fields that have another name (`old=new`) or another place (`old>new`), whatever else
 * happened to them.
 */
type Meant = readonly [
  what: string,
  before: string,
  after: string,
  entries: readonly string[],
  renames: readonly string[],
];

const t = '{ kind: text }';
const text = (...values: string[]): string[] => values.map((value) => `a: ${JSON.stringify(value)}`);
const one = (before: string, after: string): [string, string] => [`{ ${before} }`, `{ ${after} }`];

const renamesAlone: readonly Meant[] = [
  [
    'another word with a word in common',
    ...one(`birthDate: { kind: date }`, `dateOfBirth: { kind: date }`),
    ['birthDate: 1950-01-02'],
    ['birthDate=dateOfBirth'],
  ],
  [
    'a longer name',
    ...one('height: { kind: decimal, unit: m }', 'focalHeight: { kind: decimal, unit: m }'),
    ['height: 3.5'],
    ['height=focalHeight'],
  ],
  [
    'a shorter name',
    ...one('emailAddress: { kind: email }', 'email: { kind: email }'),
    ['emailAddress: a@b.example'],
    ['emailAddress=email'],
  ],
  [
    'a plural',
    ...one('keyword: { kind: text, many: true }', 'keywords: { kind: text, many: true }'),
    ['keyword: [a, b]'],
    ['keyword=keywords'],
  ],
  ['other capitals', ...one(`postcode: ${t}`, `postCode: ${t}`), ['postcode: AB1'], ['postcode=postCode']],
  ['an underscore', ...one(`first_name: ${t}`, `firstName: ${t}`), ['first_name: Ada'], ['first_name=firstName']],
  [
    'a spelling',
    ...one('colour: { kind: colour }', 'color: { kind: colour }'),
    ['colour: "#aabbcc"'],
    ['colour=color'],
  ],
  [
    'another word for the only long text',
    ...one('blurb: { kind: longText, max: 300 }', 'summary: { kind: longText, max: 300 }'),
    ['blurb: Short.'],
    ['blurb=summary'],
  ],
  [
    'another word for the only reference',
    ...one('guide: { kind: reference, to: person }', 'leader: { kind: reference, to: person }'),
    ['guide: ada'],
    ['guide=leader'],
  ],
  [
    'another word for the only date',
    ...one('from: { kind: date }', 'starts: { kind: date }'),
    ['from: 2026-01-02', 'from: 2026-01-03'],
    ['from=starts'],
  ],
  [
    'a name that is written otherwise, with a limit that no value keeps',
    ...one(`Title: ${t}`, 'title: { kind: text, max: 3 }'),
    ['Title: The harbour', 'Title: The pier'],
    ['Title=title'],
  ],
  [
    'a name without its hyphen, and values of another kind that none is',
    ...one(`opening-hours: ${t}`, 'openingHours: { kind: duration }'),
    ['opening-hours: from ten to five', 'opening-hours: never'],
    ['opening-hours=openingHours'],
  ],
  [
    'two that change places in the file',
    ...one(`name: ${t}, code: ${t}`, `code: ${t}, fullName: ${t}`),
    ['name: A\ncode: B'],
    ['name=fullName'],
  ],
  [
    'two with alike names',
    ...one('startDate: { kind: date }, endDate: { kind: date }', 'dateStart: { kind: date }, dateEnd: { kind: date }'),
    ['startDate: 2026-01-01\nendDate: 2026-02-01'],
    ['startDate=dateStart', 'endDate=dateEnd'],
  ],
  [
    'three at once',
    ...one(
      'w: { kind: decimal }, street: { kind: text, max: 80 }, mail: { kind: email }',
      'weight: { kind: decimal }, streetName: { kind: text, max: 80 }, eMail: { kind: email }',
    ),
    ['w: 1.5\nstreet: A\nmail: a@b.example'],
    ['w=weight', 'street=streetName', 'mail=eMail'],
  ],
  [
    'inside an object',
    ...one(
      `at: { kind: object, fields: { lat: { kind: decimal }, lng: { kind: decimal } } }`,
      `at: { kind: object, fields: { lat: { kind: decimal }, longitude: { kind: decimal } } }`,
    ),
    ['at: { lat: 1.5, lng: 2.5 }'],
    ['at.lng=longitude'],
  ],
  [
    'an object and a field in it',
    ...one(
      `place: { kind: object, fields: { town: ${t}, zip: ${t} } }`,
      `places: { kind: object, fields: { town: ${t}, zipCode: ${t} } }`,
    ),
    ['place: { town: A, zip: "1" }'],
    ['place=places', 'places.zip=zipCode'],
  ],
];

const renamesAndChanges: readonly Meant[] = [
  [
    'one becomes several',
    ...one('guide: { kind: reference, to: person }', 'guides: { kind: reference, to: person, many: true }'),
    ['guide: ada', 'guide: bo'],
    ['guide=guides'],
  ],
  [
    'several become one',
    ...one('authors: { kind: reference, to: person, many: true }', 'author: { kind: reference, to: person }'),
    ['authors: [ada]'],
    ['authors=author'],
  ],
  [
    'a text becomes a number with its unit in the name',
    ...one(`weight: ${t}`, 'weightKg: { kind: decimal, unit: kg }'),
    ['weight: "1.5"', 'weight: "12"'],
    ['weight=weightKg'],
  ],
  [
    'a text becomes a date',
    ...one(`written: ${t}`, 'writtenOn: { kind: date }'),
    ['written: 2020-01-02', 'written: 2021-04-05'],
    ['written=writtenOn'],
  ],
  [
    'a text becomes a list',
    ...one(`keywords: ${t}`, 'tags: { kind: text, many: true }'),
    ['keywords: sea, light', 'keywords: harbour, boats, fog'],
    ['keywords=tags'],
  ],
  [
    'a text becomes a choice by its labels',
    ...one(
      `state: ${t}`,
      'condition: { kind: choice, choices: [{ choice: good, label: Still good }, { choice: bad, label: Worn out }] }',
    ),
    ['state: Still good', 'state: Worn out'],
    ['state=condition'],
  ],
  [
    'a text becomes a term',
    ...one(`area: ${t}`, 'region: { kind: term, taxonomy: region }'),
    ['area: North', 'area: south'],
    ['area=region'],
  ],
  [
    'a text becomes an address',
    ...one(`homepage: ${t}`, 'website: { kind: webAddress }'),
    ['homepage: https://a.example', 'homepage: https://b.example/c'],
    ['homepage=website'],
  ],
  [
    'a text becomes an e-mail address',
    ...one(`contact: ${t}`, 'writeTo: { kind: email }'),
    ['contact: a@b.example', 'contact: c@d.example'],
    ['contact=writeTo'],
  ],
  [
    'minutes become a duration',
    ...one('minutes: { kind: integer }', 'duration: { kind: duration }'),
    ['minutes: 15', 'minutes: 90'],
    ['minutes=duration'],
  ],
  [
    'a text becomes localized',
    ...one(`demonym: ${t}`, 'demonyms: { kind: text, localized: true }'),
    ['demonym: French'],
    ['demonym=demonyms'],
  ],
  [
    'a localized text becomes one',
    ...one('titles: { kind: text, localized: true }', `title: ${t}`),
    ['titles: { en: A }'],
    ['titles=title'],
  ],
  [
    'a number becomes a whole one',
    ...one('seatsMax: { kind: decimal }', 'seats: { kind: integer }'),
    ['seatsMax: 12', 'seatsMax: 80'],
    ['seatsMax=seats'],
  ],
  [
    'a name and a limit',
    ...one('intro: { kind: longText, max: 400 }', 'introduction: { kind: longText, max: 250, required: true }'),
    ['intro: Hello.'],
    ['intro=introduction'],
  ],
  [
    'a text becomes prose',
    ...one('note: { kind: longText }', 'notes: { kind: markdown }'),
    ['note: Hello.'],
    ['note=notes'],
  ],
  [
    'a truth becomes a choice',
    ...one('isOpen: { kind: boolean }', 'open: { kind: choice, choices: ["true", "false"] }'),
    ['isOpen: true', 'isOpen: false'],
    ['isOpen=open'],
  ],
  [
    'free data becomes a number',
    ...one('countJson: { kind: json }', 'count: { kind: integer }'),
    ['countJson: 3', 'countJson: 4'],
    ['countJson=count'],
  ],
  [
    'a choice becomes a term',
    ...one('side: { kind: choice, choices: [north, south] }', 'region: { kind: term, taxonomy: region }'),
    ['side: north', 'side: south'],
    ['side=region'],
  ],
  [
    'a date becomes a moment',
    ...one('opened: { kind: date }', 'openedAt: { kind: dateTime }'),
    ['opened: 2020-01-02'],
    ['opened=openedAt'],
  ],
  [
    'the values tell which of two',
    ...one(`codeA: ${t}, codeB: ${t}`, 'numberB: { kind: integer }, numberA: { kind: text, pattern: "^A-" }'),
    ['codeA: A-1\ncodeB: "7"', 'codeA: A-2\ncodeB: "8"'],
    ['codeA=numberA', 'codeB=numberB'],
  ],
];

/** Values that become a field inside the items of a list. */
const list = (fields: string): string => `{ kind: object, many: true, fields: { ${fields} } }`;
const itemsOfTheirOwn: readonly Meant[] = [
  [
    'an address that becomes links, each with its own',
    ...one('url: { kind: webAddress }', `links: ${list(`url: { kind: webAddress, required: true }, label: ${t}`)}`),
    ['url: https://a.example', 'url: https://b.example'],
    ['url=links'],
  ],
  [
    'a name that becomes people with what they do',
    ...one(`author: ${t}`, `authors: ${list(`name: { kind: text, required: true }, part: ${t}`)}`),
    ['author: Ada', 'author: Bo'],
    ['author=authors'],
  ],
  [
    'pictures that get a caption each',
    ...one('photos: { kind: asset, many: true }', `pictures: ${list(`photo: { kind: asset }, caption: ${t}`)}`),
    [],
    ['photos=pictures'],
  ],
];

const moves: readonly Meant[] = [
  [
    'into an object that is new',
    ...one(`street: ${t}, town: ${t}`, `at: { kind: object, fields: { street: ${t}, town: ${t} } }`),
    ['street: A\ntown: B'],
    ['street>at.street', 'town>at.town'],
  ],
  [
    'into an object that is there',
    ...one(
      `price: { kind: decimal }, terms: { kind: object, fields: { note: ${t} } }`,
      `terms: { kind: object, fields: { note: ${t}, price: { kind: decimal } } }`,
    ),
    ['price: 3.5'],
    ['price>terms.price'],
  ],
  [
    'out of an object, which goes',
    ...one(
      `at: { kind: object, fields: { lat: { kind: decimal }, lng: { kind: decimal } } }`,
      'lat: { kind: decimal }, lng: { kind: decimal }',
    ),
    ['at: { lat: 1.5, lng: 2.5 }'],
    ['at.lat>lat', 'at.lng>lng'],
  ],
  [
    'from one object to another',
    ...one(
      `a: { kind: object, fields: { x: ${t}, opens: { kind: time } } }, b: { kind: object, fields: { y: ${t} } }`,
      `a: { kind: object, fields: { x: ${t} } }, b: { kind: object, fields: { y: ${t}, opens: { kind: time } } }`,
    ),
    ['a: { x: p, opens: "10:00" }'],
    ['a.opens>b.opens'],
  ],
  [
    'an object as a whole, with all that is in it',
    ...one(
      `hours: { kind: object, fields: { opens: { kind: time }, closes: { kind: time } } }, seats: { kind: integer }`,
      `visit: { kind: object, fields: { hours: { kind: object, fields: { opens: { kind: time }, closes: { kind: time } } }, seats: { kind: integer } } }`,
    ),
    ['hours: { opens: "10:00" }'],
    ['hours>visit.hours', 'seats>visit.seats'],
  ],
  [
    'with a new name and a limit',
    ...one(`town: { kind: text }`, `at: { kind: object, fields: { townName: { kind: text, max: 60 } } }`),
    ['town: A'],
    ['town>at.townName'],
  ],
  [
    'one moved and one renamed',
    ...one(
      `street: ${t}, blurb: { kind: longText }`,
      `at: { kind: object, fields: { street: ${t} } }, summary: { kind: longText }`,
    ),
    ['street: A\nblurb: B'],
    ['blurb=summary', 'street>at.street'],
  ],
];

const noRenames: readonly Meant[] = [
  [
    'a text is none of the two that each item of a new list has to have',
    ...one(
      `name: ${t}, mail: ${t}`,
      `mail: ${t}, people: ${list(`name: { kind: text, required: true }, mail: { kind: text, required: true }`)}`,
    ),
    ['name: A\nmail: B'],
    [],
  ],
  [
    'a text that is gone, and a list of things that happen to have one',
    ...one(`remark: ${t}`, `photos: ${list(`photo: { kind: asset }, caption: ${t}`)}`),
    ['remark: A'],
    [],
  ],
  [
    'a field of a list of objects is not the field of the entry',
    ...one(`days: { kind: object, many: true, fields: { walk: ${t} } }`, `walk: ${t}`),
    ['days: [{ walk: A }, { walk: B }]'],
    [],
  ],
  [
    'two fields of other kinds in other places',
    ...one('seats: { kind: integer }', `at: { kind: object, fields: { lamp: { kind: colour } } }`),
    ['seats: 3'],
    [],
  ],
  ['a field that is gone', ...one(`a: ${t}, b: ${t}`, `a: ${t}`), ['a: x\nb: y'], []],
  ['a field that is new', ...one(`a: ${t}`, `a: ${t}, b: ${t}`), ['a: x'], []],
  ['one gone and one new of other kinds', ...one('photo: { kind: asset }', 'price: { kind: decimal }'), [], []],
  [
    'one gone and one new, texts with nothing in common',
    ...one(`nickname: { kind: text, max: 10 }`, `vatNumber: { kind: text, pattern: "^[A-Z]{2}" }`),
    text().concat('nickname: bo', 'nickname: al'),
    [],
  ],
  [
    'a number whose values would not fit',
    ...one('floor: { kind: integer }', 'flood: { kind: integer, min: 1000 }'),
    ['floor: 1', 'floor: 2', 'floor: 3'],
    [],
  ],
  [
    'a text that is no date',
    ...one(`published: ${t}`, 'publishedOn: { kind: date }'),
    ['published: by hand', 'published: in print', 'published: twice'],
    [],
  ],
  [
    'a text that is no address',
    ...one(`place: ${t}`, 'page: { kind: webAddress }'),
    ['place: Harbour', 'place: Pier'],
    [],
  ],
  [
    'a reference to another type',
    ...one('owner: { kind: reference, to: person }', 'tower: { kind: reference, to: tower }'),
    ['owner: person/ada', 'owner: person/bo'],
    [],
  ],
  [
    'sentences with commas are no list',
    ...one(`story: ${t}`, 'chapters: { kind: text, many: true }'),
    [
      'story: It was late, and the keeper had gone up to the lamp as on any other night of that year',
      'story: There was a ship, said the boy who had been sent down to look for it',
    ],
    [],
  ],
  ['a limit alone', ...one('a: { kind: text, max: 20 }', 'a: { kind: text, max: 10 }'), ['a: x'], []],
  ['a kind alone', ...one(`a: ${t}`, 'a: { kind: integer }'), ['a: "1"'], []],
  ['many alone', ...one(`a: ${t}`, 'a: { kind: text, many: true }'), ['a: x'], []],
  [
    'an object that gets a field',
    ...one(`at: { kind: object, fields: { x: ${t} } }`, `at: { kind: object, fields: { x: ${t}, y: ${t} } }`),
    ['at: { x: a }'],
    [],
  ],
  [
    'two new beside one gone',
    ...one('price: { kind: decimal }', 'language: { kind: language }, opens: { kind: time }'),
    ['price: 3.5'],
    [],
  ],
];

const all = [...renamesAlone, ...renamesAndChanges, ...itemsOfTheirOwn, ...moves, ...noRenames];

/** Every change in a type of its own, so that one comparison sees them all. */
function trust(side: 1 | 2): Record<string, string> {
  const types = all.map(
    (meant, index) => [`model/types/t${index}.yaml`, `type: t${index}\nfields: ${meant[side]}\n`] as const,
  );
  return Object.fromEntries(types);
}

test('what a value becomes in another kind is said: a number counts the shortest unit', async () => {
  const folder = workspace({
    'model/types/work.yaml': 'type: work\nfields:\n  length: { kind: integer }\n',
    'content/work/a.yaml': 'length: 21\n',
  });
  await lumbrik(folder, ['seal', '-m', 'one']);
  write(folder, {
    'model/types/work.yaml': 'type: work\nfields:\n  length: { kind: duration, units: [hours, minutes] }\n',
  });
  const { steps } = await result(folder, ['migration', 'draft']);
  expect(steps[0].why).toBe('Integer becomes duration: every value can be carried over, such as 21 as “PT21M”.');
});

describe('what was meant by a change is recognised [G2, A4]', () => {
  test('of all that is written down here, all but a few, and nothing is taken for a rename that is none', async () => {
    const entries = all.flatMap(([, , , some], index) =>
      some.map((entry, number) => [`content/t${index}/e${number}.yaml`, `${entry}\n`] as const),
    );
    const folder = workspace({
      'lumbrik.yaml': 'workspace: A\nlanguages: [en, fr]\n',
      'model/types/person.yaml': `type: person\nfields: { name: ${t} }\n`,
      'model/types/tower.yaml': `type: tower\nfields: { name: ${t} }\n`,
      'model/taxonomies/region.yaml': 'taxonomy: region\nterms: [north, south]\n',
      'content/person/ada.yaml': 'name: Ada\n',
      'content/person/bo.yaml': 'name: Bo\n',
      ...trust(1),
      ...Object.fromEntries(entries),
    });
    expect((await result(folder, ['check'])).mistakes).toEqual([]);
    await result(folder, ['seal', '-m', 'one']);
    write(folder, trust(2));
    expect((await result(folder, ['check'])).mistakes).toEqual([]);

    const { changes } = await result(folder, ['diff']);
    const renamesOf = (type: string): string[] =>
      changes
        .filter(({ change, address }: any) => /^(?:renamed|moved)$/u.test(change) && address.startsWith(`${type}.`))
        .map(({ address, says }: any) =>
          `${address.slice(type.length + 1)}=${says}`.replace('=renamed to ', '=').replace(`=moved to ${type}.`, '>'),
        )
        .sort();
    const wrong = all.flatMap(([what, , , , renames], index) => {
      const found = renamesOf(`t${index}`);
      return JSON.stringify(found) === JSON.stringify([...renames].sort()) ? [] : [`${what}: ${found.join(', ')}`];
    });
    expect(wrong).toEqual([]);
  });
});
