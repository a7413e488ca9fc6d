/**
 * Asking the server for something while the page stays as it is. Forms and fetchers are for what changes what the page was
 * loaded with; these are for what is answered to the one who asks.
 */

const NO_ANSWER = 'The server did not answer. Nothing was changed; try again.';

export type Answer<T> = Partial<T> & { problem?: string };

/** Posts JSON and gives the answer, or a sentence when there was none. */
export async function sendJson<T>(address: string, body: object, signal?: AbortSignal): Promise<Answer<T>> {
  return send<T>(address, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
    signal,
  });
}

/** Posts form fields and gives the answer, or a sentence when there was none. */
export async function sendFields<T>(address: string, fields: Record<string, string>): Promise<Answer<T>> {
  return send<T>(address, { method: 'POST', body: new URLSearchParams(fields) });
}

async function send<T>(address: string, request: RequestInit): Promise<Answer<T>> {
  try {
    return (await (await fetch(address, request)).json()) as Answer<T>;
  } catch {
    // No answer, or one that is none, as a proxy's page is.
    request.signal?.throwIfAborted();
    return { problem: NO_ANSWER } as Answer<T>;
  }
}

/** Has a job stopped. */
export const stopJob = (id: string) => sendFields(`/jobs/${id}`, { intent: 'cancel' });
