import { type BuiltIn, type BuiltInNames, keysOfFacts, statuses } from '../../definition/builtIn.ts';
import { wordsIn } from '../../definition/wording.ts';
import { type Entry, isEmpty } from '../../entry/entry.ts';
import type { Shape } from '../../kinds/shape.ts';
import { askedLanguages } from '../../model/languages.ts';
import type { Field, Model, Type } from '../../model/link.ts';
import { fieldsOf } from '../../model/ownFields.ts';
import { isList, isObject, type Json } from '../../plain/json.ts';
import { list } from '../../plain/words.ts';
import type { Taxonomy } from '../../taxonomy/linkTaxonomy.ts';
import { factTime } from '../entrySchema.ts';
import { columnType, fitting, itself, type Keys, keysOf } from './columnType.ts';
import { type ColumnDemand, Draft, type PlacedColumn, type Put, type RowOutput } from './draft.ts';
import { Names, nameText, snake, textLiteral } from './sqlText.ts';
import type { Cell, Enumeration, Row, Table } from './table.ts';
import { defaultText, howMany, joined, keyBelow, mostNamed, type Need, needIn, needOf } from './tableParts.ts';
import { TermTables } from './termTables.ts';

/** What of a model becomes tables. */
interface Tabled {
  readonly model: Model;
  readonly types: readonly Type[];
  /** What the workspace, and each store that calls it otherwise, calls what every entry has. */
  readonly factKeys: readonly BuiltInNames[];
}

/** A model as tables, and what puts its entries into them. */
export interface Tables {
  readonly enumerations: readonly Enumeration[];
  readonly tables: readonly Table[];
  /** The terms that the model has. */
  readonly terms: readonly Row[];
  /**
   * The rows that an entry is.
   * @param lost takes what of it has no place in them.
   */
  readonly rowsOf: (entry: Entry, lost: (loss: string) => void) => readonly Row[];
}

/**
 * The tables that hold the entries of a model: one for each type, one below it for each list and each group of keys that are
 * data, two for each taxonomy. A value by language is a column for each language. What a condition over one row, a key or a
 * reference to another row can say of an entry is stated by these.
 */
export function tablesOf(tabled: Tabled): Tables {
  return new TableWriter(tabled).tables();
}

const isReference = ({ kind }: Field): boolean => kind.isReference;

const columnsOfFacts = {
  status: { type: 'entry_status', about: 'Where the entry stands.' },
  created: { type: 'timestamptz', about: 'When it was made.' },
  changed: { type: 'timestamptz', about: 'When it was changed last.' },
  publicFrom: { type: 'timestamptz', about: 'From when it is public.' },
  publicUntil: { type: 'timestamptz', about: 'Until when it is public.' },
} as const;

const factTimes = new RegExp(factTime, 'u');

/** Whether a value can be where every entry says something of itself. */
const isFactSaid = (fact: BuiltIn, value: Json): value is string =>
  typeof value === 'string' &&
  (fact === 'status' ? (statuses as readonly string[]).includes(value) : factTimes.test(value));

class TableWriter {
  readonly #tabled: Tabled;
  readonly #model: Model;
  readonly #languages: readonly string[];
  /** Of tables and enumerations, which share theirs. */
  readonly #names = new Names();
  readonly #enumerations = new Map<string, Enumeration>();
  readonly #types = new Map<string, Draft>();
  readonly #terms: TermTables;
  readonly #tables: Draft[] = [];
  readonly #puts = new Map<string, (entry: Entry, outFile: RowOutput) => void>();

  constructor(tabled: Tabled) {
    this.#tabled = tabled;
    this.#model = tabled.model;
    this.#languages = tabled.model.definition.languages;
    this.#terms = new TermTables(tabled.model, this.#names);
  }

  tables(): Tables {
    const { types, model } = this.#tabled;
    const status = this.#enumeration('status', 'entry_status', statuses);
    // All of them have their names before one refers to another.
    for (const { name, label, definition } of types) {
      const about = wordsIn(definition.about, model.readingOrder);
      const draft = new Draft(
        this.#names.of(snake(name)),
        `${label.many}${about === undefined ? '' : `: ${about}`}`,
        definition.single === true,
      );
      draft.primaryKey.push(draft.column('id', { type: 'text', isNeeded: true, about: 'Its identifier.' }));
      this.#types.set(name, draft);
    }

    for (const type of types) this.#type(type, status);

    return {
      enumerations: [...this.#enumerations.values()],
      // Those of terms first: the others refer to them.
      tables: [...this.#terms.drafts(), ...this.#tables],
      terms: this.#terms.rows(),
      rowsOf: (entry, lost) => {
        const rows: Row[] = [];
        this.#puts.get(entry.type)?.(entry, { rows, lost });
        return rows;
      },
    };
  }

  #type(type: Type, statusType: string): void {
    const draft = this.#types.get(type.name) as Draft;
    this.#tables.push(draft);
    const facts = keysOfFacts(this.#tabled.factKeys).filter(([, key]) => !type.fields.has(key));
    const factColumns = new Map<BuiltIn, string>();
    for (const [fact] of facts) {
      if (fact === 'id' || fact === 'type' || factColumns.has(fact)) continue;

      const isStatus = fact === 'status';
      const column = draft.column(snake(fact), {
        ...columnsOfFacts[fact],
        ...(isStatus ? { type: statusType, isNeeded: true, default: textLiteral('published') } : {}),
      });
      factColumns.set(fact, column);
      if (isStatus) draft.status = column;
    }

    const fields = [...type.fields.values()].map((field) => [field.name, this.#field(draft, field, '')] as const);
    const rules = type.definition.rules ?? [];
    draft.unsaid.push(
      ...rules.map(({ say: wording, expect }) => `${wordsIn(wording, this.#model.readingOrder)} (${expect})`),
    );
    const puts = new Map(fields);
    this.#puts.set(type.name, (entry, output) => {
      const row: Row = { table: draft.name, cells: new Map<string, Cell>([['id', entry.id]]) };
      output.rows.push(row);
      for (const [fact, key] of facts) {
        const column = factColumns.get(fact);
        const value = entry.values[key];
        if (column === undefined || value === undefined || isEmpty(value)) continue;
        if (isFactSaid(fact, value)) row.cells.set(column, value);
        else
          output.lost(
            `${key} is not what a column of ${columnsOfFacts[fact as keyof typeof columnsOfFacts].type} holds`,
          );
      }

      for (const [key, value] of Object.entries(fieldsOf(entry, type))) {
        const put = puts.get(key);
        if (put) put(value, row, output);
        else if (!facts.some(([, fact]) => fact === key)) output.lost(`${key} is no field of ${type.name}`);
      }
    });
  }

  /* ── fields ────────────────────────────────────────────────────────────────────────────────────────────────── */

  /** @param prefix what the names of its columns begin with. */
  #field(draft: Draft, field: Field, prefix: string): Put {
    const { put, demand } = this.#placed(draft, field, prefix);
    for (const [need, isThere] of demand) {
      if (need === 'no') continue;
      if (need === 'published' && draft.status !== undefined)
        draft.checks.push(`${nameText(draft.status)} <> 'published' or ${isThere}`);
      else draft.checks.push(isThere);
    }

    return put;
  }

  /**
   * Makes room for a field.
   * @returns the columns with their conditions.
   */
  #placed(draft: Draft, field: Field, prefix: string, isInGroup = false) {
    const { common } = field;
    const name = joined(prefix, snake(field.name.slice(field.name.lastIndexOf('.') + 1)));
    const demand: (readonly [Need, string])[] = [];
    if (common.when !== undefined) draft.unsaid.push(`${name}: only where ${common.when}`);
    const need = common.when === undefined ? needOf(common.required) : 'no';
    if (common.many || field.kind.maps) {
      const put = this.#below(draft, field, name, isInGroup ? 'no' : need);
      if (isInGroup && need !== 'no') draft.unsaid.push(`${name} has to be there`);
      return { put, demand, columns: [] as readonly string[], isSeen: false };
    }

    const inLanguage = (language: string | undefined, when: Need): PlacedColumn => {
      const isNeeded = when === 'always' && !isInGroup;
      const ownName = language === undefined ? name : `${name}_${snake(language)}`;
      const placed = this.#single(draft, field, { name: ownName, isNeeded, about: this.#about(field, language) });
      // A group of which nothing is there looks like none.
      const isThere = field.kind.nests && common.mayBeEmpty ? undefined : placed.isThere;
      if (isThere === undefined && when !== 'no') draft.unsaid.push(`${ownName} has to be there`);
      const isSaid = isNeeded && placed.columns.length === 1;
      if (isThere !== undefined && !isSaid) demand.push([when, isThere]);
      if (common.unique || field.kind.unique) for (const key of placed.keys) draft.keepUnique(key);

      return placed;
    };

    if (!common.localized) {
      const { put, columns, isThere } = inLanguage(undefined, need);
      return { put: this.#given(field, put), demand, columns, isSeen: isThere !== undefined };
    }

    const requiredLanguages = new Map(
      askedLanguages(this.#model.definition).map(({ language, required }) => [language, required]),
    );
    const placedByLanguage = this.#languages.map(
      (language) => [language, inLanguage(language, needIn(need, requiredLanguages.get(language)))] as const,
    );
    const puts = new Map(placedByLanguage.map(([language, { put }]) => [language, this.#given(field, put)]));

    return {
      put: (value: Json, row: Row, outFile: RowOutput) => {
        if (isEmpty(value)) return;
        if (!isObject(value)) return outFile.lost(`${field.name} has no languages`);
        for (const [language, version] of Object.entries(value)) {
          const put = puts.get(language);
          if (put) put(version, row, outFile);
          else outFile.lost(`${field.name}: ${language} is no language here`);
        }
      },
      demand,
      columns: placedByLanguage.flatMap(([, { columns }]) => columns),
      isSeen: placedByLanguage.every(([, { isThere }]) => isThere !== undefined),
    };
  }

  /** What counts as no value is none in a row. */
  #given = ({ common }: Field, put: Put): Put => {
    const isNone = common.mayBeEmpty ? (value: Json) => value === null : isEmpty;
    return (value, row, outFile) => {
      if (!isNone(value)) put(value, row, outFile);
    };
  };

  /** The columns of a single value. @param name what their names begin with; a plain one may have it as it stands. */
  #single(draft: Draft, field: Field, demand: ColumnDemand): PlacedColumn {
    const { kind, options } = field;
    const { name } = demand;
    if (kind.maps) return { put: this.#pairs(draft, field, name), columns: [], keys: [] };
    if (kind.nests) return this.#group(draft, field, name);
    if (isReference(field)) return this.#reference(draft, field, demand);

    const shape = kind.stores(options, this.#model.context);
    const taxonomy = kind.taxonomy(options);
    const taxonomyLinked = taxonomy === undefined ? undefined : this.#model.taxonomies.get(taxonomy);
    if (taxonomyLinked) return this.#term(draft, field, demand, taxonomyLinked);

    const keys = keysOf(shape);

    if (keys) return this.#keys(draft, field, demand, keys);
    return this.#plain(draft, field, { ...demand, name: name || 'value' }, shape);
  }

  #plain(draft: Draft, field: Field, { name, isNeeded, about }: ColumnDemand, shape: Shape): PlacedColumn {
    const { type, checks, unsaid, values } = columnType(shape, field.common.mayBeEmpty === true);
    const isNamed = values?.every((member) => new TextEncoder().encode(member).length < 64) === true;
    const typeOfColumn = values && isNamed && values.length > 0 ? this.#choices(draft, field, name, values) : type;
    const among = values && !isNamed ? [`${itself} in (${values.map(textLiteral).join(', ')})`] : [];
    const none = values?.length === 0 ? ['false'] : [];
    draft.unsaid.push(...unsaid.map((text) => `${name}: ${text}`));
    const isDefault = field.common.default !== undefined && !field.common.localized && !field.common.many;
    const column = draft.column(name, {
      type: typeOfColumn,
      isNeeded,
      checks: [...checks, ...among, ...none],
      about,
      default: isDefault ? defaultText(field.common.default) : undefined,
    });
    const isFitting = fitting(type, shape);

    return {
      put: (value, row, outFile) => {
        if (!isFitting(value)) return outFile.lost(`${field.name} is not what a column of ${type} holds`);
        row.cells.set(column, type === 'jsonb' ? { json: value } : (value as Cell));
      },
      columns: [column],
      keys: [[column]],
      isThere: `${nameText(column)} is not null`,
    };
  }

  #choices(draft: Draft, field: Field, name: string, values: readonly string[]): string {
    if (field.kind.usesLanguages) return this.#languageType();
    return this.#enumeration(`${field.address} ${JSON.stringify(values)}`, `${draft.name}_${name}`, values);
  }

  #languageType = (): string => this.#enumeration('language', 'entry_language', this.#languages);

  #enumeration(key: string, wantedName: string, values: readonly string[]): string {
    const existing = this.#enumerations.get(key);
    if (existing) return existing.name;
    const name = this.#names.of(wantedName);
    this.#enumerations.set(key, { name, values: [...new Set(values)] });
    return name;
  }

  /** A group of keys that a kind has of itself. */
  #keys(
    draft: Draft,
    field: Field,
    { name, isNeeded, about }: ColumnDemand,
    { keys, optional, alone }: Keys,
  ): PlacedColumn {
    const keyColumns = Object.entries(keys).map(([key, shape]) => {
      const isOptional = optional.includes(key);
      const placed = this.#plain(
        draft,
        { ...field, common: {} },
        { name: joined(name, snake(key)), isNeeded: isNeeded && !isOptional, about: `${about} (${key})` },
        shape,
      );

      return { key, isOptional, placed, column: placed.columns[0] ?? '' };
    });
    const [first, ...rest] = keyColumns;
    const isThere = first ? `${nameText(first.column)} is not null` : 'true';
    for (const { column, isOptional } of isNeeded ? [] : rest)
      draft.checks.push(
        isOptional
          ? `${nameText(column)} is null or ${isThere}`
          : `(${nameText(column)} is null) = (${nameText(first?.column ?? '')} is null)`,
      );

    const columns = keyColumns.map(({ column }) => column);

    return {
      put: (value, row, outFile) => {
        const single = alone === undefined ? undefined : { [alone]: value };
        const group = isObject(value) ? value : single;
        if (!group) return outFile.lost(`${field.name} is no group of keys`);
        for (const { key, placed } of keyColumns) {
          const part = group[key];
          if (part !== undefined && part !== null) placed.put(part, row, outFile);
        }
      },
      columns,
      keys: [columns],
      isThere,
    };
  }

  #term(draft: Draft, field: Field, { name, isNeeded, about }: ColumnDemand, taxonomy: Taxonomy): PlacedColumn {
    const shape = field.kind.stores(field.options, this.#model.context);
    const target = this.#terms.of(taxonomy);
    const isNarrower = shape.is === 'one of' && shape.values.length < taxonomy.terms.size;
    const isSaid = isNarrower && shape.values.length <= mostNamed;
    if (isNarrower && !isSaid) draft.unsaid.push(`${name}: only ${field.kind.gist(field.options)}`);
    const column = draft.column(name || 'term', {
      type: 'text',
      isNeeded,
      checks: isSaid ? [`${itself} in (${shape.values.map(textLiteral).join(', ')})`] : [],
      about,
    });
    draft.refer([column], target);

    return {
      put: (value, row, outFile) => {
        if (typeof value !== 'string') return outFile.lost(`${field.name} is no term`);
        row.cells.set(column, value);
        // A term that nobody wrote down yet comes into its table with the first entry that has it.
        if (this.#terms.isNew(taxonomy, value))
          outFile.rows.push({ table: target.name, cells: new Map([['term', value]]) });
      },
      columns: [column],
      keys: [[column]],
      isThere: `${nameText(column)} is not null`,
    };
  }

  /** A reference: a column for each type that may be there, of which one is filled. */
  #reference(draft: Draft, field: Field, { name, isNeeded, about }: ColumnDemand): PlacedColumn {
    const { kind, options } = field;
    const { types, eligible, inverseMin, inverseMax } = kind.pointsAt(options);
    const accepted = [...new Set(types.flatMap(this.#model.context.acceptedAs))];
    const isOne = accepted.length === 1;
    const columns = new Map(
      accepted.map((type) => {
        const target = this.#types.get(type);
        const ownName = isOne ? name || snake(type) : joined(name, snake(type));
        const column = draft.column(ownName, {
          type: 'text',
          isNeeded: isNeeded && isOne,
          about: isOne ? about : `${about} (${type})`,
        });
        if (target) draft.refer([column], target);
        else draft.unsaid.push(`${column} is the identifier of a ${type}, which has no table here`);

        return [type, column] as const;
      }),
    );
    const columnNames = [...columns.values()];
    const [only = ''] = columnNames;
    if (!isOne) draft.checks.push(`${howMany(columnNames)} ${isNeeded ? '=' : '<='} 1`);
    if (inverseMax === 1) for (const name of columnNames) draft.keepUnique([name]);
    const bounds = [
      ...(eligible === undefined ? [] : [`only where ${eligible}`]),
      ...(inverseMin ? [`at least ${inverseMin} of them point at each`] : []),
      ...(inverseMax !== undefined && inverseMax > 1 ? [`at most ${inverseMax} of them point at each`] : []),
    ];
    draft.unsaid.push(...bounds.map((bound) => `${columnNames.join(', ')}: ${bound}`));

    return {
      put: (value, row, outFile) => {
        const [link] = kind.links?.(value, options, this.#model.context) ?? [];
        const column = link && columns.get(link.to.type);
        if (link && column !== undefined) row.cells.set(column, link.to.id);
        else outFile.lost(`${field.name} points at no ${list(accepted, 'or')}`);
      },
      columns: columnNames,
      keys: columnNames.map((name) => [name]),
      isThere: isOne ? `${nameText(only)} is not null` : `${howMany(columnNames)} > 0`,
    };
  }

  /** An object: its fields as columns of the row that it is in. */
  #group(draft: Draft, field: Field, name: string): PlacedColumn {
    const parts = [...field.fields].map(([key, field]) => ({ key, ...this.#placed(draft, field, name, name !== '') }));
    const columns = parts.flatMap((part) => part.columns);
    const isSeen = columns.length > 0 && parts.every((part) => part.isSeen);
    for (const { demand } of parts)
      for (const [need, isThere] of demand) {
        if (need !== 'always') continue;
        if (name === '') draft.checks.push(isThere);
        else draft.checks.push(`${howMany(columns)} = 0 or ${isThere}`);
      }

    const puts = new Map(parts.map(({ key, put }) => [key, put]));

    return {
      put: (value, row, outFile) => {
        if (!isObject(value)) return outFile.lost(`${field.name} is no group of keys`);

        if (isEmpty(value) && name !== '') outFile.lost(`${field.name} is there, and empty`);
        for (const [key, inside] of Object.entries(value)) {
          const put = puts.get(key);
          if (put) put(inside, row, outFile);
          else outFile.lost(`${field.name}.${key} is no field`);
        }
      },
      columns,
      keys: isSeen ? [columns.toSorted()] : [],
      ...(isSeen ? { isThere: `${howMany(columns)} > 0` } : {}),
    };
  }

  /* ── lists, and groups whose keys are data ─────────────────────────────────────────────────────────────────── */

  /** A list, or a group whose keys are data: a table below the one that it is in. */
  #below(draft: Draft, field: Field, name: string, need: Need): Put {
    const { localized, many, ...common } = field.common;
    if (!many && need !== 'no') draft.unsaid.push(`${name} has to be there`);
    if (many) return this.#items(draft, { ...field, common }, name, { many, need, isLocalized: localized === true });
    if (localized) return this.#byLanguage(draft, { ...field, common }, name);
    return this.#pairs(draft, { ...field, common }, name);
  }

  #child(
    draft: Draft,
    field: Field,
    name: string,
  ): { readonly child: Draft; readonly keys: readonly (readonly [string, string])[] } {
    const about = `${draft.about.split(':')[0]}: ${field.label}`;
    const child = new Draft(this.#names.of(`${draft.name}_${name || 'values'}`), about);
    child.isBelow = true;
    this.#tables.push(child);
    const keys = draft.primaryKey.map((key) => {
      const ownKey = keyBelow(draft, key);
      const type = draft.columns.find((column) => column.name === key)?.type ?? 'text';
      return [key, child.column(ownKey, { type, isNeeded: true, about: '' })] as const;
    });
    child.primaryKey.push(...keys.map(([, ownKey]) => ownKey));
    child.refer([...child.primaryKey], { name: draft.name, primaryKey: [...draft.primaryKey] });

    return { child, keys };
  }

  #items(
    draft: Draft,
    field: Field,
    name: string,
    {
      many: { min = 0, max, distinct, orOne },
      need,
      isLocalized,
    }: {
      readonly many: NonNullable<Field['common']['many']>;
      readonly need: Need;
      readonly isLocalized: boolean;
    },
  ): Put {
    const { child, keys } = this.#child(draft, field, name);
    const language = isLocalized
      ? child.column('language', { type: this.#languageType(), isNeeded: true, about: 'The language that it is in.' })
      : undefined;
    if (language !== undefined) child.primaryKey.push(language);
    const outer = [...child.primaryKey];
    const position = child.column('position', {
      type: 'integer',
      isNeeded: true,
      checks: [max === undefined ? `${itself} >= 1` : `${itself} between 1 and ${max}`],
      about: 'Its place in the list, from 1.',
    });
    child.primaryKey.push(position);
    const item = this.#single(child, field, { name: '', isNeeded: true, about: this.#about(field) });
    if (distinct) for (const key of item.keys) child.keepUnique([...outer, ...key]);
    if (distinct && item.keys.length === 0) child.unsaid.push('no two items are the same');
    if (field.common.unique) child.unsaid.push('no two entries share one');

    if (min > 1) {
      const next = child.column('next', {
        type: 'integer',
        about: `At least ${min}: the place of the one that has to follow.`,
        generated: `case when ${nameText(position)} < ${min} then ${nameText(position)} + 1 end`,
      });
      child.refer([...outer, next], child);
    }

    const isUnsayable = isLocalized || field.common.mayBeEmpty === true || (need === 'published' && draft.isBelow);
    if (need !== 'no' && isUnsayable) draft.unsaid.push(`${name} has to be there`);
    else if (need !== 'no') this.#needFirst(draft, child, name, need);

    const putItems = (value: Json, row: Row, outFile: RowOutput, itemLanguage: string | undefined): void => {
      if (isEmpty(value)) return;
      if (!isList(value) && !orOne) outFile.lost(`${field.name} is no list`);
      else
        for (const [index, inner] of (isList(value) ? value : [value]).entries()) {
          const below = this.#rowBelow(child, keys, row);
          if (language !== undefined && itemLanguage !== undefined) below.cells.set(language, itemLanguage);
          below.cells.set(position, index + 1);
          let isLost = inner === null;

          const lost = (loss: string): void => {
            isLost = true;
            outFile.lost(loss);
          };

          if (inner === null) outFile.lost(`${field.name} has an item that is nothing`);
          else item.put(inner, below, { rows: outFile.rows, lost });
          // Of an item with parts the others are there all the same.
          if (!isLost || field.kind.nests) outFile.rows.push(below);
        }
    };

    if (!isLocalized) return (value, row, outFile) => putItems(value, row, outFile, undefined);
    return (value, row, outFile) => {
      if (isEmpty(value)) return;
      if (!isObject(value)) return outFile.lost(`${field.name} has no languages`);
      for (const [language, version] of Object.entries(value))
        if (this.#languages.includes(language)) putItems(version, row, outFile, language);
        else outFile.lost(`${field.name}: ${language} is no language here`);
    };
  }

  /** That a list has an item: a column that refers to the first one, where there has to be one. */
  #needFirst(draft: Draft, child: Draft, name: string, need: Need): void {
    const isAlways = need === 'always' || draft.status === undefined;
    const first = draft.column(`${name}_first`, {
      type: 'integer',
      about: `That there has to be a first one of ${child.name}.`,
      generated: isAlways ? '1' : `case when ${nameText(draft.status ?? '')} = 'published' then 1 end`,
    });
    draft.refer([...draft.primaryKey, first], child);
  }

  #rowBelow = (child: Draft, keys: readonly (readonly [string, string])[], above: Row): Row => ({
    table: child.name,
    cells: new Map(keys.map(([key, ownKey]) => [ownKey, above.cells.get(key) ?? null])),
  });

  /** A group whose keys are data, in each language. */
  #byLanguage(draft: Draft, field: Field, name: string): Put {
    const puts = new Map(
      this.#languages.map((language) => [language, this.#pairs(draft, field, `${name}_${snake(language)}`)]),
    );
    return (value, row, outFile) => {
      if (isEmpty(value)) return;
      if (!isObject(value)) return outFile.lost(`${field.name} has no languages`);
      for (const [language, version] of Object.entries(value)) puts.get(language)?.(version, row, outFile);
    };
  }

  /** A group whose keys are data: a row for each key. */
  #pairs(draft: Draft, field: Field, name: string): Put {
    const { child, keys } = this.#child(draft, field, name);
    const [keyField, valueField] = [field.fields.get('keys'), field.fields.get('value')];
    const isSimple = keyField !== undefined && this.#isOneColumn(keyField);
    const key = isSimple
      ? this.#single(child, { ...keyField, common: {} }, { name: 'key', isNeeded: true, about: 'Its key.' })
      : this.#plain(
          child,
          { ...field, common: {} },
          { name: 'key', isNeeded: true, about: 'Its key.' },
          { is: 'text' },
        );
    child.primaryKey.push(...key.columns);
    const put = valueField ? this.#field(child, valueField, '') : undefined;
    const { min, max } = field.options;
    if (min !== undefined || max !== undefined) draft.unsaid.push(`${name}: ${field.kind.gist(field.options)}`);

    return (value, row, outFile) => {
      if (isEmpty(value)) return;
      if (!isObject(value)) return outFile.lost(`${field.name} is no group of keys`);
      for (const [ownKey, inside] of Object.entries(value)) {
        const below = this.#rowBelow(child, keys, row);
        key.put(ownKey, below, outFile);
        outFile.rows.push(below);
        put?.(inside, below, outFile);
      }
    };
  }

  /** Whether values of a field are one column. */
  #isOneColumn({ kind, options }: Field): boolean {
    if (kind.maps || kind.nests) return false;
    const { types } = kind.pointsAt(options);
    return types.length === 0 || types.flatMap(this.#model.context.acceptedAs).length === 1;
  }

  #about({ label, common }: Field, language?: string): string {
    const help = wordsIn(common.help, this.#model.readingOrder);
    const title = language === undefined ? label : `${label} (${language})`;
    if (help === undefined) return title;
    return `${title}. ${help}`;
  }
}
