/** The light of a footage, measured when it is asked for first: what the Meter looks at. */
import { readFile } from 'node:fs/promises';
import type { LoaderFunctionArgs } from 'react-router';
import { findFootage, recordingOf } from '~/db/footage';
import { layout, onDisk } from '~/base/layout';
import { ask } from '~/queue/ask';
import { isWhole } from '~/model/footage';
import { told } from '~/server/answer';

/** Footages whose light is being measured: whoever asks meanwhile waits for the same. */
const measuring = new Map<string, Promise<unknown>>();

export async function loader({ params }: LoaderFunctionArgs) {
  const footage = await findFootage(params.footageId!);
  if (!footage || !isWhole(footage))
    return Response.json({ problem: 'The light cannot be measured before the proxy is made.' }, { status: 404 });
  const recording = await recordingOf(footage);
  const file = onDisk(layout.light(footage.id));
  try {
    const known = await readFile(file).catch(() => null);
    if (!known) {
      const going = measuring.get(footage.id) ?? ask({ kind: 'light', recording });
      measuring.set(footage.id, going);
      await going.finally(() => measuring.delete(footage.id));
    }
    return new Response(new Uint8Array(known ?? (await readFile(file))), {
      headers: { 'content-type': 'application/octet-stream', 'cache-control': 'private, max-age=86400' },
    });
  } catch (error) {
    const { problem, status } = told(error);
    return Response.json({ problem }, { status });
  }
}
