import { createHash } from 'node:crypto';
import { toHtml } from 'hast-util-to-html';
import { count, groupThousands } from '../../core/plain/words.ts';
import type { ReportResult } from '../../tasks/report.ts';
import { harmless } from '../harmless.ts';
import { style as mapStyle, svg } from '../map/svg.ts';
import { xml } from '../xml.ts';
import script from './browser/page.ts?script';
import { changeSection } from './change.tsx';
import { adviceSection, checkSection } from './findings.tsx';
import { linksOf } from './links.ts';
import { isDrawn, mapAside, mapWords, placeOf } from './map.tsx';
import { sharedArticle, taxonomyArticle, typeArticle } from './model.tsx';
import pageStyle from './page.css';
import { type Child, idOf, type Node, number, to, typed, words } from './parts.tsx';
import { ownMark } from './place.ts';

const style = pageStyle + mapStyle;

/**
 * Everything about a workspace as one page of HTML: it needs nothing beside it, reaches nothing, and nothing in a model or
 * an entry can become markup or script in it.
 */
export function* page(report: ReportResult): Iterable<string> {
  const result = harmless(report);
  yield head(result);
  yield html(top(result));
  yield '<main id="main">\n';
  yield html(atAGlance(result));
  if (result.change) yield html(changeSection(result.change, result));
  yield* section('map', 'What points at what', mapParts(result));
  yield* modelSections(result);
  yield html(checkSection(result));
  yield html(adviceSection(result));
  yield '</main>\n';
  yield html(foot(result));
  yield `<script>${script}</script>\n</body>\n</html>\n`;
}

const html = (node: Node): string => `${toHtml(node)}\n`;

/** A section in pieces: a large one is never held as a whole. */
function* section(id: string, title: string, parts: Iterable<string>): Iterable<string> {
  yield `<section id="${id}" aria-labelledby="${id}-title">\n<h2 id="${id}-title">${title}</h2>\n`;
  yield* parts;
  yield '</section>\n';
}

function* mapParts({ map, overview }: ReportResult): Iterable<string> {
  yield html(mapAside(map));
  if (isDrawn(map)) {
    yield `<div class="picture" tabindex="0" role="region" aria-label="Map of ${xml(overview.workspace)}">\n`;
    yield* svg(map, { href: (box) => `#${placeOf(box)}` });
    yield '</div>\n';
  }

  yield html(mapWords(map));
}

function* modelSections(result: ReportResult): Iterable<string> {
  const { types, shared, taxonomies, profile } = result;
  const links = linksOf(result);
  const profiles = new Map(profile.types.map((type) => [type.type, type]));
  const drawn = function* <T>(items: readonly T[], draw: (item: T) => Node): Iterable<string> {
    for (const item of items) yield html(draw(item));
  };
  yield* section(
    'types',
    'Types',
    drawn(types, (type) => typeArticle(type, profiles.get(type.name), links)),
  );

  if (shared.length > 0)
    yield* section(
      'shared',
      'Kits, and what else is shared',
      drawn(shared, (part) => sharedArticle(part, links)),
    );

  if (taxonomies.length > 0)
    yield* section(
      'taxonomies',
      'Taxonomies',
      drawn(taxonomies, (taxonomy) => taxonomyArticle(taxonomy, links)),
    );
}

/** Only the style and the script that are in the page itself are taken, and nothing is ever loaded. */
function head({ overview }: ReportResult): string {
  const only = (text: string): string => `'sha256-${createHash('sha256').update(text).digest('base64')}'`;
  const policy = `default-src 'none'; style-src ${only(style)}; script-src ${only(script)}; base-uri 'none'; form-action 'none'`;
  return [
    '<!doctype html>\n<html lang="en">\n<head>\n<meta charset="utf-8">\n',
    `<meta http-equiv="Content-Security-Policy" content="${policy}">\n`,
    `<meta name="viewport" content="width=device-width, initial-scale=1">\n${ownMark}\n`,
    `<title>${xml(overview.workspace)}: the content model</title>\n<style>${style}</style>\n</head>\n<body>\n`,
  ].join('');
}

/** What the page is about, where else one can go on it, and a field to look for words. */
const top = (result: ReportResult): Node => (
  <>
    <a class="skip" href="#main">
      To the content
    </a>
    <header>
      <h1>{words(result.overview.workspace)}</h1>
      <p>{stateLine(result)}</p>
    </header>
    <nav class="tools" aria-label="On this page">
      <ul>
        {placesOn(result).map(([id, title]) => (
          <li>{to(id, title)}</li>
        ))}
      </ul>
      <search>
        <form hidden>
          <label>
            Look for <input type="search" placeholder="field, term or word" autocomplete="off" />
          </label>{' '}
          <output aria-live="polite" />
        </form>
      </search>
    </nav>
  </>
);

const stateLine = ({ overview: { revision, changed, languages }, language, made: created }: ReportResult): string =>
  [
    revision === undefined
      ? 'No revision is recorded yet'
      : `Revision ${revision.revision} (${revision.version}) of ${revision.date.slice(0, 10)}, “${revision.message}”`,
    changed.length > 0 ? `, and ${count(changed.length, 'change')} since` : '',
    `. Content in ${languages.join(', ')}, the model read in ${language}. Made on ${created.slice(0, 10)}.`,
  ].join('');

const placesOn = ({ change, shared, taxonomies }: ReportResult): readonly (readonly [string, string])[] => [
  ...(change ? [['change', 'What changed'] as const] : []),
  ['map', 'Map'],
  ['types', 'Types'],
  ...(shared.length > 0 ? [['shared', 'Kits'] as const] : []),
  ...(taxonomies.length > 0 ? [['taxonomies', 'Taxonomies'] as const] : []),
  ['check', 'Check'],
  ['advice', 'Advice'],
];

function atAGlance({ overview, advice }: ReportResult): Node {
  const { types, taxonomies, kits, errors, warnings } = overview;
  const tiles: readonly Child[] = [
    number(types.length, 'type'),
    number(
      types.reduce((sum, type) => sum + type.entries, 0),
      'entry',
      'entries',
    ),
    number(kits.length, 'kit'),
    number(taxonomies.length, 'taxonomy', 'taxonomies'),
    number(
      taxonomies.reduce((sum, taxonomy) => sum + taxonomy.terms, 0),
      'term',
    ),
    number(errors, 'error'),
    number(warnings, 'warning'),
    number(advice.advice.length, 'advice', 'advice'),
  ];

  return (
    <section aria-label="At a glance">
      <ul class="tiles">
        {tiles.map((tile) => (
          <li>{tile}</li>
        ))}
      </ul>
      <ul class="index">
        {types.map(({ name, label, entries }) => (
          <li>
            {to(idOf('type', name), words(label))} <span class="times">{groupThousands(entries)}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

const foot = ({ made: created }: ReportResult): Node => (
  <footer>
    <p>
      Written by Lumbrik on {created.replace('T', ' at ').replace('Z', ' UTC')}, and made anew by{' '}
      {typed('lumbrik report')}. This page needs nothing beside it and loads nothing.
    </p>
  </footer>
);
