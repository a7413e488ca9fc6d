/** Fetches what a look needs to know of light and of other footage, as soon as it does. */
import { useEffect } from 'react';
import { toast } from 'sonner';
import { lightOf, type FootageLight } from '@glimbo/core/look/light';
import { needsLight } from '@glimbo/core/edit/look';
import type { FootageChoice } from '~/model/footage';
import type { StudioState } from '../state/state';
import { useStudio, useStudioStore, type StudioStore } from '../state/store';

/** The light of a footage. Throws with a sentence. */
async function fetchLight(id: string): Promise<FootageLight> {
  const answer = await fetch(`/footage/${id}/light`).catch(() => null);
  if (answer?.ok) return lightOf(new Uint8Array(await answer.arrayBuffer()));
  const said = (await answer?.json().catch(() => null)) as { problem?: string } | null;
  throw new Error(said?.problem ?? 'The light could not be measured: the server did not answer. Try it again.');
}

/** The take's footage's light, fetched if it is not here yet. Throws with a sentence. */
export async function lightHere(store: StudioStore): Promise<FootageLight> {
  const { light, footage, knowLight } = store.getState();
  if (light) return light;
  const found = await fetchLight(footage.id);
  knowLight(found);
  return found;
}

const failed = (error: Error) => toast.error(error.message, { id: 'light' });

/** The footage that the take's twin names, where it is another one that is in the Library. */
const otherTwin = (s: StudioState): FootageChoice | null => {
  const file = s.take().look?.sector?.twin?.footage;
  return (file !== undefined && s.others?.find((o) => o.file === file)) || null;
};

export function useLight() {
  const store = useStudioStore();
  const wanted = useStudio((s) => needsLight(s.take().look) && !s.light);
  useEffect(() => {
    if (wanted) lightHere(store).catch(failed);
  }, [store, wanted]);
  const other = useStudio((s) => (s.take().look?.sector?.twin?.match ? (otherTwin(s)?.id ?? null) : null));
  useEffect(() => {
    if (!other || store.getState().otherLight?.id === other) return;
    fetchLight(other).then((light) => store.getState().knowOtherLight({ id: other, light }), failed);
  }, [store, other]);
}

/** Asks for the footage of the Library as soon as the take's twin shows another one. */
export function useOthers() {
  const store = useStudioStore();
  const wanted = useStudio((s) => s.take().look?.sector?.twin?.footage !== undefined && !s.others);
  useEffect(() => {
    if (wanted) void othersHere(store);
  }, [store, wanted]);
}

/** Fetches the footage of the Library in brief. */
export async function othersHere(store: StudioStore) {
  const answer = await fetch('/footage').catch(() => null);
  if (!answer?.ok)
    return void toast.error('The footage of the Library could not be listed: the server did not answer. Try it again.');
  store.getState().knowOthers(((await answer.json()) as { footage: FootageChoice[] }).footage);
}
