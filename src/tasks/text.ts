import fs from 'node:fs';
import path from 'node:path';
import { z } from 'zod';
import { parseAddress } from '../core/definition/address.ts';
import { fieldsWithin } from '../core/model/nestedFields.ts';
import { fieldsOf } from '../core/model/ownFields.ts';
import { at, isObject, type Json, type JsonObject, parsePointer } from '../core/plain/json.ts';
import { JsonValue } from '../core/plain/jsonValue.ts';
import { didYouMean } from '../core/plain/nearest.ts';
import { thereAre } from '../core/plain/words.ts';
import { type Conversion, loadConversion } from '../core/text/conversion.ts';
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

export const textForms = ['html', 'markdown', 'plain', 'tree'] as const;
type TextForm = (typeof textForms)[number];

export const TextResult = z.strictObject({
  ...head('text'),
  from: z.enum(textForms),
  to: z.enum(textForms),
  /** The text in the form that was asked for; a tree as data. */
  text: JsonValue,
  /** What could not be kept, and how often. */
  lost: z.array(z.strictObject({ what: z.string(), times: z.int() })),
});
export type TextResult = z.output<typeof TextResult>;

export interface TextCall {
  /** A file (.md, .html, .txt, .json, .yaml) or a value in an entry: `lighthouse/skerry-point#/story`. */
  readonly source: string;
  readonly to: TextForm;
  /** A field of structured text whose limits the text is brought within. */
  readonly for: string | undefined;
}

/** Converts structured text: from HTML, Markdown or a tree to any of these, or to plain text. */
export async function text(call: Call, { source, to, for: address }: TextCall): Promise<TextResult> {
  const conversion = await loadConversion();
  const { tree, lost, from } = await readTree(call, source, conversion);
  const limits = address === undefined ? undefined : limitsOf(call, address);
  const fitted = limits ? withinLimits(tree, limits) : { tree, lost: [] };
  const times = new Map(lost.map(({ what, times: number }) => [what, number]));

  for (const what of fitted.lost) times.set(what, (times.get(what) ?? 0) + 1);
  return {
    lumbrik: resultVersion,
    command: 'text',
    from,
    to,
    text: written(fitted.tree, to, conversion),
    lost: [...times].map(([what, number]) => ({ what, times: number })),
  };
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

async function readTree(call: Call, source: string, conversion: Conversion): Promise<Read> {
  const address = parseAddress(source);
  if (address?.what === 'entry' && !fs.existsSync(source)) return readValue(call, address, source, conversion);
  if (!fs.existsSync(source))
    throw new Trouble('not-found', `there is no file ${source}, and it is no address of a value`, {
      mend: 'Name a file, or a value as lighthouse/skerry-point#/story.',
    });
  const content = readTextOrRefuse(path.resolve(source), source);
  const ending = path.extname(source).toLowerCase();
  if (ending === '.html' || ending === '.htm') return { ...conversion.htmlToTree(content), from: 'html' };
  if (ending === '.json') return { tree: sound(parsed(content, source), source), lost: [], from: 'tree' };
  return { ...conversion.markdownToTree(content), from: 'markdown' };
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
      mend: `Name a field of it: lumbrik show ${type}/${id} lists them.`,
    });
  return { tree: sound(value, source), lost: [], from: 'tree' };
}

function parsed(content: string, source: string): Json {
  try {
    return JSON.parse(content) as Json;
  } catch {
    throw new Trouble('unusable-text', `${source} is not JSON`, { mend: 'Write the tree as JSON.' });
  }
}

/** @throws {Trouble} where a value is no tree. */
function sound(value: Json, source: string): JsonObject {
  walkText(
    value,
    () => undefined,
    ({ says, mend, path: place }) => {
      throw new Trouble('unusable-text', `${source} ${place.length > 0 ? `at /${place.join('/')} ` : ''}${says}`, {
        mend,
      });
    },
  );
  return isObject(value) ? value : {};
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
