import type { z } from 'zod';
import type { Home, Rename } from '../definition/rename.ts';
import type { MessageData } from '../messages/words.ts';
import { isList, isObject, type Json, type JsonObject } from '../plain/json.ts';
import type { TextLimits } from '../text/restrict.ts';
import type { Compatibility } from './compatibility.ts';
import type {
  AssetLimits,
  CelType,
  Converted,
  Elsewhere,
  FoundFile,
  FoundLink,
  FreeText,
  GraphqlType,
  GuideTexts,
  ModelContext,
  OptionMistake,
  PointsAt,
  Report,
} from './kindParts.ts';
import type { Shape } from './shape.ts';

type Options<S extends z.ZodRawShape> = Readonly<z.output<z.ZodObject<S>>>;

/**
 * Everything that is known about one kind of field. `S` is the shape of its options; parsing them gives their normal
 * form, and parsing a normal form again changes nothing.
 */
interface Definition<S extends z.ZodRawShape, O = Options<S>> {
  readonly name: string;
  /** One line for someone who chooses a kind. */
  readonly about: string;
  /** What a value is, for authors, by language; {@link about} where there is none. */
  readonly guide?: GuideTexts;
  readonly options: S;
  /** Options as they are written, and a value that obeys them: shown wherever the kind is explained. */
  readonly example: { readonly options: JsonObject; readonly value: Json };
  /** Problems of the options beyond their shape. */
  readonly mistakes?: (options: O, context: ModelContext, home: Home) => Iterable<OptionMistake>;
  /** Compiles the options into a check of one value. */
  readonly check: (options: O, context: ModelContext) => (value: Json, report: Report) => void;
  /** The effect of a changed option on entries and on readers. */
  readonly changed: { readonly [K in keyof S]-?: Compatibility };
  /** A value as it says the same once the options are others, where it is written otherwise then. */
  readonly rewritten?: (value: Json, before: O, after: O) => Json;
  /** How a value of another kind is carried into this one, by the other kind's name. */
  readonly from: Readonly<Record<string, (value: Json, to: O, context: ModelContext) => Converted>>;
  /** Values that the options name one by one, with their labels: renames among them can be recognised. */
  readonly members?: (
    options: O,
    readingOrder?: readonly string[],
  ) => readonly { readonly name: string; readonly label: string }[];
  /** For kinds whose values point at entries. */
  readonly references?: {
    /** The entries that a value points at, with their places inside it. */
    readonly of: (value: Json, options: O, context: ModelContext) => readonly FoundLink[];
    /** The types that values may point at, and what goes for the other side. */
    readonly to: (options: O) => PointsAt;
    /** Whether a value is a reference and nothing else. */
    readonly isWhole?: true;
    /** A value after entries that it points at have other addresses; the rest of it stays. */
    readonly relocated: (value: Json, elsewhere: Elsewhere, options: O) => Json;
  };
  /** For kinds whose values name files below `assets/`. */
  readonly files?: {
    readonly of: (value: Json, context: ModelContext) => readonly FoundFile[];
    /** What the files have to be like. */
    readonly limits: (options: O) => AssetLimits;
  };
  /** For kinds whose values are terms. */
  readonly terms?: {
    /** The taxonomy whose terms the values are. */
    readonly taxonomy: (options: O) => string;
    /** The term that a value is, with its taxonomy. */
    readonly of: (value: Json, options: O) => { readonly taxonomy: string; readonly term: string } | undefined;
  };
  /** For kinds whose options or values name other parts: the options and values after a rename. */
  readonly renamed?: {
    readonly options: (options: O, rename: Rename, home: Home) => O;
    /** The options are those from before. */
    readonly value?: (value: Json, options: O, rename: Rename, home: Home) => Json;
  };
  /**
   * The CEL type of a value, for type-checking expressions; `dyn` where it has none. With the types of its parts,
   * where that is always the same.
   */
  readonly cel: CelType | { readonly type: CelType; readonly parts: Readonly<Record<string, CelType>> };
  /** What a single value is stored as, as far as a shape can say it. */
  readonly stores: (options: O, context: ModelContext) => Shape;
  /** The type of a value in GraphQL, where it has one of its own: its name and its definition. */
  readonly graphql?: GraphqlType;
  /** How free text is laid out, where values are such: in one line, in several, or as Markdown. */
  readonly freeText?: FreeText;
  /** Whether values are data of any form. */
  readonly isOpen?: true;
  /** Whether a single value may itself be a list. */
  readonly takesLists?: true;
  /** What a text may hold, where values are structured text: see `core/text`. */
  readonly textLimits?: (options: O) => TextLimits;
  /** Whether its option `fields` holds fields to itself, whose values stand inside its value. */
  readonly nests?: true;
  /** Whether its options `keys` and `value` are fields, of which its values are made: keys that are data, and the value under them. */
  readonly maps?: true;
  /** Whether values are languages of the workspace. */
  readonly usesLanguages?: true;
  /**
   * A value in words of a language (BCP 47), where its stored form is not what a person would say; nothing of a value that
   * is not of this kind.
   */
  readonly say?: (value: Json, language: string, options: O) => string | undefined;
  /** Whether values are Markdown, in which links and pictures stand. */
  readonly isMarkdown?: true;
  /**
   * How well values tell entries apart at a glance, from 0 to 1; 0.3 if nothing is stated. Those of a kind that says 0 are too
   * long for a list, or say nothing there.
   */
  readonly glance?: number;
  /** Whether the text of a Markdown file can be this field. */
  readonly isBody?: (options: O) => boolean;
  /** Whether no two entries of a type may share a value, without anyone asking for it. */
  readonly unique?: true;
  /** For kinds whose values are made from others: one that is missing, of the values beside it. */
  readonly made?: (options: O, beside: JsonObject, context: ModelContext) => Json | undefined;
  /** What a table shows about the options beside the kind's name: `30–80 characters`. */
  readonly gist?: (options: O) => string;
}

/** A kind as the rest of the core sees it: the same functions over options that the kind itself has parsed. */
export interface Kind {
  readonly name: string;
  readonly about: string;
  readonly guide: GuideTexts;
  readonly shape: z.ZodRawShape;
  readonly example: { readonly options: JsonObject; readonly value: Json };
  readonly mistakes: (options: JsonObject, context: ModelContext, home: Home) => Iterable<OptionMistake>;
  readonly check: (options: JsonObject, context: ModelContext) => (value: Json, report: Report) => void;
  readonly changed: Readonly<Record<string, Compatibility>>;
  readonly rewritten: ((value: Json, before: JsonObject, after: JsonObject) => Json) | undefined;
  readonly from: Readonly<Record<string, (value: Json, to: JsonObject, context: ModelContext) => Converted>>;
  readonly members: (
    options: JsonObject,
    readingOrder?: readonly string[],
  ) => readonly { readonly name: string; readonly label: string }[];
  readonly links: ((value: Json, options: JsonObject, context: ModelContext) => readonly FoundLink[]) | undefined;
  readonly assets: ((value: Json, context: ModelContext) => readonly FoundFile[]) | undefined;
  readonly assetLimits: (options: JsonObject) => AssetLimits;
  readonly term: ((value: Json, options: JsonObject) => { taxonomy: string; term: string } | undefined) | undefined;
  readonly pointsAt: (options: JsonObject) => PointsAt;
  readonly isReference: boolean;
  readonly relocated: ((value: Json, elsewhere: Elsewhere, options: JsonObject) => Json) | undefined;
  readonly taxonomy: (options: JsonObject) => string | undefined;
  readonly renameInOptions: (options: JsonObject, rename: Rename, home: Home) => JsonObject;
  readonly renameInValue: ((value: Json, options: JsonObject, rename: Rename, home: Home) => Json) | undefined;
  readonly cel: CelType;
  readonly celParts: Readonly<Record<string, CelType>> | undefined;
  readonly stores: (options: JsonObject, context: ModelContext) => Shape;
  readonly graphql: GraphqlType | undefined;
  readonly freeText: FreeText | undefined;
  /** Whether values are words of a list: choices or terms. */
  readonly isOfWords: boolean;
  readonly isOpen: boolean;
  readonly takesLists: boolean;
  readonly textLimits: ((options: JsonObject) => TextLimits) | undefined;
  readonly nests: boolean;
  readonly maps: boolean;
  readonly usesLanguages: boolean;
  readonly say: ((value: Json, language: string, options: JsonObject) => string | undefined) | undefined;
  readonly isMarkdown: boolean;
  readonly glance: number;
  readonly isBody: (options: JsonObject) => boolean;
  readonly unique: boolean;
  readonly made: ((options: JsonObject, beside: JsonObject, context: ModelContext) => Json | undefined) | undefined;
  readonly gist: (options: JsonObject) => string;
}

/**
 * Makes a kind from its definition. The options' type is forgotten here and nowhere else: a field's options are only
 * ever handed to the kind whose own schema has parsed them, so the cast is true.
 */
export function defineKind<S extends z.ZodRawShape>(definition: Definition<S>): Kind {
  const { cel } = definition;
  const { mistakes, members, references, files, terms, renamed, isBody, gist, ...forgotten } =
    definition as unknown as Definition<z.ZodRawShape, JsonObject>;

  return {
    name: definition.name,
    about: definition.about,
    guide: definition.guide ?? {},
    shape: definition.options,
    example: definition.example,
    mistakes: mistakes ?? (() => []),
    check: forgotten.check,
    changed: definition.changed,
    rewritten: forgotten.rewritten,
    from: forgotten.from,
    members: members ?? (() => []),
    links: references?.of,
    pointsAt: references?.to ?? (() => ({ types: [] })),
    isReference: references?.isWhole === true,
    relocated: references?.relocated,
    assets: files?.of,
    assetLimits: files?.limits ?? (() => ({})),
    term: terms?.of,
    taxonomy: terms?.taxonomy ?? (() => undefined),
    renameInOptions: renamed?.options ?? ((options) => options),
    renameInValue: renamed?.value,
    cel: typeof cel === 'string' ? cel : cel.type,
    celParts: typeof cel === 'string' ? undefined : cel.parts,
    stores: forgotten.stores,
    graphql: definition.graphql,
    freeText: definition.freeText,
    isOfWords: members !== undefined || terms !== undefined,
    isOpen: definition.isOpen === true,
    takesLists: definition.takesLists === true,
    textLimits: forgotten.textLimits,
    nests: definition.nests === true,
    maps: definition.maps === true,
    usesLanguages: definition.usesLanguages === true,
    say: forgotten.say,
    isMarkdown: definition.isMarkdown === true,
    glance: definition.glance ?? 0.3,
    isBody: isBody ?? (() => false),
    unique: definition.unique === true,
    made: forgotten.made,
    gist: gist ?? (() => ''),
  };
}

/** Refuses a value that is not of the JavaScript type a kind stores. */
export function wrongShape(report: Report, value: Json, expected: MessageData<'wrong-shape'>['wanted']): void {
  report('wrong-shape', { is: shapeOf(value), wanted: expected });
}

function shapeOf(value: Json): MessageData<'wrong-shape'>['is'] {
  if (value === null) return 'null';
  if (isList(value)) return 'list';
  if (isObject(value)) return 'keys';
  return typeof value as 'string' | 'number' | 'boolean';
}
