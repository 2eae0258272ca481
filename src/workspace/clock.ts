/**
 * The time that is written into files: now, or what `SOURCE_DATE_EPOCH` says (seconds since 1970, the convention of
 * reproducible builds), as RFC 3339 in UTC to the second.
 */
export function timestamp(): string {
  const fixed = process.env.SOURCE_DATE_EPOCH;
  const seconds = fixed !== undefined && /^\d+$/u.test(fixed) ? Number(fixed) : Math.floor(Date.now() / 1000);
  return new Date(seconds * 1000).toISOString().replace(/\.\d{3}Z$/u, 'Z');
}
