/** Asking the server for a motion analysis, and about it. */

export async function sendMotion(id: string, body: object): Promise<{ problem?: string }> {
  try {
    const answer = await fetch(`/footage/${id}/motion`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    });
    return (await answer.json()) as { problem?: string };
  } catch {
    return { problem: 'The server did not answer. Nothing was changed; try again.' };
  }
}

/** Has a footage analysed the quick way, now; with its motion sidecar if it has one. */
export const analyseMotion = (id: string, sidecar: boolean) =>
  sendMotion(id, { intent: 'analyse', method: 'quick', use: sidecar ? 'replace' : 'no' });

export const stopJob = (id: string) =>
  fetch(`/jobs/${id}`, { method: 'POST', body: new URLSearchParams({ intent: 'cancel' }) });
