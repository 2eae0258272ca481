import { isObject, type Path } from '../../core/plain/json.ts';
import type { Outcome } from '../../core/plain/outcome.ts';
import { readJson } from '../../core/source/json.ts';
import { type Span, textStart } from '../../core/source/yaml.ts';
import { decode } from '../../workspace/decode.ts';
import { refusingEdits } from '../../workspace/edited.ts';
import { hashBytes } from '../../workspace/files.ts';
import type { KeyNames } from '../keys.ts';
import { type EntryLine, lineOf, readEntryLine } from '../lines/entryLine.ts';
import { ManyInFile, type ManyInFileSettings, startingAt, type WholeRead } from '../manyInFile.ts';
import { changedMeanwhile } from '../problem.ts';
import type { EntryChange, EntryStore, FileSink, Item, Place, Problem, Stored, Transaction } from '../store.ts';
import { type Element, type Elements, elementsIn } from './elements.ts';
import { type Added, rewrittenText } from './rewrite.ts';

/** Files of JSON that hold entries in a list, or in a map by their identifiers. */
export interface CollectionSettings extends ManyInFileSettings {
  /** The keys that lead to the list or map in each. */
  readonly way: readonly string[];
}

/** A file that was read. */
interface Whole extends WholeRead {
  readonly text: string;
  readonly all: Elements;
}

/** The store of entries that stand together in a file of JSON, which is read as a whole. */
export class CollectionStore extends ManyInFile<Whole> implements EntryStore {
  readonly #settings: CollectionSettings;

  constructor(root: string, settings: CollectionSettings) {
    super(root, settings);
    this.#settings = settings;
  }

  protected override *itemsIn(file: string, whole: Whole): Iterable<Item> {
    const lines = new LineCount(whole.text);
    for (const element of whole.all.elements) yield this.#itemOf(file, whole, element, lines);
  }

  async locate({ file, offset, line = 1 }: Place, at: Path): Promise<Span> {
    const whole = this.known(file);
    const element = 'problem' in whole ? undefined : startingAt(whole.value.all.elements, offset);
    if ('problem' in whole || !element) return textStart;
    const read = this.#readElement(whole.value, element);
    const base = { line, column: element.start - whole.value.text.lastIndexOf('\n', element.start - 1) };
    if ('problem' in read) return { start: base, end: base };
    const { start, end } = read.value.locate(at);
    return { start: moved(start, base), end: moved(end, base) };
  }

  async attempt({ of, operations = [] }: EntryChange): Promise<void> {
    if (!of) return;
    const { read } = this.#readAsKnown(of);
    refusingEdits(of.place.file, () => read.rewrite(operations));
  }

  begin(sink: FileSink): Transaction {
    const changes = new Map<string, Changes>();
    const changesOf = (file: string): Changes => {
      const known = changes.get(file) ?? { rewritten: new Map<number, string | undefined>(), added: [] };
      changes.set(file, known);
      return known;
    };
    return {
      change: async ({ of, operations = [], added = [] }) => {
        if (of && operations.length > 0) {
          const { read, element } = this.#readAsKnown(of);
          const become = refusingEdits(of.place.file, () => read.rewrite(operations));
          changesOf(of.place.file).rewritten.set(element.start, become);
        }
        for (const entry of added) {
          const file = of?.place.file ?? this.#settings.files[0] ?? '';
          const { keys, type } = this.#settings;
          const json = JSON.stringify(JSON.parse(lineOf(entry, keys, type)), undefined, 2);
          changesOf(file).added.push({ key: entry.id, text: json });
        }
      },
      prepare: async () => {
        for (const [file, { rewritten, added }] of changes) {
          const read = this.readFile(file);
          if ('problem' in read) throw changedMeanwhile({ type: '', id: file }, file);
          const whole = read.value;
          const text = rewrittenText(whole.text, whole.all, rewritten, withKeys(added, whole.all, this.#settings.keys));
          sink.add({
            before: { path: file, hash: whole.hash, bytes: whole.bytes },
            after: { path: file, bytes: Buffer.from(text, 'utf8') },
          });
        }
      },
    };
  }

  protected override understand(_file: string, read: WholeRead): Outcome<Whole, Problem> {
    const text = decode(read.bytes);
    if ('problem' in text) return text;
    const all = readCollection(text.value, this.#settings.way);
    return 'problem' in all ? all : { value: { ...read, text: text.value, all: all.value } };
  }

  #readElement({ text, all }: Whole, { start, end, key }: Element): Outcome<EntryLine, Problem> {
    const { keys, type } = this.#settings;
    return readEntryLine(text.slice(start, end), keys, { type, id: all.isMap ? key : undefined, mayBreak: true });
  }

  #itemOf(file: string, whole: Whole, element: Element, lines: LineCount): Item {
    const read = this.#readElement(whole, element);
    const line = lines.lineAt(element.start);
    const place = { store: this.#settings.name, file, offset: element.start, line };
    const version = hashBytes(whole.text.slice(element.from, element.end));
    if ('value' in read) return { place, version, entry: read.value.entry };
    return { place, version, problem: { ...read.problem, line: line + read.problem.line - 1 } };
  }

  /** The element of an entry as it was read. @throws {Trouble} where it is another one by now. */
  #readAsKnown({ place: { file, offset }, version, entry }: Stored): {
    readonly read: EntryLine;
    readonly element: Element;
  } {
    const known = this.known(file);
    const whole = 'problem' in known ? undefined : known.value;
    const element = whole && startingAt(whole.all.elements, offset);
    if (element && hashBytes(whole.text.slice(element.from, element.end)) === version) {
      const read = this.#readElement(whole, element);
      if ('value' in read) return { read: read.value, element };
    }
    throw changedMeanwhile(entry, file);
  }
}

/** What becomes of the entries of a file. */
interface Changes {
  readonly rewritten: Map<number, string | undefined>;
  readonly added: Added[];
}

function readCollection(text: string, way: readonly string[]): Outcome<Elements, Problem> {
  try {
    JSON.parse(text.replace(/^\uFEFF/u, ''));
  } catch {
    const reading = readJson(text.replace(/^\uFEFF/u, ''));
    const problem = 'problem' in reading ? reading.problem : undefined;
    return {
      problem: {
        says: problem ? `cannot be read: ${problem.says}` : 'is not JSON',
        mend:
          problem?.mend ?? 'Correct it: keys and texts in double quotes, no comma after the last item, no comments.',
        line: problem?.line ?? 1,
        column: problem?.column ?? 1,
      },
    };
  }
  const all = elementsIn(text, way);
  if (all) return { value: all };
  const where = way.length === 0 ? '' : ` at \`${way.join('.')}\``;
  return {
    problem: {
      says: `holds no list and no map of entries${where}`,
      mend: 'Say in lumbrik.yaml which keys lead to it: `{ json: …, at: data.lights }`',
      line: 1,
      column: 1,
    },
  };
}

/** In a map, the key is the identifier, which need not be said again. */
function withKeys(added: readonly Added[], { isMap }: Elements, keys: KeyNames): readonly Added[] {
  if (!isMap) return added;
  return added.map(({ key, text }) => {
    const data = JSON.parse(text);
    const { [keys.of('id') ?? 'id']: _, ...others } = isObject(data) ? data : {};
    return { key, text: JSON.stringify(others, undefined, 2) };
  });
}

/** Counts lines on the way through a text. */
class LineCount {
  readonly #text: string;
  #line = 1;
  #at = 0;

  constructor(text: string) {
    this.#text = text;
  }

  lineAt(offset: number): number {
    for (
      let end = this.#text.indexOf('\n', this.#at);
      end >= 0 && end < offset;
      end = this.#text.indexOf('\n', end + 1)
    ) {
      this.#line += 1;
      this.#at = end + 1;
    }
    return this.#line;
  }
}

/** A place in a part of a text, as one in the whole. */
const moved = ({ line, column }: Span['start'], base: Span['start']): Span['start'] => ({
  line: base.line + line - 1,
  column: line === 1 ? base.column + column - 1 : column,
});
