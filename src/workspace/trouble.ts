import path from 'node:path';
import { compact } from '../core/plain/json.ts';
import { exitCodes } from './exitCodes.ts';

type ExitCode = (typeof exitCodes)[keyof typeof exitCodes];

/** A place in a file, as people write it: `model/types/lighthouse.yaml:4:3`. */
export interface Place {
  readonly file: string;
  readonly line?: number;
  readonly column?: number;
}

interface Details {
  /** What to do about it. */
  readonly mend: string;
  readonly where?: Place;
  readonly exit?: ExitCode;
  /** More of the same kind, one line each. */
  readonly also?: readonly string[];
  readonly cause?: unknown;
}

/** The same as plain data. */
export interface TroubleData extends Pick<Trouble, 'code' | 'message' | 'mend' | 'where' | 'also' | 'exit'> {}

/** Something that stops a command, with a stable name, where it is, and what to do. */
export class Trouble extends Error {
  override readonly name = 'Trouble';
  readonly code: string;
  readonly mend: string;
  readonly where: Place | undefined;
  readonly exit: ExitCode;
  readonly also: readonly string[];

  constructor(code: string, message: string, { mend, where, exit = exitCodes.unusable, also = [], cause }: Details) {
    super(message, { cause });
    this.code = code;
    this.mend = mend;
    this.where = where;
    this.exit = exit;
    this.also = also;
  }

  /** What another thread can be handed. */
  data(): TroubleData {
    const { code, message, mend, where, exit, also } = this;
    return { code, message, mend, where, exit, also };
  }

  static from({ code, message, mend, where, exit, also }: TroubleData): Trouble {
    return new Trouble(code, message, compact({ mend, also, exit, where }));
  }
}

/** A refusal that protects data. */
export const refuse = (code: string, message: string, details: Omit<Details, 'exit'>): Trouble =>
  new Trouble(code, message, { ...details, exit: exitCodes.refused });

/** The code of an error of the operating system, `ENOSPC`; nothing of one that is stated in our words already. */
export function systemCode(error: unknown): string | undefined {
  if (!(error instanceof Error) || error instanceof Trouble) return undefined;
  if ('code' in error && typeof error.code === 'string') return error.code;
  return undefined;
}

/** What the codes of the operating system say of a file, and what to do. */
const knownCodes: Readonly<Record<string, readonly [says: string, mend: string]>> = {
  EACCES: ['may not be read or written', 'Give yourself the right to it, then try again.'],
  EPERM: ['may not be changed', 'Give yourself the right to it, then try again.'],
  EROFS: ['lies on a disk that cannot be written to', 'Copy the workspace to a place that can.'],
  ENOSPC: ['could not be written: the disk is full', 'Free some space, then try again. Nothing is lost.'],
  EDQUOT: [
    'could not be written: your share of the disk is used up',
    'Free some space, then try again. Nothing is lost.',
  ],
  EMFILE: ['could not be opened: too many files are open', 'Close other programs, or raise the limit (ulimit -n).'],
  ENOENT: ['is not there', 'Look at the name; was it moved or deleted?'],
  EISDIR: ['is a folder, and a file belongs there', 'Move the folder away.'],
  ENOTDIR: ['cannot be reached: a file stands where a folder belongs', 'Move the file away.'],
  ENAMETOOLONG: ['cannot be written: the file system takes no name as long', 'Give it a shorter name.'],
  ELOOP: ['cannot be reached: symbolic links lead in a circle', 'Remove the link.'],
};

/** Whether an error comes from the files and the disk, and is known. */
export const isOutside = (error: unknown): boolean => Object.hasOwn(knownCodes, systemCode(error) ?? '');

/** An error of the operating system in the words of someone who uses a computer. */
export function systemTrouble(error: unknown, full: string): Trouble {
  if (error instanceof Trouble) return error;

  const near = path.relative(process.cwd(), full);
  const file = near !== '' && !near.startsWith('..') ? near : full;
  const code = systemCode(error);
  const [message, mend] = knownCodes[code ?? ''] ?? [
    `could not be used (${code ?? String(error)})`,
    'Look at the file and the disk, then try again.',
  ];

  return new Trouble('file-system', `${file} ${message}`, { mend, where: { file }, cause: error });
}
