import fs from 'node:fs';
import path from 'node:path';
import type { AssetFacts, Assets } from '../core/entry/assets.ts';
import { listFiles } from './files.ts';

/** The folder of a workspace for the files that entries use. */
export const assetFolder = 'assets';

/** As much of a file as tells what it is and how large a picture in it is. */
const enough = 256 * 1024;

/** Looks into every file below `assets/`. Links are reported as such, and never followed. */
export async function readAssets(root: string): Promise<Assets> {
  const files = listFiles(root, assetFolder, ['']);
  if (files.length === 0) return new Map();

  const look = await loadLook();
  const facts = new Map<string, AssetFacts>();

  for (const file of files) {
    const full = path.join(root, assetFolder, file);
    const stat = fs.lstatSync(full);
    if (stat.isSymbolicLink()) facts.set(file, { media: undefined, named: undefined, size: 0, isLink: true });
    if (stat.isFile()) facts.set(file, { ...(await look(beginning(full), file)), size: stat.size });
  }

  return facts;
}

function beginning(file: string): Buffer {
  const handle = fs.openSync(file, 'r');
  try {
    const buffer = Buffer.alloc(enough);
    return buffer.subarray(0, fs.readSync(handle, buffer, 0, enough, 0));
  } finally {
    fs.closeSync(handle);
  }
}

/** The media types of what has no mark to itself and is known by its name alone, where its content is text. */
const textual: Readonly<Record<string, string>> = {
  '.csv': 'text/csv',
  '.html': 'text/html',
  '.json': 'application/json',
  '.md': 'text/markdown',
  '.svg': 'image/svg+xml',
  '.txt': 'text/plain',
  '.vtt': 'text/vtt',
  '.xml': 'application/xml',
};

/** The media types that the names of the usual files promise. */
const named: Readonly<Record<string, string>> = {
  ...textual,
  '.avif': 'image/avif',
  '.gif': 'image/gif',
  '.jpeg': 'image/jpeg',
  '.jpg': 'image/jpeg',
  '.mp3': 'audio/mpeg',
  '.mp4': 'video/mp4',
  '.pdf': 'application/pdf',
  '.png': 'image/png',
  '.webm': 'video/webm',
  '.webp': 'image/webp',
  '.zip': 'application/zip',
};

type Look = (bytes: Buffer, file: string) => Promise<Omit<AssetFacts, 'size'>>;

async function loadLook(): Promise<Look> {
  const [{ fileTypeFromBuffer }, { imageSize }] = await Promise.all([import('file-type'), import('image-size')]);
  const pixels = (bytes: Buffer): { readonly width?: number; readonly height?: number } => {
    try {
      const { width, height } = imageSize(bytes);
      return { width, height };
    } catch {
      return {}; // No picture, or one whose size stands further down in the file.
    }
  };

  return async (bytes, file) => {
    const ending = path.extname(file).toLowerCase();
    const mime = (await fileTypeFromBuffer(bytes))?.mime;
    const isText = mime === undefined || mime === 'application/xml';
    const media = isText ? (textMedia(bytes, ending) ?? mime) : mime;
    return { media, named: named[ending], ...(media?.startsWith('image/') ? pixels(bytes) : {}) };
  };
}

function textMedia(bytes: Buffer, ending: string): string | undefined {
  const start = bytes.subarray(0, 4096);
  if (start.includes(0)) return undefined;
  if (/<svg[\s>]/u.test(start.toString('latin1'))) return 'image/svg+xml';
  if (ending === '.svg') return undefined;
  return textual[ending];
}
