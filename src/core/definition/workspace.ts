import { z } from 'zod';
import { usualLimits } from '../plain/limits.ts';
import { groupThousands } from '../plain/words.ts';
import { LanguageCode, languageOptions } from './language.ts';

/** What a workspace may say of its limits. They bound what a file may cost, so that none stops the tool. */
export const limitOptions = {
  expressionSteps: z
    .int()
    .min(1_000)
    .max(1_000_000_000)
    .optional()
    .describe(
      `The most steps that one expression may take over one entry, a step being a value that is looked at inside a loop (all, exists, map, filter); ${groupThousands(usualLimits.expressionSteps)} if nothing is said.`,
    ),
  fileNodes: z
    .int()
    .min(1_000)
    .max(100_000_000)
    .optional()
    .describe(
      `The most keys, values and items that one file may hold; ${groupThousands(usualLimits.fileNodes)} if nothing is said. A thousand take about a megabyte of memory while they are read.`,
    ),
  fileMegabytes: z
    .int()
    .min(1)
    .max(1_024)
    .optional()
    .describe(`The largest file that is read, in megabytes; ${usualLimits.fileMegabytes} if nothing is said.`),
};

/** `lumbrik.yaml`, the file that makes a folder a workspace. */
export const WorkspaceFile = z.strictObject({
  $schema: z.string().optional(),
  workspace: z.string().min(1),
  languages: z
    .array(z.union([LanguageCode, z.strictObject({ language: LanguageCode, ...languageOptions })]))
    .min(1)
    .optional()
    .describe('The languages that its content is written in, the main one first.'),
  limits: z.strictObject(limitOptions).optional().describe('What its files may cost, where that is more than usual.'),
});
