import { isObject, type Path } from '../../core/plain/json.ts';
import type { Outcome } from '../../core/plain/outcome.ts';
import { readJson } from '../../core/source/json.ts';
import { type Span, textStart } from '../../core/source/yaml.ts';
import { decode } from '../../workspace/decode.ts';
import { refusingEdits } from '../../workspace/edited.ts';
import { hashBytes } from '../../workspace/files.ts';
import type { KeyNames } from '../keys.ts';
import { type EntryLine, lineOf, readEntryLine } from '../lines/entryLine.ts';
import { type FilePart, ManyInFile, type ManyInFileSettings, startingAt, type WholeRead } from '../manyInFile.ts';
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
interface CollectionFile extends WholeRead {
  readonly text: string;
  readonly elements: Elements;
}

/** The store of entries that stand together in a file of JSON, which is read as a whole. */
export class CollectionStore extends ManyInFile<CollectionFile> implements EntryStore<FilePart> {
  readonly #settings: CollectionSettings;

  constructor(root: string, settings: CollectionSettings) {
    super(root, settings);
    this.#settings = settings;
  }

  protected override *itemsIn(file: string, content: CollectionFile): Iterable<Item> {
    const lines = new LineCount(content.text);
    for (const element of content.elements.elements) yield this.#itemOf(file, content, element, lines);
  }

  async locate({ file, offset, line = 1 }: Place, path: Path): Promise<Span> {
    const content = this.known(file);
    const element = 'problem' in content ? undefined : startingAt(content.value.elements.elements, offset);
    if ('problem' in content || !element) return textStart;

    const read = this.#readElement(content.value, element);
    const base = { line, column: element.start - content.value.text.lastIndexOf('\n', element.start - 1) };
    if ('problem' in read) return { start: base, end: base };

    const { start, end } = read.value.locate(path);
    return { start: moved(start, base), end: moved(end, base) };
  }

  async attempt({ stored, operations = [] }: EntryChange): Promise<void> {
    if (!stored) return;
    const { read } = this.#readAsKnown(stored);
    refusingEdits(stored.place.file, () => read.rewrite(operations));
  }

  begin(sink: FileSink): Transaction {
    const changes = new Map<string, Changes>();
    const changesOf = (file: string): Changes => {
      const existing = changes.get(file) ?? { rewritten: new Map<number, string | undefined>(), added: [] };
      changes.set(file, existing);
      return existing;
    };

    return {
      change: async ({ stored, operations = [], added = [] }) => {
        if (stored && operations.length > 0) {
          const { read, element } = this.#readAsKnown(stored);
          const become = refusingEdits(stored.place.file, () => read.rewrite(operations));
          changesOf(stored.place.file).rewritten.set(element.start, become);
        }

        for (const entry of added) {
          const file = stored?.place.file ?? this.#settings.files[0] ?? '';
          const { keys, type } = this.#settings;
          const json = JSON.stringify(JSON.parse(lineOf(entry, keys, type)), undefined, 2);
          changesOf(file).added.push({ key: entry.id, text: json });
        }
      },
      prepare: async () => {
        for (const [file, { rewritten, added }] of changes) {
          const read = this.readFile(file);
          if ('problem' in read) throw changedMeanwhile({ type: '', id: file }, file);

          const content = read.value;
          const text = rewrittenText(
            content.text,
            content.elements,
            rewritten,
            withKeys(added, content.elements, this.#settings.keys),
          );
          sink.add({
            before: { path: file, hash: content.hash, bytes: content.bytes },
            after: { path: file, bytes: Buffer.from(text, 'utf8') },
          });
        }
      },
    };
  }

  protected override understand(_file: string, read: WholeRead): Outcome<CollectionFile, Problem> {
    const text = decode(read.bytes);
    if ('problem' in text) return text;
    const elements = readCollection(text.value, this.#settings);
    if ('problem' in elements) return elements;
    return { value: { ...read, text: text.value, elements: elements.value } };
  }

  #readElement({ text, elements }: CollectionFile, { start, end, key }: Element): Outcome<EntryLine, Problem> {
    const { keys, type, limits } = this.#settings;
    const id = elements.isMap ? key : undefined;
    return readEntryLine(text.slice(start, end), keys, { type, id, limits, mayBreak: true });
  }

  #itemOf(file: string, content: CollectionFile, element: Element, lines: LineCount): Item {
    const read = this.#readElement(content, element);
    const line = lines.lineAt(element.start);
    const place = { store: this.#settings.name, file, offset: element.start, line };
    const version = hashBytes(content.text.slice(element.from, element.end));
    if ('value' in read) return { place, version, entry: read.value.entry };
    return { place, version, problem: { ...read.problem, line: line + read.problem.line - 1 } };
  }

  /** The element of an entry as it was read. @throws {Trouble} where it is another one now. */
  #readAsKnown({ place: { file, offset }, version, entry }: Stored): {
    readonly read: EntryLine;
    readonly element: Element;
  } {
    const outcome = this.known(file);
    const content = 'problem' in outcome ? undefined : outcome.value;
    const element = content && startingAt(content.elements.elements, offset);
    if (element && hashBytes(content.text.slice(element.from, element.end)) === version) {
      const read = this.#readElement(content, element);
      if ('value' in read) return { read: read.value, element };
    }

    throw changedMeanwhile(entry, file);
  }
}

/** The outcome for the entries of a file. */
interface Changes {
  readonly rewritten: Map<number, string | undefined>;
  readonly added: Added[];
}

function readCollection(text: string, { way, limits }: CollectionSettings): Outcome<Elements, Problem> {
  try {
    JSON.parse(text.replace(/^\uFEFF/u, ''));
  } catch {
    const reading = readJson(text.replace(/^\uFEFF/u, ''), limits);
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

  const elements = elementsIn(text, way);
  if (elements) return { value: elements };

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

/** In a map, the key is the identifier, which need not be stated again. */
function withKeys(added: readonly Added[], { isMap }: Elements, keys: KeyNames): readonly Added[] {
  if (!isMap) return added;
  return added.map(({ key, text }) => {
    const data = JSON.parse(text);
    const { [keys.of('id') ?? 'id']: _, ...rest } = isObject(data) ? data : {};
    return { key, text: JSON.stringify(rest, undefined, 2) };
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
