/** Moves, lenses and curves of one's own, loaded once and shared by all benches. */
import { useEffect } from 'react';
import { toast } from 'sonner';
import { createStore, useStore } from 'zustand';
import type { Kept } from '@glimbo/core/moves/kept';
import type { KeptItem } from '~/model/kept';
import { saveFile } from '~/ui/files';
import { sendJson } from '~/ui/send';

const kept = createStore<{ items: KeptItem[]; asked: boolean }>()(() => ({ items: [], asked: false }));

async function send(body: object): Promise<boolean> {
  const { items, problem } = await sendJson<{ items: KeptItem[] }>('/kept', body);
  if (problem) toast.error(problem);
  if (items) kept.setState({ items });
  return !problem;
}

type Of<F extends Kept['format']> = { id: string; document: Extract<Kept, { format: F }> };

/** What is kept of one format, in the order in which it was kept. */
export function useKept<F extends Kept['format']>(format: F): Of<F>[] {
  const { items, asked } = useStore(kept);
  useEffect(() => {
    if (asked) return;
    kept.setState({ asked: true });
    void fetch('/kept')
      .then((r) => r.json() as Promise<{ items: KeptItem[] }>)
      .then(({ items }) => kept.setState({ items }))
      .catch(() => kept.setState({ asked: false }));
  }, [asked]);
  return items.filter((i): i is Of<F> => i.document.format === format);
}

export const keepItem = (document: Kept, id?: string) => send({ intent: 'keep', document, id });

/** Takes something away that can be brought back for a while. */
export async function forgetItem({ id, document }: KeptItem) {
  if (await send({ intent: 'forget', id }))
    toast(`“${document.name}” was removed.`, { action: { label: 'Undo', onClick: () => void keepItem(document, id) } });
}

/** Saves a document as a file. */
export const saveAsFile = (document: Kept) =>
  saveFile(`${document.name}.${document.format}.json`, JSON.stringify(document, null, 2), 'application/json');

/** Keeps what a file has. */
export async function keepFile(file: File) {
  try {
    const plain = JSON.parse(await file.text()) as Kept;
    if (await keepItem(plain)) toast(`“${plain.name}” was kept.`);
  } catch {
    toast.error(`${file.name} is no JSON document. Nothing was kept.`);
  }
}
