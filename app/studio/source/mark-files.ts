/** Marks and ranges as files. */
import { toast } from 'sonner';
import { DocumentError } from '@glimbo/core/boundary/document-error';
import { fromOtio, toOtio } from '@glimbo/core/gather/otio';
import { chooseFiles, saveFile } from '~/ui/files';
import { addMarks } from '../state/marks';
import type { StudioStore } from '../state/store';

export function saveMarks(store: StudioStore) {
  const { name, file, facts, marks, ranges } = store.getState().footage;
  const short = file.split('/').at(-1)!;
  const document = toOtio({ name, file: short, rate: facts.rate, frames: facts.frames, marks, ranges });
  saveFile(`${name}.otio`, JSON.stringify(document, null, 2), 'application/json');
}

export const readMarks = (store: StudioStore) =>
  chooseFiles('.otio,.json', async (file) => {
    try {
      const added = addMarks(store, fromOtio(JSON.parse(await file.text()), store.getState().footage.facts.duration));
      toast(added ? `${added} marks and ranges were added.` : 'All of its marks and ranges were there already.');
    } catch (error) {
      const why = error instanceof DocumentError ? error.problem : 'it is not JSON';
      toast.error(`${file.name} cannot be read: ${why}. Nothing was added.`);
    }
  });
