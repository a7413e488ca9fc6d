/** The path as a file that spreadsheets read. */
import { toast } from 'sonner';
import { DocumentError } from '@glimbo/core/boundary/document-error';
import { pathFromCsv, pathToCsv } from '@glimbo/core/path/csv';
import { chooseFiles, saveFile } from '~/ui/files';
import type { StudioStore } from '../state/store';

export function savePath(store: StudioStore) {
  const { footage, take } = store.getState();
  saveFile(`${footage.name} path.csv`, pathToCsv(take().path), 'text/csv');
}

/** The file's path in place of the take's: one step of undo. */
export const readPath = (store: StudioStore) =>
  chooseFiles('.csv,text/csv', async (file) => {
    try {
      const path = pathFromCsv(await file.text());
      store.getState().edit((take) => ({ ...take, path }));
      toast(`The path of ${file.name} is the take's now. Undo brings back the one before.`);
    } catch (error) {
      if (!(error instanceof DocumentError)) throw error;
      toast.error(`${file.name} cannot be read: ${error.problem}. The path was kept.`);
    }
  });
