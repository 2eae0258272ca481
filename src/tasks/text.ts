import fs from 'node:fs';
import path from 'node:path';
import { z } from 'zod';
import { parseAddress } from '../core/definition/address.ts';
import { fieldsWithin } from '../core/model/nestedFields.ts';
import { fieldsOf } from '../core/model/ownFields.ts';
import { at, isObject, type Json, type JsonObject, parsePointer } from '../core/plain/json.ts';
import { JsonValue } from '../core/plain/jsonValue.ts';
import { usualLimits } from '../core/plain/limits.ts';
import { didYouMean } from '../core/plain/nearest.ts';
import { shellWord } from '../core/plain/shellWord.ts';
import { thereAre } from '../core/plain/words.ts';
import { readYaml } from '../core/source/yaml.ts';
import { type Conversion, loadConversion } from '../core/text/conversion.ts';
import { forbiddenScheme, usualSchemes } from '../core/text/links.ts';
import { toPlain } from '../core/text/plain.ts';
import { type TextLimits, withinLimits } from '../core/text/restrict.ts';
import { walkText } from '../core/text/tree.ts';
import { openStore } from '../stores/open.ts';
import { readTextOrRefuse } from '../workspace/files.ts';
import { openSoundWorkspace } from '../workspace/open.ts';
import { Trouble } from '../workspace/trouble.ts';
import type { Call } from './call.ts';
import { head, resultVersion } from './result.ts';
import { noEntry } from './show/entry.ts';

/** The forms of structured text. */
export const textForms = ['html', 'markdown', 'plain', 'tree'] as const;
type TextForm = (typeof textForms)[number];

/** The result of `lumbrik text`. */
export const TextResult = z.strictObject({
  ...head('text'),
  from: z.enum(textForms),
  to: z.enum(textForms),
  /** The text in the form that was requested; a tree as data. */
  text: JsonValue,
  /** What could not be kept, and how often. */
  lost: z.array(z.strictObject({ what: z.string(), times: z.int() })),
});
export type TextResult = z.output<typeof TextResult>;

/** The options of a conversion. */
export interface TextCall {
  /** A file (.md, .html, .txt, .json, .yaml), a value in an entry, `lighthouse/skerry-point#/story`, or `-`: what is piped in. */
  readonly source: string;
  readonly to: TextForm;
  /** The form of the source, where its name does not say it. */
  readonly from?: Exclude<TextForm, 'plain'> | undefined;
  /** A field of structured text whose limits the text is brought within. */
  readonly for: string | undefined;
}

/** Converts structured text: from HTML, Markdown or a tree to any of these, or to plain text. */
export async function text(call: Call, { source, to, from: form, for: address }: TextCall): Promise<TextResult> {
  const conversion = await loadConversion();
  const { tree, lost, from } = await readTree(call, { source, from: form }, conversion);
  const limits = address === undefined ? undefined : limitsOf(call, address);
  const fitted = limits ? withinLimits(tree, limits) : { tree, lost: [] };
  const times = new Map(lost.map(({ what: loss, times: number }) => [loss, number]));

  const lostOnTheWay = { html: unsafeIn, markdown: conversion.lostInMarkdown, plain: () => [], tree: () => [] }[to];
  for (const loss of [...fitted.lost, ...lostOnTheWay(fitted.tree)]) times.set(loss, (times.get(loss) ?? 0) + 1);

  return {
    lumbrik: resultVersion,
    command: 'text',
    from,
    to,
    text: written(fitted.tree, to, conversion),
    lost: [...times].map(([loss, number]) => ({ what: loss, times: number })),
  };
}

/** Links and pictures that HTML is written without, since their addresses could do harm. */
function unsafeIn(tree: JsonObject): readonly string[] {
  const lost: string[] = [];
  walkText(
    tree,
    ({ node }) => {
      const schemes = { link: usualSchemes, image: ['https', 'http'] }[String(node.type)];
      const scheme = schemes && forbiddenScheme(String(node.url), schemes);
      if (scheme !== undefined) lost.push(`${node.type === 'link' ? 'link' : 'picture'} to ${scheme}:`);
    },
    () => undefined,
  );

  return lost;
}

function written(tree: JsonObject, to: TextForm, { treeToHtml, treeToMarkdown }: Conversion): Json {
  return {
    html: () => treeToHtml(tree),
    markdown: () => treeToMarkdown(tree),
    plain: () => toPlain(tree),
    tree: () => tree,
  }[to]();
}

interface Read {
  readonly tree: JsonObject;
  readonly lost: readonly { readonly what: string; readonly times: number }[];
  readonly from: TextForm;
}

async function readTree(
  call: Call,
  { source, from }: Pick<TextCall, 'source' | 'from'>,
  conversion: Conversion,
): Promise<Read> {
  // A lone hyphen reaches us as an empty text.
  if (source === '-' || source === '')
    return readAs(from ?? formOf(pipedIn()), pipedIn(), 'what was piped in', conversion);

  const address = parseAddress(source);
  if (address?.what === 'entry' && !fs.existsSync(source)) return readValue(call, address, source, conversion);
  if (!fs.existsSync(source))
    throw new Trouble('not-found', `there is no file ${source}, and it is no address of a value`, {
      mend: 'Name a file, or a value as lighthouse/skerry-point#/story.',
    });

  const content = readTextOrRefuse(path.resolve(source), source, usualLimits);

  return readAs(from ?? formsByEnding[path.extname(source).toLowerCase()] ?? 'markdown', content, source, conversion);
}

const formsByEnding: Readonly<Record<string, Exclude<TextForm, 'plain'>>> = {
  '.html': 'html',
  '.htm': 'html',
  '.json': 'tree',
  '.yaml': 'tree',
  '.yml': 'tree',
};

let piped: string | undefined;

/** All of the standard input, which is read once. */
function pipedIn(): string {
  piped ??= fs.readFileSync(0, 'utf8');
  return piped;
}

/** What a text that nobody says the form of most likely is. */
function formOf(text: string): Exclude<TextForm, 'plain'> {
  const start = text.trimStart();
  if (/^(?:\{|type:\s*root\b)/u.test(start)) return 'tree';
  if (/^<(?:!doctype|[a-z])/iu.test(start)) return 'html';
  return 'markdown';
}

function readAs(
  form: Exclude<TextForm, 'plain'>,
  content: string,
  source: string,
  { htmlToTree, markdownToTree }: Conversion,
): Read {
  if (form === 'html') return { ...htmlToTree(content), from: form };
  if (form === 'markdown') return { ...markdownToTree(content), from: form };
  return { tree: sound(parsed(content, source), source), lost: [], from: form };
}

async function readValue(
  call: Call,
  { type, id, pointer = '' }: { readonly type: string; readonly id: string; readonly pointer?: string },
  source: string,
  conversion: Conversion,
): Promise<Read> {
  const workspace = openSoundWorkspace(call.workspace);
  const store = openStore(workspace);
  const stored = await store.get({ type, id });
  if (!stored) throw await noEntry(workspace, store, type, id);

  const parts = parsePointer(pointer);
  const value = at(
    fieldsOf(stored.entry, workspace.model.types.get(type)),
    parts.map((part) => (/^\d+$/u.test(part) ? Number(part) : part)),
  );
  if (typeof value === 'string') return { ...conversion.markdownToTree(value), from: 'markdown' };
  if (value === undefined || parts.length === 0)
    throw new Trouble('not-found', `there is no value at ${source}`, {
      mend: `Name a field of it: lumbrik show ${shellWord(`${type}/${id}`)} lists them.`,
    });
  return { tree: sound(value, source), lost: [], from: 'tree' };
}

function parsed(content: string, source: string): Json {
  // JSON is YAML too.
  const reading = readYaml(content, usualLimits);
  if ('value' in reading) return reading.value.data;
  throw new Trouble('unusable-text', `${source} is neither JSON nor YAML: ${reading.problem.says}`, {
    mend: 'Write the tree as one of the two.',
  });
}

/** @throws {Trouble} where a value is no tree. */
function sound(value: Json, source: string): JsonObject {
  walkText(
    value,
    () => undefined,
    ({ says: message, mend, path: place }) => {
      throw new Trouble('unusable-text', `${source} ${place.length > 0 ? `at /${place.join('/')} ` : ''}${message}`, {
        mend,
      });
    },
  );
  if (isObject(value)) return value;
  return {};
}

function limitsOf(call: Call, text: string): TextLimits {
  const { model } = openSoundWorkspace(call.workspace);
  const texts = [...model.types.values()]
    .flatMap(({ fields }) => fieldsWithin(fields))
    .filter(({ kind }) => kind.textLimits !== undefined);
  const field = texts.find(({ address }) => address === text);
  const limits = field?.kind.textLimits?.(field.options);
  if (limits) return limits;

  const addresses = texts.map(({ address }) => address);
  throw new Trouble('not-found', `\`${text}\` is no field of structured text`, {
    mend: didYouMean(text, addresses) ?? thereAre(addresses, 3) ?? 'No type has a field of kind richText yet.',
  });
}
