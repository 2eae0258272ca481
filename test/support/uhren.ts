import { workspace } from './program.ts';

/** A workspace whose model has each form of field, with what the tables say of it. */
const uhren = {
  'lumbrik.yaml': 'workspace: "Uhren; drop table x; --"\nlanguages: [de, fr]\n',
  'model/taxonomies/werk.yaml':
    'taxonomy: werk\nterms:\n  - { term: pendel, label: { de: Pendel, fr: Pendule }, terms: [sekunden, halb] }\n  - { term: feder, retired: { use: pendel } }\n  - { term: x, terms: [{ also: halb }] }\n',
  'model/taxonomies/ort.yaml': 'taxonomy: ort\nopen: true\n',
  'model/types/order.yaml': 'type: order\nfields:\n  table: { kind: text, required: true }\n',
  'model/types/meister.yaml': 'type: meister\nfields:\n  name: { kind: text, required: true, max: 20 }\n',
  'model/types/lehrling.yaml': 'type: lehrling\nextends: meister\nfields:\n  seit: { kind: date, min: 1900-01-01 }\n',
  'model/types/uhr.yaml': `type: uhr
fields:
  name: { kind: text, required: true, localized: true, max: 40 }
  hoehe-in-cm: { kind: decimal, min: 1, max: 300, places: 1 }
  slug: { kind: slug, from: name }
  gebaut: { kind: date, min: 1500-01-01, max: 2030-12-31 }
  schlaegt: { kind: time, min: "06:00" }
  dauer: { kind: duration, min: PT1H, max: PT48H }
  gesehen: { kind: dateTime, min: 2000-01-01T00:00:00Z }
  lokal: { kind: dateTime, offset: none }
  form: { kind: choice, choices: [stand, wand, "aus dem Haus meines Großvaters, das am Ende der Straße gestanden hat"] }
  art: { kind: choice, required: published, choices: [alt, neu] }
  zahl: { kind: integer, values: [1, 2, 3] }
  ort: { kind: point }
  bild: { kind: asset, alt: optional }
  werk: { kind: term, taxonomy: werk, leaves: true }
  orte: { kind: term, taxonomy: ort, many: { distinct: true } }
  herkunft: { kind: term, taxonomy: ort }
  von: { kind: reference, to: meister, many: { min: 2, max: 3, distinct: true } }
  erbe: { kind: reference, to: [order, lehrling], inverse: { name: erbt, max: 1 } }
  teile: { kind: object, many: true, fields: { name: { kind: text, required: true }, masse: { kind: integer, many: { max: 2 } } } }
  kasten: { kind: object, fields: { holz: { kind: text, required: true }, farbe: { kind: colour } } }
  preise: { kind: map, keys: { kind: language }, value: { kind: integer, min: 1 } }
  zeilen: { kind: text, many: true, localized: true }
  notiz: { kind: text, required: published, many: { max: 2 } }
  code: { kind: text, unique: true, pattern: { match: '^[A-Z]{2}-\\d+$' } }
  roh: { kind: json }
rules:
  - { expect: "entry.zahl > 0", say: "Nicht 0" }
`,
};

export const good = {
  type: 'uhr',
  id: "o'hara",
  status: 'published',
  name: { de: 'Große "Uhr"', fr: 'Horloge' },
  'hoehe-in-cm': 12.5,
  slug: 'uhr',
  gebaut: '1800-02-28',
  schlaegt: '09:30',
  dauer: 'PT8H',
  gesehen: '2020-01-01T10:00:00+02:00',
  lokal: '2020-01-01T10:00:00',
  form: 'stand',
  art: 'alt',
  zahl: 2,
  ort: { lat: 1.5, lon: 2 },
  werk: 'halb',
  orte: ['bern', 'chur'],
  herkunft: 'chur',
  von: ['anna', 'lehrling/bert'],
  erbe: 'lehrling/bert',
  teile: [{ name: 'Zeiger', masse: [1, 2] }, { name: 'Blatt' }],
  kasten: { holz: 'Nuss', farbe: '#aabbcc' },
  preise: { de: 5 },
  zeilen: { de: ['a', 'b'], fr: ['c'] },
  notiz: ['x'],
  code: 'AB-1',
  roh: { a: [1, null, "it's"] },
};
export const others = [
  { type: 'meister', id: 'anna', name: 'Anna' },
  { type: 'lehrling', id: 'bert', name: 'Bert', seit: '1990-01-01' },
  { type: 'order', id: 'o', table: 't' },
];

const linesOf = (entries: readonly object[]): string => entries.map((one) => `${JSON.stringify(one)}\n`).join('');
export const withEntries = (entries: readonly object[]): string =>
  workspace({
    ...uhren,
    'lumbrik.yaml': `${uhren['lumbrik.yaml']}content: [{ lines: content/alle.ndjson }]\n`,
    'content/alle.ndjson': linesOf(entries),
    'content/ort.terms.yaml': 'taxonomy: ort\nterms: [bern]\n',
  });
