import type TS from 'typescript-6';
import type { Unsaid } from '../../core/learn/schemaModel.ts';
import { compact, type Json, type JsonObject } from '../../core/plain/json.ts';
import { Trouble } from '../../workspace/trouble.ts';

/** The TypeScript compiler. */
export type Compiler = typeof TS;

/** Types inside types are followed so deep, and so many altogether: types can be computed without end. */
const [deepest, most] = [12, 20_000];

/** Tags of comments that say more of a value than its type does, as JSON Schema calls it. */
const numberTags = new Set(
  'minimum maximum exclusiveMinimum exclusiveMaximum multipleOf minLength maxLength minItems maxItems'.split(' '),
);

const textTags = new Set(['pattern', 'format', 'title', 'contentMediaType']);

const booleanTags = new Set(['deprecated', 'uniqueItems']);

/** Turns the types of a TypeScript file into a JSON Schema. */
export class TypeReader {
  readonly #ts: Compiler;
  readonly #program: TS.Program;
  readonly #checker: TS.TypeChecker;
  readonly #names = new Map<TS.Symbol, string>();
  readonly #named = new Map<string, Json>();
  /** The types that are being read, from the outermost on. */
  readonly #inside: TS.Type[] = [];
  #count = 0;
  readonly unsaid: Unsaid[] = [];

  constructor(ts: Compiler, program: TS.Program) {
    this.#ts = ts;
    this.#program = program;
    this.#checker = program.getTypeChecker();
  }

  /** The things with keys that a file exports; of one that exports none, those that it declares, itself or for a module. */
  read(source: TS.SourceFile): JsonObject {
    const module = this.#checker.getSymbolAtLocation(source);
    const ways: readonly (() => readonly TS.Symbol[])[] = [
      () => (module ? this.#checker.getExportsOfModule(module) : []),
      () =>
        this.#checker
          .getSymbolsInScope(source, this.#ts.SymbolFlags.Type)
          .filter((symbol) => this.#isOf(symbol, source)),
      () => this.#modulesIn(source).flatMap((module) => this.#checker.getExportsOfModule(module)),
    ];

    for (const way of ways) {
      if (this.#named.size > 0) break;
      for (const symbol of way()) this.#declare(symbol);
    }

    return { $defs: Object.fromEntries(this.#named) };
  }

  /** The modules that a file declares: `declare module 'shop' { … }`. */
  #modulesIn = (source: TS.SourceFile): readonly TS.Symbol[] =>
    source.statements.flatMap((statement) =>
      this.#ts.isModuleDeclaration(statement) ? (this.#checker.getSymbolAtLocation(statement.name) ?? []) : [],
    );

  #isOf = ({ declarations = [] }: TS.Symbol, source: TS.SourceFile): boolean =>
    declarations.some((declaration) => declaration.getSourceFile() === source);

  #declare(exported: TS.Symbol): void {
    const { SymbolFlags } = this.#ts;
    const symbol = exported.flags & SymbolFlags.Alias ? this.#checker.getAliasedSymbol(exported) : exported;
    if (!(symbol.flags & (SymbolFlags.Interface | SymbolFlags.TypeAlias | SymbolFlags.Class))) return;

    const type = this.#checker.getDeclaredTypeOfSymbol(symbol);
    const isGeneric = this.#parametersOf(symbol).length > 0;
    if (isGeneric) this.#say(exported.name, 'has type parameters, and is a type only where it is used');
    // One of several things with names is each of them; another name for a thing is no other thing.
    else if (this.#isThingOrForms(type) && (this.#nameOf(type) ?? symbol) === symbol) this.#reference(type, symbol);
  }

  #parametersOf({ declarations = [] }: TS.Symbol): readonly TS.TypeParameterDeclaration[] {
    return declarations.flatMap((declaration) =>
      this.#ts.isInterfaceDeclaration(declaration) ||
      this.#ts.isTypeAliasDeclaration(declaration) ||
      this.#ts.isClassDeclaration(declaration)
        ? [...(declaration.typeParameters ?? [])]
        : [],
    );
  }

  #isThing(type: TS.Type): boolean {
    const isObject = (type.flags & (this.#ts.TypeFlags.Object | this.#ts.TypeFlags.Intersection)) !== 0;
    return (
      isObject &&
      !this.#isList(type) &&
      !this.#isDate(type) &&
      type.getProperties().some((property) => !this.#isCode(property))
    );
  }

  #isThingOrForms(type: TS.Type): boolean {
    if (!type.isUnion()) return this.#isThing(type) && !this.#isIndex(type);
    return type.types.every((type) => this.#isThing(type)) && !type.types.every((type) => this.#nameOf(type));
  }

  /** Whether a type does no more than to name others, which are things themselves. */
  #isIndex(type: TS.Type): boolean {
    const held = type.getProperties().map((property) => this.#checker.getTypeOfSymbol(property));
    return held.length > 1 && held.every((member) => this.#nameOf(member) !== undefined);
  }

  #say(address: string, message: string): void {
    if (!this.unsaid.some((unsaid) => unsaid.at === address && unsaid.says === message))
      this.unsaid.push({ at: address, says: message });
  }

  /** A reference to a type with a name, which is stated once. */
  #reference(type: TS.Type, symbol: TS.Symbol): JsonObject {
    const existing = this.#names.get(symbol);
    const name = existing ?? this.#freeName(symbol.name);
    if (existing === undefined) {
      this.#names.set(symbol, name);
      this.#named.set(name, null);
      this.#named.set(name, { ...this.#shape(type, name), ...this.#comment(symbol, name) });
    }

    return { $ref: `#/$defs/${name}` };
  }

  /** A name that no other thing has: files may each have one called so. */
  #freeName(name: string): string {
    for (let number = 2, free = name; ; number += 1, free = `${name}${number}`) if (!this.#named.has(free)) return free;
  }

  /** What a type says. */
  #schema(type: TS.Type, address: string): JsonObject {
    const symbol = this.#nameOf(type);
    if (symbol) return this.#reference(type, symbol);
    if (this.#inside.includes(type) || this.#inside.length > deepest) {
      this.#say(address, `holds itself again (${this.#checker.typeToString(type)})`);
      return {};
    }

    this.#count += 1;
    if (this.#count > most)
      throw new Trouble('too-large', `its types hold more than ${most.toLocaleString('en')} parts`, {
        mend: 'Export those alone that describe entries, from a file of their own.',
      });

    this.#inside.push(type);
    const shape = this.#shape(type, address);
    this.#inside.pop();

    return shape;
  }

  /** The symbol of a thing with keys that has a name in the files that are read, and no parameters. */
  #nameOf(type: TS.Type): TS.Symbol | undefined {
    const symbol = type.aliasSymbol ?? type.getSymbol();
    const { SymbolFlags } = this.#ts;
    if (!symbol || !(symbol.flags & (SymbolFlags.Interface | SymbolFlags.TypeAlias | SymbolFlags.Class)))
      return undefined;
    if (!this.#isOfLanguage(symbol) && this.#parametersOf(symbol).length === 0 && this.#isThing(type)) return symbol;
    return undefined;
  }

  /** Whether something is declared by the language itself. */
  #isOfLanguage = ({ declarations = [] }: TS.Symbol): boolean =>
    declarations.some((declaration) => this.#program.isSourceFileDefaultLibrary(declaration.getSourceFile()));

  #shape(type: TS.Type, address: string): JsonObject {
    const { TypeFlags } = this.#ts;
    const { flags } = type;
    if (flags & (TypeFlags.Any | TypeFlags.Unknown)) return {};
    if (flags & TypeFlags.Null) return { type: 'null' };
    if (type.isStringLiteral() || type.isNumberLiteral()) return { const: type.value };
    if (flags & TypeFlags.BooleanLiteral) return { const: this.#checker.typeToString(type) === 'true' };
    if (flags & TypeFlags.String) return { type: 'string' };
    if (flags & TypeFlags.Number) return { type: 'number' };
    if (flags & TypeFlags.BigInt) return { type: 'integer' };
    if (flags & TypeFlags.Boolean) return { type: 'boolean' };
    if (flags & TypeFlags.TemplateLiteral) {
      this.#say(address, `is a text of the form ${this.#checker.typeToString(type)}`);
      return { type: 'string' };
    }
    if (type.isUnion()) return this.#union(type, address);

    const text = this.#textWithin(type);
    if (text) {
      this.#say(address, `is a text with a mark of its own (${this.#checker.typeToString(type)})`);
      return { type: 'string' };
    }
    if (this.#isDate(type)) return { type: 'string', format: 'date-time' };
    if (this.#isAddress(type)) return { type: 'string', format: 'uri' };
    if (this.#isList(type)) return this.#list(type, address);
    if (flags & (TypeFlags.Object | TypeFlags.Intersection)) return this.#object(type, address);

    this.#say(address, `is ${this.#checker.typeToString(type)}`);

    return {};
  }

  /** Whether a type is a text that something is added to, to tell it from others. */
  #textWithin(type: TS.Type): boolean {
    return type.isIntersection() && type.types.some((type) => (type.flags & this.#ts.TypeFlags.String) !== 0);
  }

  #isDate = (type: TS.Type): boolean => type.getSymbol()?.name === 'Date' && type.getProperty('getTime') !== undefined;

  #isAddress = (type: TS.Type): boolean => type.getSymbol()?.name === 'URL' && type.getProperty('href') !== undefined;

  #isList = (type: TS.Type): boolean => this.#checker.isArrayType(type) || this.#checker.isTupleType(type);

  #union(type: TS.UnionType, address: string): JsonObject {
    const { TypeFlags } = this.#ts;
    const parts = type.types.filter(({ flags }) => !(flags & TypeFlags.Undefined));
    const isBoolean = parts.filter(({ flags }) => flags & TypeFlags.BooleanLiteral).length === 2;
    const otherTypes = isBoolean ? parts.filter(({ flags }) => !(flags & TypeFlags.BooleanLiteral)) : parts;
    const schemas = [
      ...(isBoolean ? [{ type: 'boolean' }] : []),
      ...otherTypes.map((other) => this.#schema(other, address)),
    ];
    const [only] = schemas;
    if (only && schemas.length === 1) return only;

    const values = schemas.map((object) => ('const' in object ? object.const : undefined));

    if (values.every((value) => value !== undefined)) return { enum: values as Json[] };
    return { anyOf: schemas };
  }

  #list(type: TS.Type, address: string): JsonObject {
    const inside = this.#checker.getTypeArguments(type as TS.TypeReference);
    const [item] = inside;
    if (this.#checker.isTupleType(type) && inside.length > 1) {
      this.#say(address, 'is a list with a place for each item');
      return { type: 'array' };
    }
    return { type: 'array', items: item ? this.#schema(item, `${address}[]`) : {} };
  }

  #object(type: TS.Type, address: string): JsonObject {
    const { SymbolFlags } = this.#ts;
    const keys = type.getProperties().filter((property) => !this.#isCode(property) && !property.name.startsWith('__@'));
    const symbol = type.getSymbol();
    const isMachine =
      symbol !== undefined &&
      this.#isOfLanguage(symbol) &&
      (symbol.flags & (SymbolFlags.Interface | SymbolFlags.Class)) !== 0;
    const isCode = type.getCallSignatures().length > 0 || (keys.length === 0 && type.getProperties().length > 0);
    if (isMachine || isCode) {
      this.#say(address, `is ${this.#checker.typeToString(type)}, which is no data`);
      return {};
    }

    const required: string[] = [];
    const properties = keys.map((key) => {
      if (!(key.flags & SymbolFlags.Optional)) required.push(key.name);
      const inner = this.#checker.getTypeOfSymbol(key);
      const place = `${address}.${key.name}`;
      return [key.name, { ...this.#schema(inner, place), ...this.#comment(key, place) }] as const;
    });
    const values = this.#checker.getIndexTypeOfType(type, this.#ts.IndexKind.String);

    return compact({
      type: 'object',
      properties: properties.length > 0 ? Object.fromEntries(properties) : undefined,
      required: required.length > 0 ? required : undefined,
      additionalProperties: values && this.#schema(values, `${address}.*`),
    });
  }

  /** Whether a property is something to call: no data. */
  #isCode(property: TS.Symbol): boolean {
    if (property.flags & this.#ts.SymbolFlags.Method) return true;
    return this.#checker.getTypeOfSymbol(property).getCallSignatures().length > 0;
  }

  /** What the comment above something says, its tags too. */
  #comment(symbol: TS.Symbol, address: string): JsonObject {
    const description = this.#ts.displayPartsToString(symbol.getDocumentationComment(this.#checker)).trim();
    const tags = symbol.getJsDocTags(this.#checker).flatMap(({ name, text }): readonly (readonly [string, Json])[] => {
      const comment = this.#ts.displayPartsToString(text).trim();
      if (booleanTags.has(name)) return [[name, true]];
      if (textTags.has(name) && comment !== '') return [[name, comment]];

      const number = comment === '' ? Number.NaN : Number(comment);
      if (numberTags.has(name) && !Number.isNaN(number)) return [[name, number]];

      if (numberTags.has(name)) this.#say(address, `says @${name} ${comment}, which is no number`);
      return [];
    });

    return { ...(description === '' ? {} : { description }), ...Object.fromEntries(tags) };
  }
}
