import { z } from 'zod';
import { Sentence } from './wording.ts';

/** The options of a preview. */
export const previewShape = z.strictObject({
  address: Sentence.exactOptional(),
  offered: z.boolean().exactOptional(),
  required: z.boolean().exactOptional(),
});

/** What the model says about one preview of an entry. */
export type PreviewOptions = z.output<typeof previewShape>;

/** A preview as it is written: its address alone, or its options. */
export type Preview = string | PreviewOptions;

/** A preview as it is written; options that are an address alone are read as that address. */
export const Preview: z.ZodType<Preview> = z.union([Sentence, previewShape.transform(asWritten)]);

/** The options of a preview, whichever way it is written. */
export const previewOptions = (preview: Preview): PreviewOptions =>
  typeof preview === 'string' ? { address: preview } : preview;

/** A preview with another address; one without an address stays. */
export function withAddress(preview: Preview, change: (address: string) => string): Preview {
  if (typeof preview === 'string') return change(preview);
  if (preview.address === undefined) return preview;
  return { ...preview, address: change(preview.address) };
}

/** Options that are an address alone are read as that address. */
function asWritten(preview: PreviewOptions): Preview {
  const { address, ...rest } = preview;
  if (address !== undefined && Object.keys(rest).length === 0) return address;
  return preview;
}
