/**
 * Files that tasks name. A task says by its root and its path below that where something lies; what a root is on a machine is
 * known by whoever does the work there.
 */

/** The folders of the data folder that tasks name; `disk` is a machine itself, with whole paths. */
const ROOTS = [
  'footage',
  'originals',
  'exports',
  'motions',
  'subjects',
  'materials',
  'takes',
  'stills',
  'uploads',
  'work',
  'disk',
] as const;
export type Root = (typeof ROOTS)[number];

export interface Place {
  root: Root;
  /** Below the root, parted by `/`; a whole path for `disk`. */
  path: string;
}

/** Something whose paths may be places yet. */
export type Placed<T> = T extends string
  ? string extends T
    ? T | Place
    : T
  : T extends object
    ? { [K in keyof T]: Placed<T[K]> }
    : T;

const isPlace = (value: object): value is Place => {
  const { root, path, ...more } = value as Partial<Place>;
  return typeof path === 'string' && ROOTS.includes(root!) && Object.keys(more).length === 0;
};

/** The same with a path for every place, as `pathOf` gives it. */
export function resolved<T>(value: Placed<T>, pathOf: (place: Place) => string): T {
  const walk = (v: unknown): unknown => {
    if (typeof v !== 'object' || v === null) return v;
    if (Array.isArray(v)) return v.map(walk);
    return isPlace(v) ? pathOf(v) : Object.fromEntries(Object.entries(v).map(([k, inner]) => [k, walk(inner)]));
  };
  return walk(value) as T;
}
