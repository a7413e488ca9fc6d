/** Which of the footage in sight has lost its original: asked for what is seen alone, since it looks at every file. */
import { useEffect, useState } from 'react';

const NONE: ReadonlySet<string> = new Set();

/** `ids`: what is in sight; asked again whenever `loaded`, the Library's page, is another. */
export function useMissing(ids: readonly string[], loaded: unknown): ReadonlySet<string> {
  const [missing, setMissing] = useState(NONE);
  const asked = ids.join();
  useEffect(() => {
    if (!asked) return;
    const stop = new AbortController();
    fetch(`/footage/missing?of=${asked}`, { signal: stop.signal })
      .then((answer) => answer.json() as Promise<{ missing: string[] }>)
      .then((found) => setMissing(new Set(found.missing)))
      // Without an answer nothing is said of it; the next look asks again.
      .catch(() => undefined);
    return () => stop.abort();
  }, [asked, loaded]);
  return missing;
}
