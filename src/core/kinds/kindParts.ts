import type { LanguageOptions } from '../definition/language.ts';
import type { Assets } from '../entry/assets.ts';
import type { Fix } from '../entry/findings.ts';
import type { MessageData, MessageName } from '../messages/words.ts';
import type { Json, Path, PathPart } from '../plain/json.ts';
import type { Outcome } from '../plain/outcome.ts';
import type { Taxonomy } from '../taxonomy/linkTaxonomy.ts';
import type { ReadLinks } from '../text/markdownLinks.ts';

/** What a kind may ask about the model that its field is in. */
export interface ModelContext {
  /** The languages of the workspace, the main one first. */
  readonly languages: readonly string[];
  readonly types: readonly string[];
  readonly taxonomies: readonly string[];
  readonly taxonomyOf: (taxonomy: string) => Taxonomy | undefined;
  readonly languageOptions: LanguageOptions;
  /** The files below `assets/`; absent where nobody looked. */
  readonly assets?: Assets;
  /** Finds the links and pictures in Markdown; absent where nobody looks into texts. */
  readonly readLinks?: ReadLinks;
  /** The type and those that extend it: whatever is where it is accepted. */
  readonly acceptedAs: (type: string) => readonly string[];
  /** The kinds of a type's fields by name, of those inside objects by path; `undefined` where there is no such type. */
  readonly kindsOf: (type: string) => ReadonlyMap<string, string> | undefined;
}

/** The words for a finding beside its data. */
interface ReportOptions {
  /** What the model allows, where that can be stated in one value. */
  readonly limit?: Json;
  /** That it is worth saying and breaks nothing. */
  readonly isWarning?: true;
  /** That it is compared with published entries alone. */
  readonly onlyPublished?: true;
  /** Where inside the value, if not the value as a whole. */
  readonly inside?: readonly PathPart[];
  /** How a machine can mend it. */
  readonly fix?: Fix;
}

/** Takes problems of one value, as far as the kind can tell; the checker adds where it stands. */
export type Report = <M extends MessageName>(message: M, data: MessageData<M>, options?: ReportOptions) => void;

/** A mistake in a field's options that only shows beside the rest of the model. */
export interface OptionMistake {
  readonly option: string;
  /** Where inside the option, if not the option as a whole. */
  readonly inside?: Path;
  /** That the last key of that path is wrong itself, not its content. */
  readonly atKey?: true;
  readonly says: string;
  readonly mend: string;
  /** The field that it names and that is not there, where that is the mistake. */
  readonly misses?: string;
}

/** A value carried from one kind to another, with what of it could not be kept; or why it is lost. */
export type Converted = Outcome<Json, string> & { readonly partly?: string };

/** What a value points at. `type` is absent where the value names an entry of the only possible type. */
export interface EntryLink {
  readonly type: string;
  readonly id: string;
}

/** An entry that a value points at, and where in the value it does. */
export interface FoundLink {
  readonly to: EntryLink;
  readonly inside: Path;
  /** That it is part of the value and not all of it, where its place does not say so. */
  readonly isWithin?: true;
}

/** A file below `assets/` that a value names, and where in the value it does. */
export interface FoundFile {
  readonly file: string;
  readonly inside: Path;
}

/** The types that values may point at. */
export interface PointsAt {
  readonly types: readonly string[];
  /** What the field is called as seen from the target. */
  readonly inverse?: string | undefined;
  /** How many entries may, and must, point at one target by this field. */
  readonly inverseMin?: number | undefined;
  readonly inverseMax?: number | undefined;
  /** A CEL condition over `target` that has to hold. */
  readonly eligible?: string | undefined;
}

/** What the files that values name have to be like: see the kind `asset`. */
export interface AssetLimits {
  readonly media?: readonly string[] | undefined;
  readonly maxSize?: number | undefined;
  readonly minWidth?: number | undefined;
  readonly minHeight?: number | undefined;
  readonly maxWidth?: number | undefined;
  readonly maxHeight?: number | undefined;
  readonly alt?: string | undefined;
}

/** The CEL types of values. */
export type CelType = 'string' | 'int' | 'double' | 'bool' | 'dyn';

/** The address that an entry has now; its own where it is the same. */
export type Elsewhere = (entry: EntryLink) => EntryLink;

/** The languages in which the editorial guide speaks (BCP 47). */
export type GuideLanguage = 'en' | 'de' | 'fr' | 'es' | 'it' | 'nl';

/** Words for authors, by language. */
export type GuideTexts = { readonly [L in GuideLanguage]?: string };

/** A type of GraphQL. */
export interface GraphqlType {
  readonly name: string;
  /** In the language for schemas. */
  readonly definition: string;
}

/** How free text is laid out. */
export type FreeText = 'line' | 'lines' | 'markdown';
