/** Asking the server for a motion analysis, and about it. */
import { sendJson } from '~/ui/send';

export const sendMotion = (id: string, body: object) => sendJson<object>(`/footage/${id}/motion`, body);

/** Has a footage analysed the quick way, now; with its motion sidecar if it has one. */
export const analyseMotion = (id: string, sidecar: boolean) =>
  sendMotion(id, { intent: 'analyse', method: 'quick', use: sidecar ? 'replace' : 'no' });
