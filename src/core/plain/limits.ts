/** What one workspace may cost, so that no file of it stops the tool. A workspace may raise them in `lumbrik.yaml`. */
export interface Limits {
  /** How many steps one expression may take over one entry. */
  readonly expressionSteps: number;
  /** How many values, keys and items one file of YAML or JSON may hold. */
  readonly fileNodes: number;
  /** How large one file may be, in megabytes (of 1,048,576 bytes). */
  readonly fileMegabytes: number;
}

/** The limits of a workspace without settings. */
export const usualLimits: Limits = { expressionSteps: 100_000, fileNodes: 500_000, fileMegabytes: 32 };

/** For a text that was read within limits before, or that Lumbrik itself wrote. */
export const anySize = { fileNodes: Number.POSITIVE_INFINITY, fileMegabytes: Number.POSITIVE_INFINITY };

/** The limits of a workspace that states some of them; the usual ones for the rest. */
export const limitsOf = (stated: { readonly [K in keyof Limits]?: Limits[K] | undefined }): Limits => ({
  expressionSteps: stated.expressionSteps ?? usualLimits.expressionSteps,
  fileNodes: stated.fileNodes ?? usualLimits.fileNodes,
  fileMegabytes: stated.fileMegabytes ?? usualLimits.fileMegabytes,
});
