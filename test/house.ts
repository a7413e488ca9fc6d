/** Reads the house from its imports: which file leads to which, and which room to which. */
import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { dirname, join, normalize } from 'node:path';

const IMPORT = /(?:^|\n)\s*(?:import|export)\s[^'";]*?from\s*'([^']+)'|(?:^|\n)import\s*'([^']+)'/g;
const ENDINGS = ['.ts', '.tsx', '/index.ts'];

/** The product's own source files. */
export const sources = execFileSync('git', ['ls-files', '-co', '--exclude-standard', 'app', 'packages', 'bench'])
  .toString()
  .split('\n')
  .filter((f) => /\.tsx?$/.test(f) && existsSync(f) && !/\/(test|assembly)\//.test(f));

/** The file that an import leads to; null for packages of the registry. */
function target(from: string, name: string): string | null {
  const own = /^@glimbo\/([a-z]+)(?:\/(.*))?$/.exec(name);
  const path = own
    ? `packages/${own[1]}/src/${own[2] ?? 'index'}`
    : name.startsWith('~/')
      ? `app/${name.slice(2)}`
      : name.startsWith('.')
        ? normalize(join(dirname(from), name))
        : null;
  if (!path) return null;
  const bare = path.replace(/\.(js|tsx?)$/, '');
  return ENDINGS.map((e) => bare + e).find((f) => existsSync(f)) ?? null;
}

/** What each file imports of the product's own files. */
export const imports = new Map(
  sources.map((file) => [
    file,
    [
      ...new Set(
        [...readFileSync(file, 'utf8').matchAll(IMPORT)]
          .map((m) => target(file, (m[1] ?? m[2])!))
          .filter((f) => f !== null),
      ),
    ],
  ]),
);

/** The room that a file lies in: a package, or a folder of the application. */
export function roomOf(file: string): string {
  const parts = file.split('/');
  if (parts[0] === 'packages') return parts[1]!;
  if (parts[0] === 'bench') return 'bench';
  return parts.length > 2 ? `app/${parts[1]}` : 'app';
}

/** Every way from one room to another. */
export const ways = new Set(
  [...imports].flatMap(([from, targets]) =>
    targets.map((to) => [roomOf(from), roomOf(to)]).flatMap(([a, b]) => (a === b ? [] : [`${a} --> ${b}`])),
  ),
);

/** Folders of a folder that lead to each other, in pairs. */
export function foldersBothWays(of: string): string[] {
  const folder = (file: string) => (file.startsWith(of) ? file.slice(of.length).split('/').slice(0, -1)[0] : undefined);
  const found = new Set<string>();
  for (const [from, targets] of imports)
    for (const to of targets) {
      const [a, b] = [folder(from), folder(to)];
      if (a !== undefined && b !== undefined && a !== b) found.add(`${a} ${b}`);
    }
  return [...found].filter(
    (way) => found.has(way.split(' ').reverse().join(' ')) && way < way.split(' ').reverse().join(' '),
  );
}

/** Files that lead back to themselves, each circle once. */
export function circles(): string[] {
  const found = new Set<string>();
  const done = new Set<string>();
  const walk = (file: string, trail: string[]) => {
    const at = trail.indexOf(file);
    if (at >= 0) {
      const circle = trail.slice(at);
      const least = circle.indexOf([...circle].sort()[0]!);
      found.add([...circle.slice(least), ...circle.slice(0, least)].join(' → '));
      return;
    }
    if (done.has(file)) return;
    for (const next of imports.get(file) ?? []) walk(next, [...trail, file]);
    done.add(file);
  };
  for (const file of sources) walk(file, []);
  return [...found];
}
