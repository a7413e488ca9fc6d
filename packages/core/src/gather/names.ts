/** Names that tell things apart. */

/** The first of `base 1`, `base 2` … that is not taken. */
export function numbered(base: string, taken: Iterable<string>, from = 1): string {
  const names = new Set(taken);
  for (let n = from; ; n++) if (!names.has(`${base} ${n}`)) return `${base} ${n}`;
}

/** A name as it is, or with the first number from 2 on that is not taken. */
export const unique = (name: string, taken: string[]) => (taken.includes(name) ? numbered(name, taken, 2) : name);

/** The name of a version of something: `X, version 2` of `X`, and of `X, version 2` the next. */
export const versionName = (name: string, taken: Iterable<string>) =>
  numbered(`${name.replace(/, version \d+$/, '')}, version`, taken, 2);
