import { z } from 'zod';
import type { Rename } from '../definition/rename.ts';
import { equal, isList, isObject, ownValue, type Path } from '../plain/json.ts';
import { didYouMean } from '../plain/nearest.ts';
import { forbiddenScheme, type TextLink, targetOf, usualSchemes } from '../text/links.ts';
import { entryScheme } from '../text/tree.ts';
import { allowed, type Compatibility, condition } from './compatibility.ts';
import type { Elsewhere, EntryLink, FoundFile, ModelContext, OptionMistake, Report } from './kindParts.ts';

/** Where the links of a text may lead. */
export const linkOptions = z
  .strictObject({ schemes: z.array(z.string()).min(1).optional(), entries: z.array(z.string()).min(1).optional() })
  .optional();

type Links = NonNullable<z.output<typeof linkOptions>>;

/** More schemes and more types let more pass; where one of the lists comes or goes, it depends on the default. */
export const linkMeaning: Compatibility = {
  direction: (before, after) => {
    if (!isObject(before) || !isObject(after)) return condition.direction(before, after);

    const parts = ['schemes', 'entries'].flatMap((key) => {
      const [oldPart, newPart] = [ownValue(before, key), ownValue(after, key)];
      if (equal(oldPart, newPart)) return [];
      if (isList(oldPart) && isList(newPart)) return [allowed(String).direction(oldPart, newPart)];
      return ['different' as const];
    });
    const [first = 'presentation', ...rest] = parts.filter((part) => part !== 'presentation');

    if (rest.every((other) => other === first)) return first;
    return 'different';
  },
};

/** The types that an option names and that are not there. */
export function* unknownTypes(
  option: string,
  types: readonly string[] | undefined,
  context: ModelContext,
): Iterable<OptionMistake> {
  for (const type of types ?? [])
    if (!context.types.includes(type))
      yield {
        option,
        says: `there is no type \`${type}\``,
        mend: didYouMean(type, context.types) ?? `Define it in model/types/${type}.yaml.`,
      };
}

/** Where links may lead, after a type got another name. */
export const renamedType = ({ entries, ...links }: Links, rename: Rename & { readonly what: 'type' }): Links => ({
  ...links,
  ...(entries ? { entries: entries.map((type) => (type === rename.from ? rename.to : type)) } : {}),
});

/** What a text allows of its links. */
interface LinkLimits {
  readonly schemes: readonly string[] | undefined;
  /** The types whose entries may be linked to; any where nothing is stated. */
  readonly types: ReadonlySet<string> | undefined;
}

/** Checks where a link or a picture of a text leads, and that a picture is stated in words too. */
export function checkLink(link: TextLink, { schemes, types }: LinkLimits, report: Report, inside: Path = []): void {
  const scheme = forbiddenScheme(link.url, schemes);
  const allowed = [...(schemes ?? usualSchemes)];
  if (scheme !== undefined) report('link-target:scheme', { scheme, schemes: allowed }, { limit: allowed, inside });
  const target = targetOf(link);
  if (target.to === 'entry') {
    const { entry } = target;
    const [type = ''] = entry.split('/');
    if (types && !types.has(type)) report('link-target', { entry, types: [...types] }, { limit: [...types], inside });
    else if (!entryLinkOf(link)) report('link-target:malformed', { entry }, { inside });
  }

  if (link.isPicture) checkAlt(link.alt, link.url, report, inside);
}

/** A picture of a text without words for anyone who cannot see it. */
export function checkAlt(alt: unknown, picture: string, report: Report, inside: Path): void {
  if (typeof alt !== 'string' || alt.trim() === '')
    report('alt-missing:in-text', { picture }, { isWarning: true, inside });
}

/** The entry that a link leads to; `undefined` where it leads to none. */
export function entryLinkOf(link: TextLink): EntryLink | undefined {
  const target = targetOf(link);
  if (target.to !== 'entry') return undefined;
  const [type = '', id = '', ...more] = target.entry.split('/');
  if (type !== '' && id !== '' && more.length === 0) return { type, id };
  return undefined;
}

/** The file below `assets/` that a link leads to or a picture shows. */
export function fileOf(link: TextLink, inside: Path): readonly FoundFile[] {
  const target = targetOf(link);
  if (target.to !== 'asset') return [];
  return [{ file: target.file, inside }];
}

/** A link to an entry as it leads to where that is now. */
export function relocatedLink(url: string, elsewhere: Elsewhere): string {
  const link = entryLinkOf({ url, isPicture: false });
  const moved = link && elsewhere(link);
  if (moved && moved !== link) return `${entryScheme}${moved.type}/${moved.id}`;
  return url;
}

/** Entries of a type that has another name now. */
export const ofOtherType =
  ({ from, to }: { readonly from: string; readonly to: string }): Elsewhere =>
  (entry) =>
    entry.type === from ? { ...entry, type: to } : entry;
