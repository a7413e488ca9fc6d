/** Which files belong together, told by their names: the two files of two lenses, and small companions. */

/** Names of the two files of one recording: alike but for a mark of the lens. The first is the first lens's. */
const MARKS: [RegExp, string, string][] = [
  [/^(.*[-_ ])(a)(\.[^.]+)$/i, 'a', 'b'],
  [/^(.*[-_ ])(front)((?:[-_ ]\w+)?\.[^.]+)$/i, 'front', 'back'],
  [/^(.*[-_ ])(lens1)((?:[-_ ]\w+)?\.[^.]+)$/i, 'lens1', 'lens2'],
];

/** The names under which a first lens's file would have its partner; empty if the name bears no mark. */
export function partnerNames(name: string): string[] {
  return MARKS.flatMap(([pattern, , second]) => {
    const m = pattern.exec(name);
    if (!m) return [];
    const partner = m[2] === m[2]!.toUpperCase() ? second.toUpperCase() : second;
    return [`${m[1]}${partner}${m[3]}`];
  });
}

/** The name under which a second lens's file would have its first; null if the name bears no mark of a second lens. */
function firstNames(name: string): string[] {
  return MARKS.flatMap(([pattern, first, second]) => {
    const mirrored = new RegExp(pattern.source.replace(`(${first})`, `(${second})`), 'i');
    const m = mirrored.exec(name);
    if (!m) return [];
    return [`${m[1]}${m[2] === m[2]!.toUpperCase() ? first.toUpperCase() : first}${m[3]}`];
  });
}

export interface GroupedRecording {
  /** Name of the first file without folder, ending and lens mark. */
  name: string;
  files: string[];
  /** A small copy for a quick look, if there is one. */
  companion: string | null;
  /** What is wrong as far as names tell. */
  problem: string | null;
}

const COMPANION = /\.low(\.[^.]+)$/i;

/** Where the companion of a copied original is, if it has one. */
export const companionCopy = (original: string) => original.replace(/(\.[^.]+)$/, '.low$1');

/** Groups the files of a folder into recordings: the files of two lenses together, companions with what they go with. */
export function groupRecordings(files: string[]): GroupedRecording[] {
  const split = (path: string) => {
    const at = path.lastIndexOf('/') + 1;
    return { folder: path.slice(0, at), file: path.slice(at) };
  };
  const originals = files.filter((f) => !COMPANION.test(f));
  const there = new Set(originals);
  const taken = new Set<string>();
  return originals.flatMap((path) => {
    if (taken.has(path)) return [];
    const { folder, file } = split(path);
    const beside = (names: string[]) => names.map((n) => folder + n).find((n) => there.has(n));
    if (beside(firstNames(file))) return [];
    const partner = beside(partnerNames(file));
    if (partner) taken.add(partner);
    const stem = path.replace(/\.[^.]+$/, '');
    const bare = stem.replace(/[-_ ][^-_ ]+$/, '');
    const companion = files.find((f) => COMPANION.test(f) && [stem, bare].includes(f.replace(COMPANION, '')));
    const marked = /[-_ ](a|b)$/i.exec(stem);
    const problem =
      marked && !partner
        ? `The file of its ${marked[1]!.toLowerCase() === 'a' ? 'second' : 'first'} lens is missing from the card.`
        : null;
    const name = (partner ? bare : stem).slice(folder.length);
    return [{ name, files: partner ? [path, partner] : [path], companion: companion ?? null, problem }];
  });
}
