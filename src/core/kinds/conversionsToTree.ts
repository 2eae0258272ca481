import type { Json, JsonObject } from '../plain/json.ts';
import { list } from '../plain/words.ts';
import { conversion } from '../text/conversion.ts';
import { type TextLimits, withinLimits } from '../text/restrict.ts';
import type { Converted } from './kindParts.ts';

/** HTML has elements with an end, or ones that need none; what merely has a sign such as < in it is text. */
const htmlElement =
  /<(p|b|i|u|s|em|strong|a|ul|ol|li|h[1-6]|blockquote|pre|code|div|span|table|figure|sub|sup)(?:\s[^<>]*)?>[\s\S]*<\/\1\s*>|<(?:br|hr|img)(?:\s[^<>]*)?\/?>/iu;

/** A text as paragraphs; one that is written in HTML becomes the content of the HTML. */
function fromTextOrHtml(value: Json, options: TextLimits): Converted {
  const text = String(value);
  if (htmlElement.test(text)) return converted(conversion().htmlToTree(text), options);
  return fromPlain(value);
}

function fromPlain(value: Json): Converted {
  const paragraphs = String(value)
    .split(/\n\s*\n/u)
    .map((part) => part.trim())
    .filter(Boolean);
  return {
    value: {
      type: 'root',
      children: paragraphs.map((part) => ({ type: 'paragraph', children: [{ type: 'text', value: part }] })),
    },
  };
}

function converted(
  {
    tree,
    lost,
  }: { readonly tree: JsonObject; readonly lost: readonly { readonly what: string; readonly times: number }[] },
  options: TextLimits,
): Converted {
  const fitted = withinLimits(tree, options);
  const losses = [...lost.map(({ what: loss }) => loss), ...fitted.lost];
  if (losses.length === 0) return { value: fitted.tree };
  return { value: fitted.tree, partly: `not all of it can be kept: ${list([...new Set(losses)])}` };
}

/** How texts become structured text, within the limits of its field. */
export const conversionsToTree = {
  text: fromTextOrHtml,
  longText: fromTextOrHtml,
  markdown: (value: Json, options: TextLimits): Converted =>
    converted(conversion().markdownToTree(String(value)), options),
};
