/**
 * What is kept in this browser beyond a visit. A browser may refuse that, or have no room: then what was chosen lasts as long
 * as the page. Where pages are drawn on the server there is none.
 */
export function storageHere(): Storage | null {
  try {
    return typeof localStorage === 'undefined' ? null : localStorage;
  } catch {
    return null;
  }
}

/** What lasts as long as the page. */
const here = new Map<string, string>();

export function keptHere(name: string): string | null {
  try {
    return here.get(name) ?? storageHere()?.getItem(name) ?? null;
  } catch {
    return null;
  }
}

/** The same read as JSON; null where nothing is kept, or nothing that can be read. What it is has to be looked at. */
export function keptJson(name: string): unknown {
  try {
    return JSON.parse(keptHere(name) ?? 'null') as unknown;
  } catch {
    return null;
  }
}

export function keepHere(name: string, value: string) {
  try {
    storageHere()!.setItem(name, value);
    here.delete(name);
  } catch {
    here.set(name, value);
  }
}
