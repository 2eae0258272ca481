/**
 * What one workspace may cost, so that no file of it stops the tool. A process works on one workspace, which may raise
 * them in `lumbrik.yaml`.
 */
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

let current: Limits = usualLimits;

/** The limits in force. */
export const limits = (): Limits => current;

/** Sets what the workspace available says of its limits; the usual ones for the rest. */
export function setLimits(stated: { readonly [K in keyof Limits]?: Limits[K] | undefined }): void {
  current = {
    expressionSteps: stated.expressionSteps ?? usualLimits.expressionSteps,
    fileNodes: stated.fileNodes ?? usualLimits.fileNodes,
    fileMegabytes: stated.fileMegabytes ?? usualLimits.fileMegabytes,
  };
}
