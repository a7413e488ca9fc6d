/** Fetches the footage's light as soon as the take has a Meter. */
import { useEffect } from 'react';
import { toast } from 'sonner';
import { lightOf, type FootageLight } from '@glimbo/core/look/light';
import { useStudio, useStudioStore, type StudioStore } from '../state/store';

/** The footage's light, fetched if it is not here yet. Throws with a sentence. */
export async function lightHere(store: StudioStore): Promise<FootageLight> {
  const { light, footage, knowLight } = store.getState();
  if (light) return light;
  const answer = await fetch(`/footage/${footage.id}/light`).catch(() => null);
  if (!answer?.ok) {
    const said = (await answer?.json().catch(() => null)) as { problem?: string } | null;
    throw new Error(said?.problem ?? 'The light could not be measured: the server did not answer. Try it again.');
  }
  const found = lightOf(new Uint8Array(await answer.arrayBuffer()));
  knowLight(found);
  return found;
}

export function useLight() {
  const store = useStudioStore();
  const wanted = useStudio((s) => !!s.take().look?.meter && !s.light);
  useEffect(() => {
    if (wanted) lightHere(store).catch((error: Error) => toast.error(error.message, { id: 'light' }));
  }, [store, wanted]);
}
